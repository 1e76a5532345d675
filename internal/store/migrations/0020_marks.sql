-- How the results of a task are marked: the scheme of a course, as it wrote it. The last one counts; one without parts takes the marks away.
CREATE TABLE class_schemes (
  id uuid PRIMARY KEY,
  task_id uuid NOT NULL REFERENCES class_tasks (id),
  scheme jsonb NOT NULL,
  made_by uuid NOT NULL REFERENCES accounts (id),
  made_at timestamptz NOT NULL
);
CREATE INDEX class_schemes_task ON class_schemes (task_id, made_at);
CREATE INDEX class_schemes_made_by ON class_schemes (made_by);
CREATE TRIGGER class_schemes_stay BEFORE UPDATE OR DELETE ON class_schemes FOR EACH ROW EXECUTE FUNCTION facts_stay();
CREATE TRIGGER class_schemes_stay_whole BEFORE TRUNCATE ON class_schemes EXECUTE FUNCTION facts_stay();

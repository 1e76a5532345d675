-- Acid–base systems of the lab's own, beside those of the library.
CREATE TABLE systems (
  id         uuid PRIMARY KEY,
  system     jsonb NOT NULL,
  created_by uuid NOT NULL REFERENCES accounts (id),
  created_at timestamptz NOT NULL
);
CREATE INDEX systems_created_by ON systems (created_by);
CREATE UNIQUE INDEX systems_by_name ON systems (lower(system ->> 'name'));
CREATE TRIGGER systems_history AFTER UPDATE OR DELETE ON systems FOR EACH ROW EXECUTE FUNCTION keep_history();

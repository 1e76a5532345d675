-- A group of a class has an account that its code opens, and that may do what a group does.
ALTER TABLE accounts DROP CONSTRAINT accounts_role_check;
ALTER TABLE accounts ADD CONSTRAINT accounts_role_check CHECK (role IN ('instructor', 'assistant', 'group'));

CREATE TABLE class_groups (
  id uuid PRIMARY KEY,
  session_id uuid NOT NULL REFERENCES lab_sessions (id),
  number int NOT NULL CHECK (number > 0),
  name text NOT NULL DEFAULT '',
  code text NOT NULL UNIQUE CHECK (code <> ''),
  account_id uuid NOT NULL UNIQUE REFERENCES accounts (id),
  hand_at timestamptz,
  made_at timestamptz NOT NULL,
  UNIQUE (session_id, number)
);

-- What the groups of a session do: a plan, and what their bottles hold, where somebody knows it.
CREATE TABLE class_tasks (
  id uuid PRIMARY KEY,
  session_id uuid NOT NULL REFERENCES lab_sessions (id),
  plan_id uuid NOT NULL REFERENCES plans (id),
  title text NOT NULL CHECK (title <> ''),
  unit text NOT NULL CHECK (unit <> ''),
  held float8,
  held_u float8 NOT NULL DEFAULT 0,
  unknowns_id uuid REFERENCES unknown_sets (id),
  shows boolean NOT NULL DEFAULT false,
  made_by uuid NOT NULL REFERENCES accounts (id),
  made_at timestamptz NOT NULL,
  removed_at timestamptz
);
CREATE INDEX class_tasks_session ON class_tasks (session_id, made_at);
CREATE INDEX class_tasks_plan ON class_tasks (plan_id);
CREATE INDEX class_tasks_unknowns ON class_tasks (unknowns_id);
CREATE INDEX class_tasks_made_by ON class_tasks (made_by);

-- A result as a group worked it out; the last one counts.
CREATE TABLE hand_ins (
  id uuid PRIMARY KEY,
  task_id uuid NOT NULL REFERENCES class_tasks (id),
  group_id uuid NOT NULL REFERENCES class_groups (id),
  stated text NOT NULL CHECK (stated <> ''),
  note text NOT NULL DEFAULT '',
  made_by uuid NOT NULL REFERENCES accounts (id),
  made_at timestamptz NOT NULL
);
CREATE INDEX hand_ins_task ON hand_ins (task_id, made_at);
CREATE INDEX hand_ins_group ON hand_ins (group_id);
CREATE INDEX hand_ins_made_by ON hand_ins (made_by);
CREATE TRIGGER hand_ins_stay BEFORE UPDATE OR DELETE ON hand_ins FOR EACH ROW EXECUTE FUNCTION facts_stay();
CREATE TRIGGER hand_ins_stay_whole BEFORE TRUNCATE ON hand_ins EXECUTE FUNCTION facts_stay();

-- A word to a group, or to all of them.
CREATE TABLE class_words (
  id uuid PRIMARY KEY,
  session_id uuid NOT NULL REFERENCES lab_sessions (id),
  group_id uuid REFERENCES class_groups (id),
  said text NOT NULL CHECK (said <> ''),
  made_by uuid NOT NULL REFERENCES accounts (id),
  made_at timestamptz NOT NULL
);
CREATE INDEX class_words_session ON class_words (session_id, made_at);
CREATE INDEX class_words_group ON class_words (group_id);
CREATE INDEX class_words_made_by ON class_words (made_by);
CREATE TRIGGER class_words_stay BEFORE UPDATE OR DELETE ON class_words FOR EACH ROW EXECUTE FUNCTION facts_stay();
CREATE TRIGGER class_words_stay_whole BEFORE TRUNCATE ON class_words EXECUTE FUNCTION facts_stay();

-- What somebody who knows the group says of a slip that was named; the last word counts.
CREATE TABLE slip_judgements (
  id uuid PRIMARY KEY,
  hand_in_id uuid NOT NULL REFERENCES hand_ins (id),
  slip text NOT NULL CHECK (slip <> ''),
  confirmed boolean NOT NULL,
  made_by uuid NOT NULL REFERENCES accounts (id),
  made_at timestamptz NOT NULL
);
CREATE INDEX slip_judgements_hand_in ON slip_judgements (hand_in_id, made_at);
CREATE INDEX slip_judgements_made_by ON slip_judgements (made_by);
CREATE TRIGGER slip_judgements_stay BEFORE UPDATE OR DELETE ON slip_judgements FOR EACH ROW EXECUTE FUNCTION facts_stay();
CREATE TRIGGER slip_judgements_stay_whole BEFORE TRUNCATE ON slip_judgements EXECUTE FUNCTION facts_stay();

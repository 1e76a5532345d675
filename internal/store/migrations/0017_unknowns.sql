-- Unknowns of the groups of a session. The question has the seed that all of it follows from.
CREATE TABLE unknown_sets (
  id uuid PRIMARY KEY,
  session_id uuid NOT NULL REFERENCES lab_sessions (id),
  name text NOT NULL CHECK (name <> ''),
  bottle_id uuid REFERENCES bottles (id),
  question jsonb NOT NULL,
  set jsonb NOT NULL,
  made_by uuid NOT NULL REFERENCES accounts (id),
  made_at timestamptz NOT NULL,
  withdrawn_at timestamptz
);
CREATE INDEX unknown_sets_session ON unknown_sets (session_id);
CREATE INDEX unknown_sets_bottle ON unknown_sets (bottle_id);
CREATE INDEX unknown_sets_made_by ON unknown_sets (made_by);

-- Who opened what of it, and why.
CREATE TABLE unknown_openings (
  id uuid PRIMARY KEY,
  set_id uuid NOT NULL REFERENCES unknown_sets (id),
  what text NOT NULL CHECK (what IN ('list', 'key')),
  reason text NOT NULL DEFAULT '',
  made_by uuid NOT NULL REFERENCES accounts (id),
  made_at timestamptz NOT NULL
);
CREATE INDEX unknown_openings_set ON unknown_openings (set_id, made_at);
CREATE INDEX unknown_openings_made_by ON unknown_openings (made_by);
CREATE TRIGGER unknown_openings_stay BEFORE UPDATE OR DELETE ON unknown_openings FOR EACH ROW EXECUTE FUNCTION facts_stay();
CREATE TRIGGER unknown_openings_stay_whole BEFORE TRUNCATE ON unknown_openings EXECUTE FUNCTION facts_stay();

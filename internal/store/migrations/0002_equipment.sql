-- Where a balance speaks its line protocol, host:port; empty when it does not.
ALTER TABLE balances ADD COLUMN address text NOT NULL DEFAULT '' CHECK (length(address) <= 120);

CREATE TABLE balance_checks (
  id            uuid PRIMARY KEY,
  balance_id    uuid NOT NULL REFERENCES balances (id),
  weight        double precision NOT NULL CHECK (weight > 0),
  weight_limits double precision NOT NULL CHECK (weight_limits >= 0),
  reading       double precision NOT NULL,
  passed        boolean NOT NULL,
  sentence      text NOT NULL,
  made_by       uuid NOT NULL REFERENCES accounts (id),
  made_at       timestamptz NOT NULL
);
CREATE INDEX balance_checks_balance ON balance_checks (balance_id, made_at DESC);
CREATE INDEX balance_checks_made_by ON balance_checks (made_by);

CREATE TABLE glass (
  id               uuid PRIMARY KEY,
  kind             text NOT NULL CHECK (kind IN ('volumetric flask', 'one-mark pipette', 'graduated pipette', 'burette', 'cylinder')),
  volume           double precision NOT NULL CHECK (volume > 0),
  class            text NOT NULL CHECK (class IN ('A', 'B')),
  count            int NOT NULL CHECK (count BETWEEN 1 AND 1000),
  mark             text NOT NULL DEFAULT '' CHECK (length(mark) <= 40),
  certified        double precision NOT NULL DEFAULT 0,
  certified_limits double precision NOT NULL DEFAULT 0 CHECK (certified_limits >= 0 AND certified_limits < volume),
  created_at       timestamptz NOT NULL,
  UNIQUE (kind, volume, class, mark)
);

-- Which of the batches of its plan a run makes.
ALTER TABLE runs ADD COLUMN batch int NOT NULL DEFAULT 0 CHECK (batch >= 0);

-- A bottle is made by a run, or poured together from other bottles of its plan.
ALTER TABLE bottles ALTER COLUMN run_id DROP NOT NULL;
ALTER TABLE bottles ADD COLUMN plan_id uuid REFERENCES plans (id);
UPDATE bottles SET plan_id = runs.plan_id FROM runs WHERE runs.id = bottles.run_id;
ALTER TABLE bottles ALTER COLUMN plan_id SET NOT NULL;
CREATE INDEX bottles_plan ON bottles (plan_id);
ALTER TABLE bottles ADD COLUMN volume double precision NOT NULL DEFAULT 0;
UPDATE bottles SET volume = coalesce((outcome -> 'vessel' -> 'flask' ->> 'volume')::float8, 0);
ALTER TABLE bottles ADD COLUMN taken double precision NOT NULL DEFAULT 0 CHECK (taken >= 0);
ALTER TABLE bottles ADD COLUMN label_printed_at timestamptz;
ALTER TABLE bottles ADD COLUMN standardise_on date;
CREATE INDEX bottles_standardise ON bottles (state, standardise_on);
ALTER TABLE bottles DROP CONSTRAINT bottles_state_check;
ALTER TABLE bottles ADD CONSTRAINT bottles_state_check CHECK (state IN ('shelf', 'discarded', 'void', 'poured'));

CREATE TABLE pourings (
  from_id uuid PRIMARY KEY REFERENCES bottles (id),
  into_id uuid NOT NULL REFERENCES bottles (id) CHECK (into_id <> from_id),
  share   double precision NOT NULL CHECK (share > 0 AND share <= 1)
);
CREATE INDEX pourings_into ON pourings (into_id);

-- What was taken out of bottles, in mL. Never changed: a slip is put right by
-- another entry, which may be negative.
CREATE TABLE takings (
  id        uuid PRIMARY KEY,
  seq       bigint GENERATED ALWAYS AS IDENTITY UNIQUE,
  bottle_id uuid NOT NULL REFERENCES bottles (id),
  volume    double precision NOT NULL CHECK (volume <> 0),
  purpose   text NOT NULL,
  made_by   uuid NOT NULL REFERENCES accounts (id),
  made_at   timestamptz NOT NULL
);
CREATE INDEX takings_bottle ON takings (bottle_id, seq);
CREATE INDEX takings_made_by ON takings (made_by);
CREATE TRIGGER takings_stay BEFORE UPDATE OR DELETE ON takings FOR EACH ROW EXECUTE FUNCTION facts_stay();
CREATE TRIGGER balance_checks_stay BEFORE UPDATE OR DELETE ON balance_checks FOR EACH ROW EXECUTE FUNCTION facts_stay();

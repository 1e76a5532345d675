-- A plan of any kind keeps its request as its kind has it.
UPDATE plans SET request = dilution WHERE kind = 'dilution';
ALTER TABLE plans DROP CONSTRAINT plans_kind_check;
ALTER TABLE plans ADD CHECK (length(kind) BETWEEN 1 AND 40);
ALTER TABLE plans ALTER COLUMN kind DROP DEFAULT;
ALTER TABLE plans DROP COLUMN dilution;
ALTER TABLE plans ADD COLUMN batches int NOT NULL DEFAULT 1 CHECK (batches >= 1);
UPDATE plans SET batches = greatest(1, jsonb_array_length(coalesce(nullif(recipe -> 'batches', 'null'), '[]')));
ALTER TABLE plans DROP COLUMN recipe;

-- What a plan, or one run of it, stands on: a bottle, an instrument (as the lab names
-- it), or an earlier run.
CREATE TABLE sources (
  id         bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  plan_id    uuid REFERENCES plans (id),
  run_id     uuid REFERENCES runs (id),
  role       text NOT NULL CHECK (length(role) BETWEEN 1 AND 40),
  bottle_id  uuid REFERENCES bottles (id),
  instrument text CHECK (length(instrument) BETWEEN 1 AND 60),
  earlier_id uuid REFERENCES runs (id),
  CHECK (num_nonnulls(plan_id, run_id) = 1),
  CHECK (num_nonnulls(bottle_id, instrument, earlier_id) = 1),
  UNIQUE NULLS NOT DISTINCT (plan_id, run_id, role, bottle_id, instrument, earlier_id)
);
CREATE INDEX sources_run ON sources (run_id);
CREATE INDEX sources_bottle ON sources (bottle_id);
CREATE INDEX sources_earlier ON sources (earlier_id);
INSERT INTO sources (plan_id, role, bottle_id)
  SELECT p.id, 'stock', b.id FROM plans p JOIN bottles b ON b.id::text = p.request -> 'stock' ->> 'bottle' WHERE p.kind = 'dilution';
INSERT INTO sources (plan_id, role, instrument)
  SELECT id, 'instrument', request -> 'balance' ->> 'name' FROM plans WHERE request -> 'balance' ->> 'name' <> '';

-- Which bottle was made from which. A share says how much of the parent was poured in;
-- without one, something was taken out of it.
CREATE TABLE parents (
  bottle_id uuid NOT NULL REFERENCES bottles (id),
  parent_id uuid NOT NULL REFERENCES bottles (id) CHECK (parent_id <> bottle_id),
  share     double precision CHECK (share > 0 AND share <= 1),
  PRIMARY KEY (bottle_id, parent_id)
);
CREATE INDEX parents_parent ON parents (parent_id);
CREATE UNIQUE INDEX parents_poured ON parents (parent_id) WHERE share IS NOT NULL;
INSERT INTO parents SELECT id, parent_id, NULL FROM bottles WHERE parent_id IS NOT NULL;
INSERT INTO parents SELECT into_id, from_id, share FROM pourings;
DROP TABLE pourings;

-- A bottle is a product of a run, as the core makes it. What an earlier version had is
-- kept until it is computed anew.
ALTER TABLE bottles ADD COLUMN computed boolean NOT NULL DEFAULT true;
ALTER TABLE bottles ADD COLUMN product jsonb;
UPDATE bottles SET computed = false, product = jsonb_build_object(
  'part', part, 'from', -1, 'title', title, 'name', title, 'formula', '[]'::jsonb, 'origin', '', 'madeOf', '[]'::jsonb, 'hazards', '[]'::jsonb,
  'exact', coalesce((outcome -> 'exact')::boolean, false), 'expires', to_char(expires_on, 'YYYY-MM-DD'),
  'store', coalesce(outcome ->> 'store', ''), 'note', coalesce(outcome ->> 'note', ''),
  'figures', coalesce((SELECT jsonb_agg(f.value || jsonb_build_object('role', CASE
      WHEN f.value ->> 'id' ~ '^(concentration|tube)' THEN 'concentration'
      WHEN f.value ->> 'id' ~ 'Concentration$' THEN 'other concentration'
      ELSE f.value ->> 'id' END) ORDER BY f.ordinality)
    FROM jsonb_array_elements(nullif(outcome -> 'figures', 'null')) WITH ORDINALITY AS f), '[]'));
ALTER TABLE bottles ALTER COLUMN product SET NOT NULL;
ALTER TABLE bottles ALTER COLUMN expires_on DROP NOT NULL;
ALTER TABLE bottles DROP COLUMN parent_id, DROP COLUMN outcome, DROP COLUMN concentration, DROP COLUMN u, DROP COLUMN unit;
ALTER TABLE runs DROP COLUMN outcome;

-- How the figure that a bottle is named by moved when it was computed anew, so that a
-- label printed before is known to be wrong.
CREATE TABLE changes (
  id        bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  bottle_id uuid NOT NULL REFERENCES bottles (id),
  moved     text NOT NULL,
  cause     text NOT NULL,
  at        timestamptz NOT NULL
);
CREATE INDEX changes_bottle ON changes (bottle_id, id);
CREATE TRIGGER changes_stay BEFORE UPDATE OR DELETE ON changes FOR EACH ROW EXECUTE FUNCTION facts_stay();

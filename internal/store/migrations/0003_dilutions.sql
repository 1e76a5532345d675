-- A plan is of a standard solution (request, recipe) or of a dilution.
ALTER TABLE plans ADD COLUMN kind text NOT NULL DEFAULT 'standard' CHECK (kind IN ('standard', 'dilution'));
ALTER TABLE plans ADD COLUMN dilution jsonb NOT NULL DEFAULT '{}';

ALTER TABLE glass DROP CONSTRAINT glass_kind_check;
ALTER TABLE glass ADD CONSTRAINT glass_kind_check CHECK (kind IN ('volumetric flask', 'one-mark pipette', 'graduated pipette', 'piston pipette', 'burette', 'cylinder'));

-- A dilution makes a bottle for each of its tubes, from a parent.
ALTER TABLE bottles DROP CONSTRAINT bottles_run_id_key;
ALTER TABLE bottles ADD COLUMN part int NOT NULL DEFAULT 0 CHECK (part >= 0);
ALTER TABLE bottles ADD CONSTRAINT bottles_run_part UNIQUE (run_id, part);
ALTER TABLE bottles ADD COLUMN parent_id uuid REFERENCES bottles (id) CHECK (parent_id <> id);
CREATE INDEX bottles_parent ON bottles (parent_id);

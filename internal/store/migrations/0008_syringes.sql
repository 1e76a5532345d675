-- A syringe may stand in for a burette.
ALTER TABLE glass DROP CONSTRAINT glass_kind_check;
ALTER TABLE glass ADD CONSTRAINT glass_kind_check CHECK (kind IN ('volumetric flask', 'one-mark pipette', 'graduated pipette', 'piston pipette', 'burette', 'cylinder', 'syringe'));

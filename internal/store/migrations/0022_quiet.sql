-- A task may keep verdicts from its groups until they handed in.
ALTER TABLE class_tasks ADD COLUMN quiet boolean NOT NULL DEFAULT false;

-- A run at the bench of a group depends on the calibration of the meter there.
INSERT INTO sources (run_id, role, earlier_id)
  SELECT r.id, 'bench', c.id FROM runs r JOIN runs c ON c.id::text = r.bench -> 'probe' ->> 'run';

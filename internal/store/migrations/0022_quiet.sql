-- A task may keep verdicts from its groups until they handed in.
ALTER TABLE class_tasks ADD COLUMN quiet boolean NOT NULL DEFAULT false;

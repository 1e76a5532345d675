-- A group of a class has a bench of its own, and a run is carried out at one: what of it is not the lab's. Nothing of it is what the plan was made for.
ALTER TABLE class_groups ADD COLUMN bench jsonb;
ALTER TABLE runs ADD COLUMN bench jsonb;

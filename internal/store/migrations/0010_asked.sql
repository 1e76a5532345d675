-- What was asked for a plan, as a digest: the same ID with another question is another plan.
ALTER TABLE plans ADD COLUMN asked bytea;

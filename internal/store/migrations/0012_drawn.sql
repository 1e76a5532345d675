-- What a run took out of a bottle follows its facts; what a person wrote down stays as it is.
ALTER TABLE takings ADD COLUMN run_id uuid REFERENCES runs;
ALTER TABLE takings DROP CONSTRAINT takings_volume_check;
ALTER TABLE takings ADD CONSTRAINT takings_volume_check CHECK (volume <> 0 OR run_id IS NOT NULL);
DROP TRIGGER takings_stay ON takings;
UPDATE takings SET run_id = runs.id FROM runs
    WHERE purpose LIKE 'run ' || runs.number || ', %' OR purpose LIKE '%, run ' || runs.number;
CREATE INDEX takings_run ON takings (run_id);
CREATE TRIGGER takings_stay BEFORE DELETE ON takings FOR EACH ROW EXECUTE FUNCTION facts_stay();
CREATE TRIGGER takings_stay_but_volume BEFORE UPDATE ON takings FOR EACH ROW
    WHEN (OLD.run_id IS NULL OR (OLD.id, OLD.seq, OLD.bottle_id, OLD.run_id, OLD.purpose, OLD.made_by, OLD.made_at)
        IS DISTINCT FROM (NEW.id, NEW.seq, NEW.bottle_id, NEW.run_id, NEW.purpose, NEW.made_by, NEW.made_at))
    EXECUTE FUNCTION facts_stay();

-- pH meters with the probe that hangs on each.
CREATE TABLE meters (
  id            uuid PRIMARY KEY,
  name          text NOT NULL CHECK (length(name) BETWEEN 1 AND 40),
  probe         text NOT NULL DEFAULT '' CHECK (length(probe) <= 40),
  resolution    double precision NOT NULL CHECK (resolution > 0),
  shows_ph      boolean NOT NULL DEFAULT false,
  repeatability double precision NOT NULL CHECK (repeatability >= 0),
  thermometer   double precision NOT NULL CHECK (thermometer >= 0),
  address       text NOT NULL DEFAULT '' CHECK (length(address) <= 120),
  created_at    timestamptz NOT NULL
);
CREATE UNIQUE INDEX meters_by_name ON meters (lower(name));
CREATE TRIGGER meters_history AFTER UPDATE OR DELETE ON meters FOR EACH ROW EXECUTE FUNCTION keep_history();

ALTER TABLE benches ADD COLUMN meter_id uuid REFERENCES meters (id);
CREATE INDEX benches_meter ON benches (meter_id);

-- What was done to a probe: cleaned, refilled, reconditioned. Added, never changed.
CREATE TABLE probe_care (
  id       uuid PRIMARY KEY,
  meter_id uuid NOT NULL REFERENCES meters (id),
  probe    text NOT NULL,
  what     text NOT NULL CHECK (length(what) BETWEEN 1 AND 200),
  made_by  uuid NOT NULL REFERENCES accounts (id),
  made_at  timestamptz NOT NULL
);
CREATE INDEX probe_care_meter ON probe_care (meter_id, made_at DESC);
CREATE INDEX probe_care_made_by ON probe_care (made_by);
CREATE TRIGGER probe_care_stays BEFORE UPDATE OR DELETE ON probe_care FOR EACH ROW EXECUTE FUNCTION facts_stay();
CREATE TRIGGER probe_care_stays_whole BEFORE TRUNCATE ON probe_care EXECUTE FUNCTION facts_stay();

-- The calibrations of a meter are found by its name.
CREATE INDEX sources_instrument ON sources (instrument);

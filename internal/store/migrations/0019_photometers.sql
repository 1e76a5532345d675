-- Photometers, as their data sheets describe them, and where each speaks its line protocol.
CREATE TABLE photometers (
  id          uuid PRIMARY KEY,
  name        text NOT NULL CHECK (length(name) BETWEEN 1 AND 40),
  low         double precision NOT NULL CHECK (low > 0),
  high        double precision NOT NULL CHECK (high > low),
  bandwidth   double precision NOT NULL CHECK (bandwidth > 0),
  stray_light double precision NOT NULL CHECK (stray_light >= 0),
  resolution  double precision NOT NULL CHECK (resolution > 0),
  address     text NOT NULL DEFAULT '' CHECK (length(address) <= 120),
  created_at  timestamptz NOT NULL
);
CREATE UNIQUE INDEX photometers_by_name ON photometers (lower(name));
CREATE TRIGGER photometers_history AFTER UPDATE OR DELETE ON photometers FOR EACH ROW EXECUTE FUNCTION keep_history();

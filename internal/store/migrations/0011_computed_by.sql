-- Which version of the computations the records were computed by. When a newer one finds another
-- figure, since the one before was wrong, the bottle says so.
CREATE TABLE computed_by (
  one     boolean PRIMARY KEY DEFAULT true CHECK (one),
  version integer NOT NULL
);
INSERT INTO computed_by (version) VALUES (1);

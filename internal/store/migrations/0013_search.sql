-- Words that stand anywhere are found by their groups of three letters.
CREATE EXTENSION IF NOT EXISTS pg_trgm;
CREATE INDEX facts_sentence ON facts USING gin (sentence gin_trgm_ops);
CREATE INDEX facts_reason ON facts USING gin (reason gin_trgm_ops) WHERE reason <> '';
CREATE INDEX plans_title ON plans USING gin (title gin_trgm_ops);
CREATE INDEX bottles_title ON bottles USING gin (title gin_trgm_ops);

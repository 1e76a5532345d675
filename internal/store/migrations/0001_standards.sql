CREATE TABLE accounts (
  id            uuid PRIMARY KEY,
  name          text NOT NULL CHECK (length(name) BETWEEN 1 AND 80),
  initials      text NOT NULL UNIQUE CHECK (length(initials) BETWEEN 1 AND 8),
  login         text NOT NULL UNIQUE CHECK (login = lower(login) AND length(login) BETWEEN 1 AND 40),
  role          text NOT NULL CHECK (role IN ('instructor', 'assistant')),
  password_hash text NOT NULL,
  active        boolean NOT NULL DEFAULT true,
  created_at    timestamptz NOT NULL
);

CREATE TABLE sign_ins (
  token_hash bytea PRIMARY KEY,
  account_id uuid NOT NULL REFERENCES accounts (id),
  created_at timestamptz NOT NULL,
  expires_at timestamptz NOT NULL
);
CREATE INDEX sign_ins_account ON sign_ins (account_id);
CREATE INDEX sign_ins_expiry ON sign_ins (expires_at);

CREATE TABLE failed_sign_ins (
  id      bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  login   text NOT NULL,
  address text NOT NULL,
  at      timestamptz NOT NULL
);
CREATE INDEX failed_sign_ins_login ON failed_sign_ins (login, at);
CREATE INDEX failed_sign_ins_address ON failed_sign_ins (address, at);

CREATE TABLE balances (
  id            uuid PRIMARY KEY,
  name          text NOT NULL UNIQUE,
  capacity      double precision NOT NULL CHECK (capacity > 0),
  resolution    double precision NOT NULL CHECK (resolution > 0),
  repeatability double precision NOT NULL CHECK (repeatability >= 0),
  linearity     double precision NOT NULL CHECK (linearity >= 0),
  created_at    timestamptz NOT NULL
);

CREATE TABLE benches (
  id                int PRIMARY KEY CHECK (id = 1),
  session           text NOT NULL,
  water_temperature double precision NOT NULL CHECK (water_temperature BETWEEN 0 AND 40),
  balance_id        uuid REFERENCES balances (id),
  version           int NOT NULL
);
CREATE INDEX benches_balance ON benches (balance_id);
INSERT INTO benches VALUES (1, '', 20, NULL, 1);

CREATE TABLE settings (
  id          int PRIMARY KEY CHECK (id = 1),
  lab_name    text NOT NULL,
  flask_class text NOT NULL CHECK (flask_class IN ('A', 'B')),
  buoyancy    boolean NOT NULL,
  thresholds  jsonb NOT NULL,
  version     int NOT NULL
);
INSERT INTO settings VALUES (1, 'Our laboratory', 'A', false, '{}', 1);

CREATE TABLE substances (
  key        text PRIMARY KEY,
  substance  jsonb NOT NULL,
  created_by uuid NOT NULL REFERENCES accounts (id),
  created_at timestamptz NOT NULL
);
CREATE INDEX substances_created_by ON substances (created_by);

CREATE TABLE plans (
  id         uuid PRIMARY KEY,
  number     bigint GENERATED ALWAYS AS IDENTITY UNIQUE,
  title      text NOT NULL,
  request    jsonb NOT NULL,
  recipe     jsonb NOT NULL,
  created_by uuid NOT NULL REFERENCES accounts (id),
  created_at timestamptz NOT NULL
);
CREATE INDEX plans_created_by ON plans (created_by);

CREATE TABLE runs (
  id         uuid PRIMARY KEY,
  number     bigint GENERATED ALWAYS AS IDENTITY UNIQUE,
  plan_id    uuid NOT NULL REFERENCES plans (id),
  status     text NOT NULL CHECK (status IN ('open', 'finished', 'void')),
  reason     text NOT NULL DEFAULT '',
  step       text NOT NULL DEFAULT '',
  outcome    jsonb NOT NULL,
  begun_by   uuid NOT NULL REFERENCES accounts (id),
  begun_at   timestamptz NOT NULL,
  changed_at timestamptz NOT NULL
);
CREATE INDEX runs_plan ON runs (plan_id);
CREATE INDEX runs_begun_by ON runs (begun_by);
CREATE INDEX runs_status ON runs (status, number DESC);

-- Facts are never changed or deleted. A correction names the fact that it
-- replaces; a fact is replaced at most once.
CREATE TABLE facts (
  id          uuid PRIMARY KEY,
  seq         bigint GENERATED ALWAYS AS IDENTITY UNIQUE,
  run_id      uuid NOT NULL REFERENCES runs (id),
  kind        text NOT NULL CHECK (length(kind) BETWEEN 1 AND 40),
  body        jsonb NOT NULL,
  sentence    text NOT NULL,
  made_by     uuid NOT NULL REFERENCES accounts (id),
  made_at     timestamptz NOT NULL,
  recorded_at timestamptz NOT NULL,
  replaces    uuid UNIQUE REFERENCES facts (id),
  reason      text NOT NULL DEFAULT '',
  CHECK (replaces IS NULL OR reason <> '')
);
CREATE INDEX facts_run ON facts (run_id, seq);
CREATE INDEX facts_made_by ON facts (made_by, seq DESC);
CREATE INDEX facts_made_at ON facts (made_at);

CREATE FUNCTION facts_stay() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  RAISE EXCEPTION 'a fact is never changed or deleted; correct it with another fact';
END $$;
CREATE TRIGGER facts_stay BEFORE UPDATE OR DELETE ON facts FOR EACH ROW EXECUTE FUNCTION facts_stay();

CREATE TABLE bottles (
  id            uuid PRIMARY KEY,
  number        bigint GENERATED ALWAYS AS IDENTITY UNIQUE,
  run_id        uuid NOT NULL UNIQUE REFERENCES runs (id),
  title         text NOT NULL,
  concentration double precision NOT NULL,
  u             double precision NOT NULL CHECK (u >= 0),
  unit          text NOT NULL,
  outcome       jsonb NOT NULL,
  made_by       uuid NOT NULL REFERENCES accounts (id),
  made_at       timestamptz NOT NULL,
  expires_on    date NOT NULL,
  state         text NOT NULL CHECK (state IN ('shelf', 'discarded', 'void')),
  reason        text NOT NULL DEFAULT ''
);
CREATE INDEX bottles_made_by ON bottles (made_by);
CREATE INDEX bottles_state ON bottles (state, number DESC);
CREATE INDEX bottles_expiry ON bottles (state, expires_on);

-- An address at which a calendar program reads the sessions without signing in; only the hash of its secret is kept.
CREATE TABLE calendar_feeds (
  id uuid PRIMARY KEY,
  token_hash bytea NOT NULL UNIQUE,
  account_id uuid NOT NULL REFERENCES accounts (id),
  created_at timestamptz NOT NULL,
  withdrawn_at timestamptz
);
CREATE INDEX calendar_feeds_account ON calendar_feeds (account_id);

-- Who has a draft open just now, and where on it: a row an open sheet, renewed while it is looked at.
CREATE TABLE draft_presence (
  tab text PRIMARY KEY,
  broadcast_id bigint NOT NULL REFERENCES broadcast ON DELETE CASCADE,
  account_id bigint NOT NULL REFERENCES account ON DELETE CASCADE,
  place text NOT NULL,
  seen_at timestamptz NOT NULL
);
CREATE INDEX draft_presence_broadcast ON draft_presence (broadcast_id);

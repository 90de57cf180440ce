-- A text may hold several links: which of the broadcast's it is, and until when it leads anywhere (always, where that is left out).
ALTER TABLE link ADD COLUMN name text NOT NULL DEFAULT '';
ALTER TABLE link ADD COLUMN expires_at timestamptz;

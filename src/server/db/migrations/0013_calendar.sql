-- The address of somebody's calendar of what is scheduled holds a token; only its hash is kept.
ALTER TABLE account ADD COLUMN calendar_hash text UNIQUE;

-- A person is counted once; how often they opened it, and whether a machine (a preview, a scanner) has, is told beside it.
ALTER TABLE link ADD COLUMN opens integer NOT NULL DEFAULT 0;
ALTER TABLE link ADD COLUMN machine_at timestamptz;
UPDATE link SET opens = 1 WHERE clicked_at IS NOT NULL;

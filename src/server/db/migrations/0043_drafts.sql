-- A draft that was begun and never touched is not kept: nobody has saved, tested or labelled it.
ALTER TABLE broadcast ADD COLUMN blank boolean NOT NULL DEFAULT false;
-- What a broadcast was when it was set aside, from the first change on: it can be put back as it was.
ALTER TABLE broadcast ADD COLUMN put_back jsonb;
CREATE VIEW broadcast_blank AS SELECT id, created_at FROM broadcast
  WHERE blank AND version = 1 AND state = 'draft' AND tested IS NULL AND labels = '[]';

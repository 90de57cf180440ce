-- The press by which a broadcast was last agreed to: where nothing is planned before the next import, no run tells of it.
ALTER TABLE broadcast ADD COLUMN agreed_by_press text;
CREATE INDEX broadcast_agreed_by_press ON broadcast (agreed_by_press);

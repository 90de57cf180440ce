-- Broadcasts that go again and again, at each import, or to whoever is there when they go. What comes next is computed when the run
-- before it is agreed to or planned, in the same transaction, so that no date is planned twice and none is forgotten.
ALTER TABLE broadcast ADD COLUMN goes_on boolean NOT NULL DEFAULT false;
-- the next date on the workspace's wall clock, as an instant, and when its run is planned (also of one that goes once, to whoever
-- is there then: without a date)
ALTER TABLE broadcast ADD COLUMN next_date date;
ALTER TABLE broadcast ADD COLUMN next_at timestamptz;
ALTER TABLE broadcast ADD COLUMN plan_at timestamptz;
-- what was agreed to, to hold later runs against; and since when imports bring about a run
ALTER TABLE broadcast ADD COLUMN agreed jsonb;
ALTER TABLE broadcast ADD COLUMN imports_since timestamptz;
CREATE INDEX broadcast_plan ON broadcast (plan_at) WHERE plan_at IS NOT NULL;

-- what brought a run about: somebody's press, a date of a repeated broadcast, an import, or the same run planned once more for
-- whoever is there then; which date or import it is; and why it waits for a person
ALTER TABLE run ADD COLUMN origin text NOT NULL DEFAULT 'press' CHECK (origin IN ('press', 'repeat', 'import', 'current'));
ALTER TABLE run ADD COLUMN on_date date;
ALTER TABLE run ADD COLUMN import_id bigint;
ALTER TABLE run ADD COLUMN asks text;
CREATE INDEX run_broadcast ON run (broadcast_id, id);

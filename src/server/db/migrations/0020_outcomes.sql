-- what was answered to a run, and whose runs of which time: asked by every list of outcomes
CREATE INDEX inbound_run ON inbound (run_id, kind) WHERE run_id IS NOT NULL;
CREATE INDEX run_account ON run (account_id, due_at);

-- which choice a reply makes, where somebody of the desk has said so: counted from 0, -1 for none
ALTER TABLE inbound ADD COLUMN choice smallint;

-- what was answered to a run, and whose runs of which time: asked by every list of outcomes
CREATE INDEX inbound_run ON inbound (run_id, kind) WHERE run_id IS NOT NULL;
CREATE INDEX run_account ON run (account_id, due_at);

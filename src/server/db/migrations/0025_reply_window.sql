-- Some senders read replies for some days only; that is said in the text, and each run keeps what it said.
ALTER TABLE sender ADD COLUMN reply_days smallint CHECK (reply_days BETWEEN 1 AND 60);
ALTER TABLE run ADD COLUMN reply_days smallint;

-- Whether a reply came when that was over, or what it answers was of no more use; decided once, when it is taken in.
ALTER TABLE inbound ADD COLUMN late boolean NOT NULL DEFAULT false;
UPDATE inbound SET late = true FROM run WHERE run.id = inbound.run_id AND inbound.received_at > run.not_after;

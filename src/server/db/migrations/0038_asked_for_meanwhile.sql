-- What a job had been asked for when it was leased: what is asked for after that is kept, at the earliest of its moments.
ALTER TABLE job ADD COLUMN leased_wanted bigint NOT NULL DEFAULT 0;

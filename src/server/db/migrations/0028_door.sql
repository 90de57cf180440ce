-- What the cookie of a device that has signed in before is signed with; made at the first start.
ALTER TABLE workspace ADD COLUMN device_secret text NOT NULL DEFAULT '';

-- Tests cost money, too, and whoever may write can send them: so many of one account in a day, and so much of all.
ALTER TABLE workspace ADD COLUMN tests_a_day integer NOT NULL DEFAULT 100;
ALTER TABLE workspace ADD COLUMN tests_a_day_micro bigint NOT NULL DEFAULT 10000000;
CREATE INDEX outbound_tests ON outbound (due_at) WHERE kind = 'test';

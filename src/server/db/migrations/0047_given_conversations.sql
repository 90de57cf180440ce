-- One conversation is given to somebody by text or mail: what that number writes is passed on to them, for a while.
ALTER TABLE pass_on ADD COLUMN number text;
ALTER TABLE pass_on DROP CONSTRAINT pass_on_what_check;
ALTER TABLE pass_on ADD CONSTRAINT pass_on_what_check CHECK (what IN ('all', 'keyword', 'broadcast', 'conversation'));
ALTER TABLE pass_on ADD CONSTRAINT pass_on_number_check CHECK ((what = 'conversation') = (number IS NOT NULL));

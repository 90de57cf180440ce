-- A link in a test text leads where it will lead, is counted for nobody, and by an opt-out link of a test nobody opts out.
ALTER TABLE link ADD COLUMN test boolean NOT NULL DEFAULT false;

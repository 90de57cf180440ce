-- Files: what is decided is what was checked; a "no" in a file counts for its number, whatever row it stands in.

-- counted up by every change of the bench; the dry run says for which it was made, and the decision names it
ALTER TABLE import ADD COLUMN version integer NOT NULL DEFAULT 1;
ALTER TABLE import ADD COLUMN checked_version integer NOT NULL DEFAULT 0;
-- what was guessed of headings before was guessed without their negation ("No consent" was consent): it is not remembered, and what
-- stands on the bench is read anew
DELETE FROM match_memory;
UPDATE import SET state = 'reading' WHERE state = 'open';
-- rows that have been written, held against what was said; not known of what is half written now
ALTER TABLE import ADD COLUMN wrote integer DEFAULT 0;
UPDATE import SET wrote = NULL WHERE state = 'writing';
-- how often reading has been begun: what failed twice with the server is not tried a third time
ALTER TABLE import ADD COLUMN tries integer NOT NULL DEFAULT 0;

-- Numbers to which some row of the file says no.
CREATE TABLE import_refusal (
  import_id bigint NOT NULL,
  number text NOT NULL,
  PRIMARY KEY (import_id, number)
);

-- each row of a bulk table asked its foreign key: loading took twice as long. The one writer answers for them
ALTER TABLE import_row DROP CONSTRAINT import_row_import_id_fkey;
ALTER TABLE import_verdict DROP CONSTRAINT import_verdict_import_id_fkey;

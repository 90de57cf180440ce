-- How much text a row of a file holds: rows are taken in pieces of so many characters, not only of so many rows. Rows that are on
-- the bench already count as empty; they are taken by their number, as before.
ALTER TABLE import_row ADD COLUMN characters integer NOT NULL DEFAULT 0;

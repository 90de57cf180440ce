-- How much a row of a file holds: its characters, and sixteen for each cell. Rows are taken in pieces of so much, not only of so many
-- rows. Those that are on the bench already count as empty, and are taken by their number as before.
ALTER TABLE import_row ADD COLUMN size integer NOT NULL DEFAULT 0;

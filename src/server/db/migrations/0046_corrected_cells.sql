-- A row of a file as it was before somebody corrected a cell of it on the bench; null where nobody has.
ALTER TABLE import_row ADD COLUMN was text[];

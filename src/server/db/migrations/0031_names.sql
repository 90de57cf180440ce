-- a journal is posted to the tables (as a book of accounts is); folding is what is done to text
ALTER TABLE line_owner RENAME COLUMN folded TO posted;

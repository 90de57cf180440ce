-- A file used for one broadcast names people: the run shows them so, whatever the address book calls who has the number.
-- {given_name, family_name, search}; null where the name is the address book's.
ALTER TABLE outbound ADD COLUMN named jsonb;

-- Who has the row's number under another name: here, or earlier in the file. Null for all other rows.
ALTER TABLE import_verdict ADD COLUMN other_name text;

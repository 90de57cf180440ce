-- Labels of a broadcast: to find it and, later, its outcomes by. An array of texts, as it was written; changed at any time, also
-- after the end, so it is no part of the draft and none of its version.
ALTER TABLE broadcast ADD COLUMN labels jsonb NOT NULL DEFAULT '[]' CHECK (jsonb_typeof(labels) = 'array');

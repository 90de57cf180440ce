-- What answers HELP in languages other than the first.
ALTER TABLE workspace ADD COLUMN help_wordings jsonb NOT NULL DEFAULT '{}';

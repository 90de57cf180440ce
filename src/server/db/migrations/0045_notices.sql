-- Whether a service notice goes to whoever has not withdrawn, or only to those who have agreed to it.
ALTER TABLE workspace ADD COLUMN notices text NOT NULL DEFAULT 'unless_withdrawn' CHECK (notices IN ('unless_withdrawn', 'granted'));

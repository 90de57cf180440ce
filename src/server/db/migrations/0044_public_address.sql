-- The address at which others get here is chosen by somebody and never changed by a start; while none is chosen, the one at which a
-- process was served last stands for it.
ALTER TABLE workspace ADD COLUMN served_at text NOT NULL DEFAULT 'http://localhost:4180';
UPDATE workspace SET served_at = public_address, public_address = '' WHERE public_address ~ '^http://localhost(:|$)';
ALTER TABLE workspace ALTER COLUMN public_address SET DEFAULT '';
-- When a browser got here by it, and by which token the next one will be known.
ALTER TABLE workspace ADD COLUMN public_tried_at timestamptz;
ALTER TABLE workspace ADD COLUMN public_try text;

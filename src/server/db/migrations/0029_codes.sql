-- A code is one code, in whichever list it stands: of those that stand in several, one may be given (the one that was given or is held
-- already, else the first), and the others never are.
ALTER TABLE code ADD COLUMN twin boolean NOT NULL DEFAULT false;
UPDATE code SET twin = true WHERE id IN (
  SELECT id FROM (
    SELECT id, row_number() OVER (PARTITION BY code ORDER BY (taken_at IS NULL AND run_id IS NULL), id) AS n FROM code
  ) AS each WHERE n > 1
);
CREATE UNIQUE INDEX code_once ON code (code) WHERE NOT twin;

-- How many codes of a file are still to come into the list; 0 when all have.
ALTER TABLE code_list ADD COLUMN coming integer NOT NULL DEFAULT 0;

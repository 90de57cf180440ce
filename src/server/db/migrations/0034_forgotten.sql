-- What is left of somebody who is erased.

-- Of a number in the register: a keyed hash of it (server/db/sealed). The key is not in the database.
CREATE TABLE register_sealed (
  hash text PRIMARY KEY,
  at timestamptz NOT NULL,
  how text NOT NULL
);
CREATE TRIGGER register_sealed_changes AFTER INSERT OR UPDATE OR DELETE ON register_sealed FOR EACH STATEMENT EXECUTE FUNCTION audience_changed();
ALTER TABLE workspace ADD COLUMN register_mark text;

-- Whoever is being erased: what of them is still on its way keeps its number until it has come to its end, and files are looked through
-- a piece at a time. Gone when nothing of them is left.
CREATE TABLE erasing (
  person_id bigint PRIMARY KEY,
  number text,
  -- what stands for it from now on
  nobody text NOT NULL,
  at timestamptz NOT NULL,
  -- what files have left of them has been looked through: once, since whoever has the number later is somebody else
  files_done boolean NOT NULL DEFAULT false
);

-- As whom a test was shown: by the person, whose name may change or go.
UPDATE broadcast SET tested = tested - 'as' WHERE tested ? 'as';

-- What a run keeps of its plan is figures and wording; whom the examples of its last look were about is nobody's business any more.
UPDATE run SET plan = plan - 'samples' WHERE plan ? 'samples';

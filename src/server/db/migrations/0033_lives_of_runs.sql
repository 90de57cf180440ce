-- The life of a run is a machine in core; what it needs to know stands in its row.
-- In each recipient's own time: its first hour may have passed where later ones have not.
ALTER TABLE run ADD COLUMN own boolean NOT NULL DEFAULT false;
UPDATE run SET own = true FROM broadcast WHERE broadcast.id = run.broadcast_id AND run.ended_at IS NULL AND broadcast.draft->'when'->>'own' = 'true';
-- it begins as soon as it is stored
ALTER TABLE run ADD COLUMN at_once boolean NOT NULL DEFAULT false;
-- the run whose place one that is planned once more takes
ALTER TABLE run ADD COLUMN instead bigint;
UPDATE run SET instead = substring(press_id FROM 9)::bigint WHERE origin = 'current' AND press_id ~ '^current-[0-9]+$';
-- who stores it is said by the lease of its job
ALTER TABLE run DROP COLUMN planned_by;

-- Presses whose run was called off or undone, and those that were refused: its id is known long after, and makes no (other) run.
CREATE TABLE press_over (
  press_id text PRIMARY KEY,
  broadcast_id bigint NOT NULL,
  how text NOT NULL CHECK (how IN ('called off', 'undone', 'refused')),
  at timestamptz NOT NULL
);
CREATE INDEX press_over_at ON press_over (at);

-- Presses, repeats and ends are jobs. What is under way already is asked for once; from here on each move makes its own.
DROP TRIGGER run_goes_on ON run;
DROP FUNCTION run_moved;
INSERT INTO job (kind, key, due_at)
SELECT CASE WHEN called_off THEN 'clear run' WHEN state = 'planning' THEN 'store run' WHEN state = 'waiting' THEN 'start run' ELSE 'end run' END,
  id::text, CASE WHEN state = 'waiting' AND NOT called_off THEN greatest(due_at, takeback_until) ELSE '1970-01-01T00:00:00Z' END
FROM run WHERE called_off OR ended_at IS NULL
ON CONFLICT (kind, key) DO NOTHING;
INSERT INTO job (kind, key, due_at)
SELECT 'plan next', id::text, coalesce(plan_at, '1970-01-01T00:00:00Z') FROM broadcast
WHERE state = 'scheduled' AND (plan_at IS NOT NULL OR draft->'when'->>'kind' = 'import')
ON CONFLICT (kind, key) DO NOTHING;

-- Each import into a list brings the runs that wait for it, whoever wrote that it is done.
CREATE FUNCTION import_brings_runs() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM job_at_once('plan next', id::text) FROM broadcast
  WHERE state = 'scheduled' AND draft->'when'->>'kind' = 'import' AND (draft->'when'->>'list_id')::bigint = (NEW.facts->>'list_id')::bigint ORDER BY id;
  RETURN NULL;
END $$;
CREATE TRIGGER import_done AFTER INSERT OR UPDATE OF state ON import FOR EACH ROW WHEN (NEW.state = 'done') EXECUTE FUNCTION import_brings_runs();

-- A part whose answer was lost and that has got its word may have been the last that its run waited for.
CREATE TRIGGER run_tally_certain AFTER UPDATE OF people ON run_tally FOR EACH ROW
  WHEN (NEW.state = 'uncertain' AND NEW.people < OLD.people) EXECUTE FUNCTION run_tally_emptied();

-- The day that a text's words were counted from, where they name one that moves with it: on another day it waits for a person.
ALTER TABLE outbound ADD COLUMN names_day date;
ALTER TABLE run ADD COLUMN other_day boolean NOT NULL DEFAULT false;
ALTER TABLE alarm DROP CONSTRAINT alarm_kind_check;
ALTER TABLE alarm ADD CONSTRAINT alarm_kind_check CHECK (kind IN ('failures', 'slow', 'one_reason', 'wrong', 'other_day'));

-- Two imports may be done in the same moment: the last that a broadcast has a run of is known by its id, too.
ALTER TABLE broadcast ADD COLUMN imports_last bigint NOT NULL DEFAULT 9223372036854775807;

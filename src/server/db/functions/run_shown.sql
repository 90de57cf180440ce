-- The state of a run as people see it: one of which everything has been handed over, and some words are outstanding, is settling.
CREATE OR REPLACE FUNCTION run_shown(run bigint, its_state text, its_end timestamptz) RETURNS text LANGUAGE sql STABLE AS $$
  SELECT CASE WHEN its_state = 'sending' AND its_end IS NULL
    AND EXISTS (SELECT 1 FROM run_tally t WHERE t.run_id = run AND t.people > 0)
    AND NOT EXISTS (SELECT 1 FROM run_tally t WHERE t.run_id = run AND t.people > 0 AND t.state IN ('planned', 'handing_over'))
    THEN 'settling' ELSE its_state END
$$;

-- Counters of runs, kept with every change of texts. What follows a run's texts, and copies to the desk, cost and are open, but are no
-- people. Texts of no run (answers, tests) come one by one: nothing is counted for them.
CREATE OR REPLACE FUNCTION outbound_inserted() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF NOT EXISTS (SELECT 1 FROM new_rows WHERE run_id IS NOT NULL) THEN RETURN NULL; END IF;
  INSERT INTO run_tally AS t
  SELECT run_id, state, count(*) FILTER (WHERE kind = 'run'), sum(billed), sum(billed * (cost_micro / parts)), count(*) FILTER (WHERE open > 0)
  FROM new_rows WHERE run_id IS NOT NULL GROUP BY run_id, state ORDER BY run_id, state
  ON CONFLICT (run_id, state) DO UPDATE SET people = t.people + excluded.people, billed_parts = t.billed_parts + excluded.billed_parts,
    billed_micro = t.billed_micro + excluded.billed_micro, open_texts = t.open_texts + excluded.open_texts;
  RETURN NULL;
END $$;
CREATE OR REPLACE FUNCTION outbound_updated() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF NOT EXISTS (SELECT 1 FROM new_rows WHERE run_id IS NOT NULL) AND NOT EXISTS (SELECT 1 FROM old_rows WHERE run_id IS NOT NULL) THEN
    RETURN NULL;
  END IF;
  INSERT INTO run_tally AS t
  SELECT run_id, state, coalesce(sum(n) FILTER (WHERE kind = 'run'), 0), sum(n * billed), sum(n * billed * (cost_micro / parts)), coalesce(sum(n) FILTER (WHERE open > 0), 0)
  FROM (SELECT run_id, state, kind, billed, cost_micro, parts, open, 1 AS n FROM new_rows
        UNION ALL SELECT run_id, state, kind, billed, cost_micro, parts, open, -1 FROM old_rows) AS moved
  WHERE run_id IS NOT NULL GROUP BY run_id, state
  HAVING sum(n) <> 0 OR sum(n * billed) <> 0 OR coalesce(sum(n) FILTER (WHERE open > 0), 0) <> 0 ORDER BY run_id, state
  ON CONFLICT (run_id, state) DO UPDATE SET people = t.people + excluded.people, billed_parts = t.billed_parts + excluded.billed_parts,
    billed_micro = t.billed_micro + excluded.billed_micro, open_texts = t.open_texts + excluded.open_texts;
  RETURN NULL;
END $$;

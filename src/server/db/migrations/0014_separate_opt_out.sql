-- The wording by which one opts out may be a text of its own after a run's text: it follows the acceptance of that text, is of the
-- run (its money, its hours, its end), and is nobody counted again.
ALTER TABLE outbound DROP CONSTRAINT outbound_kind_check;
ALTER TABLE outbound ADD CONSTRAINT outbound_kind_check CHECK (kind IN ('run', 'test', 'confirmation', 'reply', 'opt_out', 'copy'));
-- the text it comes after; never a second one after the same
ALTER TABLE outbound ADD COLUMN follows bigint;
CREATE UNIQUE INDEX outbound_follows ON outbound (follows) WHERE follows IS NOT NULL;
-- whose wording it is
ALTER TABLE outbound ADD COLUMN language text;

-- Counters of a run: what follows its texts, and copies to the desk, cost and are open, but are no people.
CREATE OR REPLACE FUNCTION outbound_inserted() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  INSERT INTO run_tally AS t
  SELECT run_id, state, count(*) FILTER (WHERE kind = 'run'), sum(billed), sum(billed * (cost_micro / parts)), count(*) FILTER (WHERE open > 0)
  FROM new_rows WHERE run_id IS NOT NULL GROUP BY run_id, state ORDER BY run_id, state
  ON CONFLICT (run_id, state) DO UPDATE SET people = t.people + excluded.people, billed_parts = t.billed_parts + excluded.billed_parts,
    billed_micro = t.billed_micro + excluded.billed_micro, open_texts = t.open_texts + excluded.open_texts;
  RETURN NULL;
END $$;
CREATE OR REPLACE FUNCTION outbound_updated() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
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
CREATE OR REPLACE FUNCTION outbound_deleted() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  UPDATE run_tally t SET people = t.people - gone.people, billed_parts = t.billed_parts - gone.billed_parts,
    billed_micro = t.billed_micro - gone.billed_micro, open_texts = t.open_texts - gone.open_texts
  FROM (SELECT run_id, state, count(*) FILTER (WHERE kind = 'run') AS people, sum(billed) AS billed_parts, sum(billed * (cost_micro / parts)) AS billed_micro,
          count(*) FILTER (WHERE open > 0) AS open_texts FROM old_rows WHERE run_id IS NOT NULL GROUP BY run_id, state) AS gone
  WHERE t.run_id = gone.run_id AND t.state = gone.state;
  RETURN NULL;
END $$;

-- Consent is asked for all that a run sends alike.
CREATE OR REPLACE FUNCTION line_facts(own bigint, wanted bigint[], wrote_since timestamptz) RETURNS text LANGUAGE plpgsql SET plan_cache_mode = force_generic_plan AS $$
DECLARE
  around json;
  lines json;
  facts json;
BEGIN
  PERFORM 1 FROM line_owner WHERE epoch = own AND ended_at IS NULL FOR SHARE;
  IF NOT FOUND THEN RETURN NULL; END IF;
  PERFORM 1 FROM line_pace WHERE sender_id IN (SELECT sender_id FROM outbound WHERE id = ANY (wanted)) ORDER BY sender_id FOR UPDATE;
  SELECT json_build_object('zone', zone, 'quiet_from', quiet_from, 'quiet_to', quiet_to) INTO around FROM workspace;
  SELECT json_agg(json_build_object('id', s.id, 'address', s.address, 'kind', s.kind, 'rate', s.parts_per_second, 'free_at', p.free_at)) INTO lines
  FROM sender s JOIN line_pace p ON p.sender_id = s.id;
  SELECT json_agg(json_build_array(
      o.id, o.queue, o.kind, o.number, o.parts, o.sender_id, o.run_id, o.body, o.alphabet,
      floor(extract(epoch FROM o.due_at) * 1000), floor(extract(epoch FROM o.not_after) * 1000), o.state,
      CASE WHEN o.open < o.parts OR o.state <> 'planned'
        THEN (SELECT array_agg(part_no) FROM outbound_part p WHERE p.outbound_id = o.id AND p.state <> 'planned') END,
      EXISTS (SELECT 1 FROM outbound_part p WHERE p.number = o.number AND p.reference BETWEEN (o.id % 4095) * 16 AND (o.id % 4095) * 16 + 15
        AND p.outbound_id <> o.id AND p.state IN ('planned', 'handing_over', 'with_carrier', 'uncertain')),
      EXISTS (SELECT 1 FROM suppression s WHERE s.number = o.number),
      EXISTS (SELECT 1 FROM hold_number h WHERE h.number = o.number),
      o.person_id, person.id, person.number, person.zone, person.zone_guessed, person.quiet, person.born,
      CASE WHEN o.kind NOT IN ('run', 'opt_out', 'copy') THEN NULL
        WHEN o.person_id IS NOT NULL THEN (SELECT act FROM consent_now c WHERE c.person_id = o.person_id AND c.purpose = run.purpose AND c.number = o.number)
        WHEN EXISTS (SELECT 1 FROM person x JOIN consent_now c ON c.person_id = x.id AND c.purpose = run.purpose AND c.number = o.number
          WHERE x.number = o.number AND c.act = 'withdrawn') THEN 'withdrawn'
        ELSE 'granted' END,
      o.dependants IS NOT NULL AND EXISTS (SELECT 1 FROM guardianship g WHERE g.person_id = o.person_id AND g.dependant_id = ANY (o.dependants) AND g.must_not_receive),
      o.kind = 'reply' AND EXISTS (SELECT 1 FROM inbound i WHERE i.number = o.number AND i.received_at > wrote_since),
      run.state, run.note, run.purpose, run.allowed, run.urgent)) INTO facts
  FROM outbound o LEFT JOIN run ON run.id = o.run_id LEFT JOIN person ON person.id = o.person_id
  WHERE o.id = ANY (wanted);
  RETURN json_build_object('around', around, 'lines', lines, 'facts', facts)::text;
END $$;


-- Everything the gate asks for, read at one moment: where we are, the senders' lines, and each wanted text as it stands now,
-- column by column under its own name (FactRow in engine/line/claim-texts). Null where the owner is one no more.
-- One call instead of four: a window commits in one turn to the database, and a generic plan serves them all.
CREATE OR REPLACE FUNCTION line_facts(own bigint, wanted bigint[], wrote_since timestamptz) RETURNS text LANGUAGE plpgsql SET plan_cache_mode = force_generic_plan AS $$
DECLARE
  around json;
  lines json;
  facts json;
BEGIN
  PERFORM 1 FROM line_owner WHERE epoch = own AND ended_at IS NULL FOR SHARE;
  IF NOT FOUND THEN RETURN NULL; END IF;
  -- a stop that is being registered is waited for, and one that comes waits for this (engine/register)
  PERFORM pg_advisory_xact_lock_shared(7301);
  PERFORM 1 FROM line_pace WHERE sender_id IN (SELECT sender_id FROM outbound WHERE id = ANY (wanted)) ORDER BY sender_id FOR UPDATE;
  SELECT json_build_object('zone', zone, 'quiet_from', quiet_from, 'quiet_to', quiet_to, 'sealed', EXISTS (SELECT 1 FROM register_sealed)) INTO around FROM workspace;
  SELECT json_agg(json_build_object('id', s.id, 'address', s.address, 'kind', s.kind, 'rate', s.parts_per_second, 'free_at', p.free_at)) INTO lines
  FROM sender s JOIN line_pace p ON p.sender_id = s.id;
  SELECT json_agg(fact) INTO facts FROM (
    SELECT
      o.id, o.queue, o.kind, o.number, o.parts, o.sender_id, o.run_id, o.body, o.alphabet,
      floor(extract(epoch FROM o.due_at) * 1000) AS due,
      floor(extract(epoch FROM o.not_after) * 1000) AS not_after,
      o.state,
      CASE WHEN o.open < o.parts OR o.state <> 'planned'
        THEN (SELECT array_agg(part_no) FROM outbound_part p WHERE p.outbound_id = o.id AND p.state <> 'planned') END AS gone,
      EXISTS (SELECT 1 FROM outbound_part p WHERE p.number = o.number AND p.reference BETWEEN (o.id % 4095) * 16 AND (o.id % 4095) * 16 + 15
        AND p.outbound_id <> o.id AND p.state IN ('planned', 'handing_over', 'with_carrier', 'uncertain')) AS reference_taken,
      EXISTS (SELECT 1 FROM suppression s WHERE s.number = o.number) AS registered,
      -- whether a reply of theirs is, or may be, a stop that nobody has acted on: asked of the replies themselves
      (SELECT max(h.why) FROM number_held h WHERE h.number = o.number) AS undecided,
      o.person_id,
      person.id AS person_here,
      person.number AS person_number,
      person.zone, person.zone_guessed, person.quiet, person.born,
      CASE WHEN o.kind NOT IN ('run', 'opt_out', 'copy') THEN NULL
        WHEN o.person_id IS NOT NULL THEN (SELECT act FROM consent_now c WHERE c.person_id = o.person_id AND c.purpose = run.purpose AND c.number = o.number)
        WHEN EXISTS (SELECT 1 FROM person x JOIN consent_now c ON c.person_id = x.id AND c.purpose = run.purpose AND c.number = o.number
          WHERE x.number = o.number AND c.act = 'withdrawn') THEN 'withdrawn'
        ELSE 'granted' END AS consent,
      o.dependants IS NOT NULL AND EXISTS (SELECT 1 FROM guardianship g
        WHERE g.person_id = o.person_id AND g.dependant_id = ANY (o.dependants) AND g.must_not_receive) AS must_not,
      o.asked OR o.kind IN ('reply', 'automatic') AND EXISTS (SELECT 1 FROM inbound i
        WHERE i.number = o.number AND i.received_at > wrote_since) AS wrote,
      run.state AS run_state,
      run.note AS run_note,
      CASE WHEN run.other_day THEN NULL ELSE o.names_day END AS names_day,
      run.purpose, run.allowed, run.urgent
    FROM outbound o LEFT JOIN run ON run.id = o.run_id LEFT JOIN person ON person.id = o.person_id
    WHERE o.id = ANY (wanted)) AS fact;
  RETURN json_build_object('around', around, 'lines', lines, 'facts', facts)::text;
END $$;

-- Everything the gate asks for: each wanted text as it stands now, column by column under its own name (FactRow in engine/line/claim-texts).
-- A query with a name: it is planned within the statement that asks.
DROP FUNCTION IF EXISTS line_texts(bigint[], timestamptz);
CREATE FUNCTION line_texts(wanted bigint[], wrote_since timestamptz) RETURNS TABLE (
  id bigint, queue bigint, kind text, number text, parts smallint, sender_id bigint, run_id bigint, body text, alphabet text,
  due bigint, not_after bigint, state text, gone smallint[], reference_taken boolean, registered boolean, undecided text,
  person_id bigint, person_here bigint, person_number text, zone text, zone_guessed boolean, quiet text, born text, consent text,
  needs_yes boolean, must_not boolean, wrote boolean, run_state text, run_note text, names_day date, purpose text, allowed jsonb, urgent text, show_at_once text
) LANGUAGE sql STABLE AS $$
  SELECT
    o.id, o.queue, o.kind, o.number, o.parts, o.sender_id, o.run_id, o.body, o.alphabet,
    floor(extract(epoch FROM o.due_at) * 1000)::bigint AS due,
    floor(extract(epoch FROM o.not_after) * 1000)::bigint AS not_after,
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
    run.purpose = 'marketing' OR (SELECT notices = 'granted' FROM workspace) AS needs_yes,
    o.dependants IS NOT NULL AND EXISTS (SELECT 1 FROM guardianship g
      WHERE g.person_id = o.person_id AND g.dependant_id = ANY (o.dependants) AND g.must_not_receive) AS must_not,
    o.asked OR o.kind IN ('reply', 'automatic') AND EXISTS (SELECT 1 FROM inbound i
      WHERE i.number = o.number AND i.received_at > wrote_since) AS wrote,
    run.state AS run_state,
    run.note AS run_note,
    CASE WHEN run.other_day THEN NULL ELSE o.names_day END AS names_day,
    run.purpose, run.allowed, run.urgent,
    -- the text for opting out that follows one is for keeping
    CASE WHEN o.show_at_once OR (run.show_at_once AND o.kind <> 'opt_out') THEN (SELECT carrier_at_once FROM workspace) END AS show_at_once
  FROM outbound o LEFT JOIN run ON run.id = o.run_id LEFT JOIN person ON person.id = o.person_id
  WHERE o.id = ANY (wanted)
$$;

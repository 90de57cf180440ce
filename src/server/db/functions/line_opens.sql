-- The beginning of a window's transaction: whether its owner is one still (null where not), what is held until its end, and where we are and
-- the senders' lines, as JSON.
CREATE OR REPLACE FUNCTION line_opens(own bigint, wanted bigint[]) RETURNS text LANGUAGE plpgsql SET plan_cache_mode = force_generic_plan AS $$
DECLARE
  around json;
  lines json;
BEGIN
  PERFORM 1 FROM line_owner WHERE epoch = own AND ended_at IS NULL FOR SHARE;
  IF NOT FOUND THEN RETURN NULL; END IF;
  -- a stop that is being registered is waited for, and one that comes waits for this (engine/register)
  PERFORM pg_advisory_xact_lock_shared(7301);
  PERFORM 1 FROM line_pace WHERE sender_id IN (SELECT sender_id FROM outbound WHERE id = ANY (wanted)) ORDER BY sender_id FOR UPDATE;
  SELECT json_build_object('zone', zone, 'quiet_from', quiet_from, 'quiet_to', quiet_to, 'sealed', EXISTS (SELECT 1 FROM register_sealed)) INTO around FROM workspace;
  SELECT json_agg(json_build_object('id', s.id, 'address', s.address, 'kind', s.kind, 'rate', s.parts_per_second, 'free_at', p.free_at)) INTO lines
  FROM sender s JOIN line_pace p ON p.sender_id = s.id;
  RETURN json_build_object('around', around, 'lines', lines)::text;
END $$;

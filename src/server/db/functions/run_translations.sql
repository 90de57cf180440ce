-- As a run was written in the languages beside the first: {language: words}.
CREATE OR REPLACE FUNCTION run_translations(run bigint) RETURNS jsonb LANGUAGE sql STABLE AS $$
  SELECT coalesce(jsonb_object_agg(t.language, t.words), '{}') FROM run_translation t WHERE t.run_id = run
$$;

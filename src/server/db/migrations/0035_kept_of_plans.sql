-- What a run keeps of its plan: figures and wording, each where it is said what it is, and of no recipient anything.
-- As it was written, in the first language: no more made from the plan.
ALTER TABLE run ALTER COLUMN words DROP EXPRESSION;
ALTER TABLE run
  ALTER COLUMN words SET DEFAULT '',
  -- how many people were chosen; null for runs of before
  ADD COLUMN chosen integer,
  -- when the first text was to go, as it was shown
  ADD COLUMN shown_first timestamptz,
  -- texts that were to go in each step after a moment; null where there was no course
  ADD COLUMN course_from timestamptz,
  ADD COLUMN course_step_seconds integer,
  ADD COLUMN course_texts integer[],
  -- texts for opting out follow its texts, and copies for the desk go beside them
  ADD COLUMN opts_out_after boolean NOT NULL DEFAULT false,
  ADD COLUMN has_copies boolean NOT NULL DEFAULT false;

-- As it was written in the other languages.
CREATE TABLE run_translation (
  run_id bigint NOT NULL REFERENCES run ON DELETE CASCADE,
  language text NOT NULL,
  words text NOT NULL,
  PRIMARY KEY (run_id, language)
);

-- The wording for opting out that goes with or after a text, by its language.
CREATE TABLE run_opt_out (
  run_id bigint NOT NULL REFERENCES run ON DELETE CASCADE,
  language text NOT NULL,
  words text NOT NULL,
  PRIMARY KEY (run_id, language)
);

-- How many of those who were chosen are not written to, by reason.
CREATE TABLE run_dropped (
  run_id bigint NOT NULL REFERENCES run ON DELETE CASCADE,
  reason text NOT NULL,
  people integer NOT NULL,
  PRIMARY KEY (run_id, reason)
);

UPDATE run SET chosen = (plan->>'chosen')::integer, shown_first = (plan->>'first')::timestamptz,
  course_from = CASE WHEN jsonb_typeof(plan->'course'->'all') = 'array' THEN (plan->'course'->>'from')::timestamptz END,
  course_step_seconds = CASE WHEN jsonb_typeof(plan->'course'->'all') = 'array' THEN (plan->'course'->>'step_seconds')::integer END,
  course_texts = CASE WHEN jsonb_typeof(plan->'course'->'all') = 'array'
    THEN ARRAY(SELECT n::integer FROM jsonb_array_elements_text(plan->'course'->'all') WITH ORDINALITY AS t (n, at) ORDER BY at) END,
  opts_out_after = coalesce(jsonb_typeof(plan->'after') = 'object', false), has_copies = coalesce(jsonb_typeof(plan->'copies') = 'object', false);
INSERT INTO run_translation SELECT run.id, t.key, t.value FROM run CROSS JOIN LATERAL
  jsonb_each_text(CASE WHEN jsonb_typeof(plan->'translations') = 'object' THEN plan->'translations' ELSE '{}' END) AS t WHERE t.value IS NOT NULL;
INSERT INTO run_opt_out SELECT run.id, l->>'language', l->>'opt_out' FROM run CROSS JOIN LATERAL
  jsonb_array_elements(CASE WHEN jsonb_typeof(plan->'languages') = 'array' THEN plan->'languages' ELSE '[]' END) AS l
  WHERE l->>'language' IS NOT NULL AND l->>'opt_out' <> '' ON CONFLICT DO NOTHING;
INSERT INTO run_dropped SELECT run.id, d.key, d.value::integer FROM run CROSS JOIN LATERAL
  jsonb_each_text(CASE WHEN jsonb_typeof(plan->'dropped') = 'object' THEN plan->'dropped' ELSE '{}' END) AS d WHERE d.value::integer > 0;
ALTER TABLE run DROP COLUMN plan;

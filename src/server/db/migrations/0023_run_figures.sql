-- What came of a run, counted: answers, opt-outs and clicks change long after it has gone, and hundreds of runs are shown at once.
-- Whoever writes what is counted raises a number; whoever reads counts again where it has moved since.
CREATE TABLE run_figures (
  run_id bigint PRIMARY KEY,
  -- people who answered, and how many texts that were
  answers bigint NOT NULL DEFAULT 0,
  answer_texts bigint NOT NULL DEFAULT 0,
  opted_out bigint NOT NULL DEFAULT 0,
  clicked bigint NOT NULL DEFAULT 0,
  linked bigint NOT NULL DEFAULT 0,
  -- how often something of it changed, and as of which of these it was counted; links apart, since counting them is dear and they
  -- are made once
  changes bigint NOT NULL DEFAULT 0,
  counted bigint NOT NULL DEFAULT 0,
  links_made bigint NOT NULL DEFAULT 0,
  links_counted bigint NOT NULL DEFAULT 0
);

CREATE FUNCTION inbound_of_run() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  INSERT INTO run_figures AS f (run_id, changes)
  SELECT DISTINCT run_id, 1 FROM (SELECT run_id FROM new_rows) AS n WHERE run_id IS NOT NULL ORDER BY run_id
  ON CONFLICT (run_id) DO UPDATE SET changes = f.changes + 1;
  RETURN NULL;
END $$;
CREATE FUNCTION inbound_of_runs() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  INSERT INTO run_figures AS f (run_id, changes)
  SELECT DISTINCT run_id, 1 FROM (SELECT run_id FROM new_rows UNION SELECT run_id FROM old_rows) AS n WHERE run_id IS NOT NULL ORDER BY run_id
  ON CONFLICT (run_id) DO UPDATE SET changes = f.changes + 1;
  RETURN NULL;
END $$;
CREATE TRIGGER inbound_counted_insert AFTER INSERT ON inbound REFERENCING NEW TABLE AS new_rows FOR EACH STATEMENT EXECUTE FUNCTION inbound_of_run();
CREATE TRIGGER inbound_counted_update AFTER UPDATE ON inbound REFERENCING OLD TABLE AS old_rows NEW TABLE AS new_rows
  FOR EACH STATEMENT EXECUTE FUNCTION inbound_of_runs();
CREATE TRIGGER link_counted_update AFTER UPDATE ON link REFERENCING NEW TABLE AS new_rows FOR EACH STATEMENT EXECUTE FUNCTION inbound_of_run();

CREATE FUNCTION links_of_run() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  INSERT INTO run_figures AS f (run_id, links_made)
  SELECT DISTINCT run_id, 1 FROM new_rows WHERE run_id IS NOT NULL ORDER BY run_id
  ON CONFLICT (run_id) DO UPDATE SET links_made = f.links_made + 1;
  RETURN NULL;
END $$;
CREATE TRIGGER link_counted_insert AFTER INSERT ON link REFERENCING NEW TABLE AS new_rows FOR EACH STATEMENT EXECUTE FUNCTION links_of_run();

-- only what was followed or pressed is looked at when it is counted again
CREATE INDEX link_clicked ON link (run_id, outbound_id) WHERE clicked_at IS NOT NULL AND NOT opt_out;
CREATE INDEX link_opened ON link (run_id) WHERE (opens > 0 OR machine_at IS NOT NULL) AND NOT opt_out;
CREATE INDEX link_pressed ON link (run_id, number) WHERE pressed_at IS NOT NULL AND opt_out;

-- what is there already
INSERT INTO run_figures (run_id, changes, links_made) SELECT id, 1, 1 FROM run;

-- found by its words, without opening its whole plan
ALTER TABLE run ADD COLUMN words text NOT NULL GENERATED ALWAYS AS (coalesce(plan->>'words', '')) STORED;

-- found by any part of a number
CREATE INDEX inbound_number_part ON inbound USING gin (number gin_trgm_ops);

-- What was counted over every text of a large run, with what it was counted for: it is counted again only when that has changed.
CREATE TABLE run_kept (
  run_id bigint NOT NULL,
  what text NOT NULL CHECK (what IN ('texts', 'links', 'back')),
  key text NOT NULL,
  kept jsonb NOT NULL,
  PRIMARY KEY (run_id, what)
);

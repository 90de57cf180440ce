import type { Queryable } from '../db/db';

interface Stale {
  run_id: number;
  changes: number;
  links_made: number;
  links: boolean;
}

/**
 * Counts anew what has moved of these runs since it was last counted: people who answered, each once; who opted out by it, by text or
 * by its link; texts with a link, and those in which one was followed. What moves while it is counted is counted at the next look.
 */
export async function countFigures(db: Queryable, runs: readonly number[]): Promise<void> {
  if (runs.length === 0) return;
  const { rows } = await db.query<Stale>(
    `SELECT run_id, changes, links_made, links_made <> links_counted AS links FROM run_figures
     WHERE run_id = ANY ($1::bigint[]) AND (changes <> counted OR links_made <> links_counted) ORDER BY run_id`,
    [runs],
  );
  if (rows.length === 0) return;
  await db.query(
    `UPDATE run_figures f SET counted = s.changes, links_counted = s.links_made,
       answers = (SELECT count(DISTINCT number) FROM inbound WHERE run_id = f.run_id AND kind IN ('reply', 'maybe_stop')),
       answer_texts = (SELECT count(*) FROM inbound WHERE run_id = f.run_id AND kind IN ('reply', 'maybe_stop')),
       opted_out = (SELECT count(*) FROM (
         SELECT number FROM inbound WHERE run_id = f.run_id AND kind = 'stop'
         UNION SELECT number FROM link WHERE run_id = f.run_id AND opt_out AND pressed_at IS NOT NULL) AS stopped),
       clicked = (SELECT count(DISTINCT outbound_id) FROM link WHERE run_id = f.run_id AND NOT opt_out AND clicked_at IS NOT NULL),
       linked = CASE WHEN s.links THEN (SELECT count(DISTINCT outbound_id) FROM link WHERE run_id = f.run_id AND NOT opt_out) ELSE linked END
     FROM unnest($1::bigint[], $2::bigint[], $3::bigint[], $4::boolean[]) AS s (run_id, changes, links_made, links) WHERE f.run_id = s.run_id`,
    [
      rows.map((row) => row.run_id),
      rows.map((row) => row.changes),
      rows.map((row) => row.links_made),
      rows.map((row) => row.links),
    ],
  );
}

import type { PersonHistory } from '../../core/api/sending/outcomes';
import type { Queryable } from '../db/db';
import { countFigures } from './run-figures';
import { usualOfAll } from './outcome-queries';

/** Of somebody's broadcasts, the latest. */
const MOST = 500;

/**
 * What became of the broadcasts to one person, in the shares that runs have: answered and clicked of delivered, beside what is usual;
 * how soon they answer. A broadcast counts as one with a link where any of its texts had one.
 */
export async function historyOf(db: Queryable, person: number): Promise<PersonHistory> {
  const { rows: runs } = await db.query<{ run_id: number }>(
    `SELECT DISTINCT run_id FROM (SELECT run_id FROM outbound WHERE person_id = $1 AND kind = 'run' AND handed_at IS NOT NULL ORDER BY id DESC LIMIT ${MOST}) AS mine`,
    [person],
  );
  await countFigures(
    db,
    runs.map(({ run_id }) => run_id),
  );
  const { rows } = await db.query<Omit<PersonHistory, 'usual'>>(
    `WITH mine AS (
       SELECT o.id, o.run_id, o.state, o.handed_at, coalesce(f.linked, 0) > 0 AS linked,
         (SELECT min(i.received_at) FROM inbound i WHERE i.run_id = o.run_id AND i.number = o.number AND i.kind IN ('reply', 'maybe_stop')) AS answered_at,
         EXISTS (SELECT 1 FROM link WHERE link.run_id = o.run_id AND link.outbound_id = o.id AND clicked_at IS NOT NULL AND NOT link.opt_out) AS clicked
       FROM outbound o LEFT JOIN run_figures f ON f.run_id = o.run_id
       WHERE o.person_id = $1 AND o.kind = 'run' AND o.handed_at IS NOT NULL ORDER BY o.id DESC LIMIT ${MOST})
     SELECT count(*) FILTER (WHERE state = 'delivered')::int AS delivered,
       count(*) FILTER (WHERE state IN ('not_delivered', 'expired'))::int AS not_delivered,
       count(answered_at) FILTER (WHERE state = 'delivered')::int AS answered,
       count(*) FILTER (WHERE state = 'delivered' AND linked)::int AS linked,
       count(*) FILTER (WHERE state = 'delivered' AND clicked)::int AS clicked,
       (percentile_cont(0.5) WITHIN GROUP (ORDER BY extract(epoch FROM answered_at - handed_at)) FILTER (WHERE answered_at >= handed_at))::float8 AS answers_after,
       min(handed_at) AS since
     FROM mine`,
    [person],
  );
  return { ...rows[0], usual: await usualOfAll(db) };
}

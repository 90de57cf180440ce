import type { RunAnswer } from '../../core/api/runs';
import type { Queryable } from '../db/db';

/** Beyond so many steps after the plan's last nothing is drawn any more. */
const MOST_STEPS = 400;

/** What was to go when, as it was agreed to, and what has gone by then; null for a run whose plan kept no course. */
export async function runCourse(db: Queryable, run: number): Promise<RunAnswer['course']> {
  const { rows } = await db.query<{ from: string; step_seconds: number; planned: number[] | null; moved_ms: number }>(
    `SELECT plan->'course'->>'from' AS from, (plan->'course'->>'step_seconds')::int AS step_seconds, plan->'course'->'all' AS planned,
       -- of a start at once the times count from the press, and were shown a little before it
       floor(extract(epoch FROM date_trunc('minute', due_at) - date_trunc('minute', (plan->>'first')::timestamptz)) * 1000)::float8 AS moved_ms
     FROM run WHERE id = $1 AND jsonb_typeof(plan->'course'->'all') = 'array'`,
    [run],
  );
  if (rows.length === 0) return null;
  const [{ step_seconds, moved_ms }] = rows;
  const planned = rows[0].planned ?? [];
  const from = new Date(Date.parse(rows[0].from) + moved_ms).toISOString();
  const gone = await db.query<{ step: number; n: number }>(
    `SELECT floor(extract(epoch FROM handed_at - $2::timestamptz) / $3::int)::int AS step, count(*) AS n
     FROM outbound WHERE run_id = $1 AND kind = 'run' AND handed_at IS NOT NULL GROUP BY 1 ORDER BY 1`,
    [run, from, step_seconds],
  );
  const went: number[] = [];
  for (const { step, n } of gone.rows) {
    const at = Math.min(Math.max(0, step), planned.length + MOST_STEPS);
    went[at] = (went[at] ?? 0) + n;
  }
  return { from, step_seconds, planned, went: Array.from(went, (n) => n ?? 0) };
}

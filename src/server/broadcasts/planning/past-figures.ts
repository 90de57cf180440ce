import { iso } from '../../../core/clock';
import type { PastFigures } from '../../../core/plan/picture/rehearsal';
import type { Queryable } from '../../db/db';

const HOUR = 3_600_000;
/** The last day, where that has enough texts to tell anything; else a month. */
const SPANS = [24, 30 * 24];
const ENOUGH = 100;
/** Runs that are asked, latest first: what they tell is no more precise with more. */
const RUNS = 30;
const QUANTILES = `ARRAY[0, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1]::float8[]`;
const notBelowZero = (values: readonly number[] | null): number[] => (values ?? []).map((value) => Math.max(0, value));

/** How the workspace's texts fared lately, and were answered; null where too few have gone to say. */
export async function pastFigures(db: Queryable, now: number): Promise<PastFigures | null> {
  for (const hours of SPANS) {
    const { rows: runs } = await db.query<{ id: number }>(
      `SELECT id FROM run WHERE started_at >= $1::timestamptz AND started_at <= $2::timestamptz ORDER BY id DESC LIMIT ${RUNS}`,
      [iso(now - hours * HOUR), iso(now)],
    );
    const ids = runs.map((run) => run.id);
    const { rows } = await db.query<{ delivered: number; failed: number; delays: number[] | null }>(
      `SELECT count(*) FILTER (WHERE state = 'delivered') AS delivered, count(*) FILTER (WHERE state IN ('not_delivered', 'expired')) AS failed,
         to_jsonb(percentile_cont(${QUANTILES}) WITHIN GROUP (ORDER BY extract(epoch FROM final_at - handed_at)::float8)
           FILTER (WHERE state = 'delivered' AND handed_at IS NOT NULL)) AS delays
       FROM outbound WHERE run_id = ANY ($1::bigint[]) AND kind = 'run'`,
      [ids],
    );
    const [{ delivered, failed, delays }] = rows;
    const texts = delivered + failed;
    if (texts < ENOUGH) continue;
    // one answer a person and run; those who opted out have answered nothing the desk has to
    const { rows: answers } = await db.query<{ n: number; lags: number[] | null }>(
      `SELECT count(*) AS n, to_jsonb(percentile_cont(${QUANTILES}) WITHIN GROUP (ORDER BY lag)) AS lags FROM (
         SELECT min(extract(epoch FROM i.received_at - o.handed_at)::float8 / 60) AS lag FROM inbound i JOIN outbound o ON o.run_id = i.run_id AND o.number = i.number AND o.kind = 'run'
         WHERE i.run_id = ANY ($1::bigint[]) AND i.kind IN ('reply', 'maybe_stop') AND o.handed_at IS NOT NULL GROUP BY i.run_id, i.number) AS each`,
      [ids],
    );
    return {
      texts,
      hours,
      failed: failed / texts,
      delays: notBelowZero(delays),
      answered: delivered === 0 ? 0 : Math.min(1, answers[0].n / delivered),
      lags: notBelowZero(answers[0].lags),
    };
  }
  return null;
}

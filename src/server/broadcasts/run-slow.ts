import type { RunAnswer } from '../../core/api/runs';
import { quantilesOf } from '../../core/outcome/quantiles';
import type { Queryable } from '../db/db';
import { wentBySteps, type PlannedCourse } from './run-course';

/** What is counted over every text of a run. */
export interface Slow {
  reasons: RunAnswer['reasons'];
  delays: RunAnswer['delays'];
  went: number[];
  clicks: Pick<RunAnswer['clicks'], 'opens' | 'machines' | 'by' | 'times'>;
  alike: RunAnswer['alike'];
}

/** Runs of fewer people are counted at every look. */
const FEW = 5000;
/** Of the time since it was last counted, counting may take this part: a run that is watched costs the server next to nothing. */
const PART = 0.01;
const MOST_KEPT = 30;

interface Kept {
  key: string;
  slow: Slow;
  at: number;
  took: number;
  asOf: string;
}
const kept = new WeakMap<object, Map<number, Kept>>();

/**
 * What has to be counted over every text of a run, with the moment it was counted at. Of a large run it is kept until something of
 * it has changed (`key`), and while it goes on changing it is counted again only so often that it costs a hundredth of the time.
 *
 * @param moment when it is asked, ISO 8601
 */
export async function slowParts(
  db: Queryable,
  run: { id: number; people: number },
  course: PlannedCourse | null,
  key: string,
  moment: string,
): Promise<{ slow: Slow; asOf: string }> {
  if (run.people < FEW) return { slow: await countAll(db, run.id, course), asOf: moment };
  const all = kept.get(db) ?? new Map<number, Kept>();
  kept.set(db, all);
  const before = all.get(run.id);
  const now = performance.now();
  if (before && (before.key === key || now - before.at < before.took / PART)) return before;
  const slow = await countAll(db, run.id, course);
  all.delete(run.id);
  all.set(run.id, { key, slow, at: performance.now(), took: performance.now() - now, asOf: moment });
  const [oldest] = all.keys();
  if (all.size > MOST_KEPT) all.delete(oldest);
  return { slow, asOf: moment };
}

async function countAll(db: Queryable, run: number, course: PlannedCourse | null): Promise<Slow> {
  const minutely = course === null || (course.step_seconds % 60 === 0 && Date.parse(course.from) % 60_000 === 0);
  const [texts, reasons, opened, byLink, times, alike] = await Promise.all([
    // one walk over the texts: by minute and tenths of a second from handing over to delivered
    db.query<{ minute: number; step: number; tenths: number | null; n: number }>(
      `SELECT floor(date_part('epoch', handed_at) / 60)::int AS minute, ${minutely ? '0' : `floor(date_part('epoch', handed_at - $2::timestamptz) / $3::int)::int`} AS step,
         CASE WHEN state = 'delivered' THEN (date_part('epoch', final_at - handed_at) * 10)::int END AS tenths, count(*) AS n
       FROM outbound WHERE run_id = $1 AND kind = 'run' AND handed_at IS NOT NULL GROUP BY 1, 2, 3`,
      minutely ? [run] : [run, course.from, course.step_seconds],
    ),
    db.query<RunAnswer['reasons'][number]>(
      `SELECT state, reason, count(*) AS n FROM outbound WHERE run_id = $1 AND kind = 'run' AND reason IS NOT NULL GROUP BY state, reason ORDER BY n DESC LIMIT 20`,
      [run],
    ),
    db.query<{ opens: number; machines: number }>(
      `SELECT coalesce(sum(opens), 0)::bigint AS opens, count(DISTINCT outbound_id) FILTER (WHERE machine_at IS NOT NULL) AS machines
       FROM link WHERE run_id = $1 AND NOT opt_out AND (opens > 0 OR machine_at IS NOT NULL)`,
      [run],
    ),
    db.query<RunAnswer['clicks']['by'][number]>(
      `SELECT name, address, count(*) FILTER (WHERE clicked_at IS NOT NULL) AS clicked, count(*) AS links
       FROM link WHERE run_id = $1 AND NOT opt_out GROUP BY name, address ORDER BY name, address LIMIT 20`,
      [run],
    ),
    db.query<RunAnswer['clicks']['times'][number]>(
      `SELECT to_timestamp(floor(date_part('epoch', clicked_at) / 600) * 600) AS at, count(*) AS n
       FROM link WHERE run_id = $1 AND NOT opt_out AND clicked_at IS NOT NULL GROUP BY 1 ORDER BY 1 LIMIT 1000`,
      [run],
    ),
    // signs and politeness aside: "Thanks!" and "thanks" say the same
    db.query<RunAnswer['alike'][number]>(
      `SELECT min(body) AS body, count(DISTINCT number) AS people FROM inbound
       WHERE run_id = $1 AND kind IN ('reply', 'maybe_stop') AND length(body) <= 80 GROUP BY regexp_replace(folded, '[^[:alnum:]]+', ' ', 'g')
       HAVING count(DISTINCT number) > 1 ORDER BY people DESC, 1 LIMIT 6`,
      [run],
    ),
  ]);
  return {
    reasons: reasons.rows,
    delays: delaysOf(texts.rows),
    went:
      course === null
        ? []
        : wentBySteps(
            course,
            texts.rows.map(({ minute, step, n }) => [
              minutely ? Math.floor((minute * 60_000 - Date.parse(course.from)) / 1000 / course.step_seconds) : step,
              n,
            ]),
          ),
    clicks: { ...opened.rows[0], by: byLink.rows, times: times.rows },
    alike: alike.rows,
  };
}

/** Seconds from handing over to delivered, by the minute of handing over: half of the texts and the slowest tenth. */
function delaysOf(texts: readonly { minute: number; tenths: number | null; n: number }[]): RunAnswer['delays'] {
  const minutes = new Map<number, Map<number, number>>();
  for (const { minute, tenths, n } of texts) {
    if (tenths === null) continue;
    const counts = minutes.get(minute) ?? new Map<number, number>();
    minutes.set(minute, counts.set(tenths, (counts.get(tenths) ?? 0) + n));
  }
  return [...minutes]
    .sort(([a], [b]) => a - b)
    .slice(0, 500)
    .map(([minute, counts]) => {
      const [half, slow] = quantilesOf(counts, [0.5, 0.9]);
      let n = 0;
      for (const each of counts.values()) n += each;
      return { at: new Date(minute * 60_000).toISOString(), half: half / 10, slow: slow / 10, n };
    });
}

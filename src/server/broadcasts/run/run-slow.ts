import type { RunAnswer } from '../../../core/api/sending/runs';
import { quantilesOf } from '../../../core/outcome/quantiles';
import type { Queryable } from '../../db/db';
import { wentBySteps, type PlannedCourse } from './run-course';

/** What is counted over every text of a run. */
interface Texts {
  reasons: RunAnswer['reasons'];
  delays: RunAnswer['delays'];
  went: number[];
}
/** How many texts have each link. */
type Links = { name: string; address: string; links: number }[];
/** What is counted over what came back: as much as came back. */
interface Back {
  opens: number;
  machines: number;
  clicked: { name: string; address: string; clicked: number }[];
  times: RunAnswer['clicks']['times'];
  alike: RunAnswer['alike'];
}
export interface Slow extends Texts {
  clicks: Pick<RunAnswer['clicks'], 'opens' | 'machines' | 'by' | 'times'>;
  alike: RunAnswer['alike'];
}

/** What tells whether something has changed. */
export interface Keys {
  texts: string;
  links: string;
  back: string;
}

/** Runs of fewer people are counted at every look. */
const FEW = 5000;
/** Of the time since it was last counted, counting may take this part: a run that is watched costs the server next to nothing. */
const PART = 0.01;
const MOST_KEPT = 60;

interface Kept {
  key: string;
  value: unknown;
  at: number;
  took: number;
  asOf: string;
}
const kept = new WeakMap<object, Map<string, Kept>>();

/**
 * What has to be counted over every text of a run, with the moment it was counted at. Of a large run it is kept until something of
 * it has changed, also over a restart; and while it goes on changing it is counted again only so often that it costs a hundredth of
 * the time.
 *
 * @param moment when it is asked, ISO 8601
 */
export async function slowParts(
  db: Queryable,
  run: { id: number; people: number },
  course: PlannedCourse | null,
  keys: Keys,
  moment: string,
): Promise<{ slow: Slow; asOf: string }> {
  const texts = await keptOr(db, run, 'texts', keys.texts, moment, () => countTexts(db, run.id, course));
  const links = await keptOr(db, run, 'links', keys.links, moment, () => countLinks(db, run.id));
  const back = await keptOr(db, run, 'back', keys.back, moment, () => countBack(db, run.id));
  const { opens, machines, clicked, times, alike } = back.value;
  const by = links.value.map((link) => ({
    ...link,
    clicked: clicked.find(({ name, address }) => name === link.name && address === link.address)?.clicked ?? 0,
  }));
  return {
    slow: { ...texts.value, clicks: { opens, machines, by, times }, alike },
    asOf: texts.asOf < back.asOf ? texts.asOf : back.asOf,
  };
}

async function keptOr<T>(
  db: Queryable,
  run: { id: number; people: number },
  what: keyof Keys,
  key: string,
  moment: string,
  count: () => Promise<T>,
): Promise<{ value: T; asOf: string }> {
  if (run.people < FEW) return { value: await count(), asOf: moment };
  const all = kept.get(db) ?? new Map<string, Kept>();
  kept.set(db, all);
  const place = `${run.id} ${what}`;
  const before = all.get(place);
  const now = performance.now();
  // what has not changed is as it was, whenever that was counted
  if (before && before.key === key) return { value: before.value as T, asOf: moment };
  if (before && now - before.at < before.took / PART) return { value: before.value as T, asOf: before.asOf };
  const known = before ? undefined : await storedAs<T>(db, run.id, what, key);
  const value = known ?? (await count());
  const took = performance.now() - now;
  all.delete(place);
  all.set(place, { key, value, at: performance.now(), took, asOf: moment });
  const [oldest] = all.keys();
  if (all.size > MOST_KEPT) all.delete(oldest);
  if (known === undefined)
    await db.query(
      `INSERT INTO run_kept (run_id, what, key, kept) VALUES ($1, $2, $3, $4::jsonb) ON CONFLICT (run_id, what) DO UPDATE SET key = excluded.key, kept = excluded.kept`,
      [run.id, what, key, JSON.stringify(value)],
    );
  return { value, asOf: moment };
}

async function storedAs<T>(db: Queryable, run: number, what: string, key: string): Promise<T | undefined> {
  const { rows } = await db.query<{ kept: T }>(`SELECT kept FROM run_kept WHERE run_id = $1 AND what = $2 AND key = $3`, [
    run,
    what,
    key,
  ]);
  return rows.at(0)?.kept;
}

async function countTexts(db: Queryable, run: number, course: PlannedCourse | null): Promise<Texts> {
  const minutely = course === null || (course.step_seconds % 60 === 0 && Date.parse(course.from) % 60_000 === 0);
  // one walk over the texts: by minute and tenths of a second from handing over to delivered
  const texts = await db.query<{ minute: number; step: number; tenths: number | null; n: number }>(
    `SELECT floor(date_part('epoch', handed_at) / 60)::int AS minute, ${minutely ? '0' : `floor(date_part('epoch', handed_at - $2::timestamptz) / $3::int)::int`} AS step,
       CASE WHEN state = 'delivered' THEN (date_part('epoch', final_at - handed_at) * 10)::int END AS tenths, count(*) AS n
     FROM outbound WHERE run_id = $1 AND kind = 'run' AND handed_at IS NOT NULL GROUP BY 1, 2, 3`,
    minutely ? [run] : [run, course.from, course.step_seconds],
  );
  const reasons = await db.query<RunAnswer['reasons'][number]>(
    `SELECT state, reason, count(*) AS n FROM outbound WHERE run_id = $1 AND kind = 'run' AND reason IS NOT NULL GROUP BY state, reason ORDER BY n DESC LIMIT 20`,
    [run],
  );
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
  };
}

async function countLinks(db: Queryable, run: number): Promise<Links> {
  return (
    await db.query<Links[number]>(
      `SELECT name, address, count(*) AS links FROM link WHERE run_id = $1 AND NOT opt_out GROUP BY name, address ORDER BY name, address LIMIT 20`,
      [run],
    )
  ).rows;
}

async function countBack(db: Queryable, run: number): Promise<Back> {
  const [opened, clicked, times, alike] = await Promise.all([
    db.query<{ opens: number; machines: number }>(
      `SELECT coalesce(sum(opens), 0)::bigint AS opens, count(DISTINCT outbound_id) FILTER (WHERE machine_at IS NOT NULL) AS machines
       FROM link WHERE run_id = $1 AND NOT opt_out AND (opens > 0 OR machine_at IS NOT NULL)`,
      [run],
    ),
    db.query<Back['clicked'][number]>(
      `SELECT name, address, count(*) AS clicked FROM link WHERE run_id = $1 AND NOT opt_out AND clicked_at IS NOT NULL GROUP BY name, address`,
      [run],
    ),
    db.query<Back['times'][number]>(
      `SELECT to_timestamp(floor(date_part('epoch', clicked_at) / 600) * 600) AS at, count(*) AS n
       FROM link WHERE run_id = $1 AND NOT opt_out AND clicked_at IS NOT NULL GROUP BY 1 ORDER BY 1 LIMIT 1000`,
      [run],
    ),
    // signs and politeness aside: "Thanks!" and "thanks" say the same
    db.query<Back['alike'][number]>(
      `SELECT min(body) AS body, count(DISTINCT number) AS people FROM inbound
       WHERE run_id = $1 AND kind IN ('reply', 'maybe_stop') AND length(body) <= 80 GROUP BY regexp_replace(folded, '[^[:alnum:]]+', ' ', 'g')
       HAVING count(DISTINCT number) > 1 ORDER BY people DESC, 1 LIMIT 6`,
      [run],
    ),
  ]);
  return { ...opened.rows[0], clicked: clicked.rows, times: times.rows, alike: alike.rows };
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

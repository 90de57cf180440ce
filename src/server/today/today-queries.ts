import { calledOf } from '../../core/plan/draft/called';
import type { Day, TodayAnswer } from '../../core/api/desk/today';
import type { Queryable } from '../db/db';
import { iso } from '../../core/clock';
import { failingJobs } from '../desk/job-queries';
import { shownJob } from '../desk/job-words';
import { COMES_TO_MICRO, COMES_TO_PARTS, countFigures, SPENT_MICRO } from '../outcomes/for-others';
import { countWaiting, waitingConversations, type Asker } from '../replies/for-others';

type Part<K extends keyof TodayAnswer> = TodayAnswer[K] extends (infer Row)[] ? Row : never;

export async function runsOfDay(db: Queryable, from: number, to: number): Promise<Day['runs']> {
  return (
    await db.query<Day['runs'][number]>(
      `SELECT id, name, run_shown(run.id, run.state, run.ended_at) AS state, people, due_at AS first, greatest(last_due_at, coalesce(ended_at, last_due_at)) AS last,
         (SELECT words FROM alarm WHERE run_id = run.id AND seen_at IS NULL ORDER BY id LIMIT 1) AS alarm FROM run
       WHERE due_at < $2::timestamptz AND last_due_at >= $1::timestamptz AND state <> 'stopped' ORDER BY due_at, id LIMIT 300`,
      [iso(from), iso(to)],
    )
  ).rows;
}

/** Of repeated broadcasts, what comes next and is not planned yet; as many people as the run before. */
export async function coming(db: Queryable, from: string, to: string): Promise<Day['coming']> {
  const { rows } = await db.query<Day['coming'][number] & { words: string }>(
    `SELECT broadcast.id AS broadcast_id, broadcast.name, broadcast.draft->>'words' AS words, next_at AS at,
       coalesce((SELECT run.people FROM run WHERE run.broadcast_id = broadcast.id AND run.state <> 'missed' AND NOT called_off ORDER BY run.id DESC LIMIT 1), 0) AS people
     FROM broadcast WHERE state = 'scheduled' AND next_at >= $1::timestamptz AND next_at < $2::timestamptz ORDER BY next_at, id LIMIT 20`,
    [from, to],
  );
  return rows.map(({ words, ...row }) => ({ ...row, name: calledOf({ name: row.name, words }) }));
}

/** The run that begins next. */
export async function nextRun(db: Queryable, at: string): Promise<Day['next']> {
  const { rows } = await db.query<NonNullable<Day['next']>>(
    `SELECT id, name, due_at, people FROM run WHERE state = 'waiting' AND due_at >= $1::timestamptz ORDER BY due_at LIMIT 1`,
    [at],
  );
  return rows[0] ?? null;
}

/** The run that is going out, with how many texts have left. */
export async function runUnderWay(db: Queryable): Promise<Day['sending']> {
  const { rows } = await db.query<NonNullable<Day['sending']>>(
    `SELECT run.id, name, people, run.state,
       (SELECT coalesce(sum(people), 0)::bigint FROM run_tally t WHERE t.run_id = run.id AND t.state NOT IN ('planned', 'handing_over')) AS gone
     FROM run WHERE run.state IN ('sending', 'paused') AND run_shown(run.id, run.state, run.ended_at) <> 'settling' ORDER BY id LIMIT 1`,
  );
  return rows[0] ?? null;
}

/** What waits for a person, what goes out, and what just went. @param now ms */
export async function todayOf(db: Queryable, asker: Asker, now: number): Promise<Omit<TodayAnswer, 'missing'>> {
  const since = (days: number) => iso(now - days * 86_400_000);
  const lately = (
    await db.query<{ id: number }>(
      `SELECT id FROM run WHERE started_at IS NOT NULL AND (state IN ('finished', 'stopped') OR (state = 'sending' AND run_shown(run.id, run.state, run.ended_at) = 'settling')) ORDER BY due_at DESC LIMIT 5`,
    )
  ).rows.map(({ id }) => id);
  await countFigures(db, lately);
  const [alarms, failing, replies, uncertain, failed, missed, asking, repeated, going, sent, imports] = await Promise.all([
    db.query<Part<'alarms'>>(
      `SELECT alarm.id, alarm.run_id, run.name AS run, alarm.kind, alarm.words, alarm.at, account.name AS told, alarm.trouble
       FROM alarm JOIN run ON run.id = alarm.run_id LEFT JOIN outbound o ON o.id = alarm.outbound_id LEFT JOIN account ON account.own_number = o.number AND account.removed_at IS NULL
       WHERE alarm.seen_at IS NULL AND alarm.at > $1::timestamptz ORDER BY alarm.id DESC LIMIT 5`,
      [since(3)],
    ),
    failingJobs(db, iso(now), 5),
    waitingConversations(db, asker, 'waiting', undefined, 3),
    db.query<Part<'uncertain'>>(
      `SELECT run.id, run.name, t.people AS n, run.due_at AS at FROM run_tally t JOIN run ON run.id = t.run_id WHERE t.state = 'uncertain' AND t.people > 0 AND run.due_at > $1::timestamptz ORDER BY at DESC LIMIT 5`,
      [since(7)],
    ),
    db.query<Part<'failed'>>(
      `SELECT run.id, run.name, outbound.reason, count(*) AS n, max(run.due_at) AS at FROM outbound JOIN run ON run.id = run_id
       WHERE outbound.state = 'not_delivered' AND outbound.kind = 'run' AND run.due_at > $1::timestamptz GROUP BY run.id, run.name, outbound.reason HAVING count(*) >= 2 ORDER BY at DESC LIMIT 3`,
      [since(1)],
    ),
    db.query<Part<'missed'>>(
      `SELECT id, name, note, due_at, broadcast_id FROM run WHERE state = 'missed' AND due_at > $1::timestamptz ORDER BY due_at DESC LIMIT 3`,
      [since(3)],
    ),
    db.query<Part<'asking'>>(
      `SELECT id, broadcast_id, name, asks, due_at FROM run WHERE state = 'waiting' AND asks IS NOT NULL ORDER BY due_at, id LIMIT 5`,
    ),
    coming(db, iso(now), since(-31)),
    db.query<Part<'going'>>(
      `SELECT id, broadcast_id, name, state, people, ${COMES_TO_PARTS} AS parts, ${COMES_TO_MICRO} AS cost_micro, due_at, last_due_at FROM run WHERE state IN ('waiting', 'sending', 'paused', 'planning') AND run_shown(run.id, run.state, run.ended_at) <> 'settling' ORDER BY due_at, id LIMIT 12`,
    ),
    db.query<Part<'sent'>>(
      `SELECT id, name, run_shown(run.id, run.state, run.ended_at) AS state, people, due_at, ${SPENT_MICRO} AS spent_micro, (SELECT coalesce(jsonb_object_agg(t.state, t.people), '{}') FROM run_tally t WHERE t.run_id = run.id AND t.people > 0) AS tally,
         coalesce(f.answers, 0) AS answers, coalesce(f.opted_out, 0) AS opted_out, coalesce(f.clicked, 0) AS clicked
       FROM run LEFT JOIN run_figures f ON f.run_id = run.id WHERE run.id = ANY ($1::bigint[]) ORDER BY due_at DESC`,
      [lately],
    ),
    db.query<Part<'imports'>>(
      `SELECT id, file_name, state, counts FROM import WHERE state IN ('open', 'writing') ORDER BY id DESC LIMIT 3`,
    ),
  ]);
  return {
    alarms: alarms.rows,
    failing: failing.map(shownJob),
    replies,
    replies_waiting: (await countWaiting(db, asker)).waiting,
    uncertain: uncertain.rows,
    failed: failed.rows,
    missed: missed.rows,
    asking: asking.rows,
    coming: repeated,
    going: going.rows,
    sent: sent.rows,
    imports: imports.rows,
  };
}

import type { RunAnswer } from '../../../core/api/sending/runs';
import type { Queryable, Tx } from '../../db/db';
import { otherDayOf } from '../../engine/for-others';
import { changesOfRun } from '../../people/for-others';
import { countFigures, SPENT_MICRO, SPENT_PARTS } from '../../outcomes/for-others';
import { plannedCourse } from './run-course';
import { slowParts } from './run-slow';

async function tallyOf(db: Queryable, runId: number): Promise<Record<string, number>> {
  const { rows } = await db.query<{ state: string; n: number }>(
    `SELECT state, people AS n FROM run_tally WHERE run_id = $1 AND people > 0`,
    [runId],
  );
  return Object.fromEntries(rows.map((row) => [row.state, row.n]));
}

const rowsOf = async <T>(asked: Promise<{ rows: T[] }>): Promise<T[]> => (await asked).rows;

/** What stands of a run in tables of its own, asked at once. */
async function partsOf(db: Queryable, { id, broadcast_id: broadcastId }: Pick<RunAnswer['run'], 'id' | 'broadcast_id'>) {
  const [tally, events, replies, money, figures, beside, planned, lists, shown, waiting, left, alarms, stops] = await Promise.all(
    [
      tallyOf(db, id),
      rowsOf(
        db.query<RunAnswer['events'][number]>(
          `SELECT at, what, account.name AS by FROM run_event LEFT JOIN account ON account.id = account_id WHERE run_id = $1 ORDER BY run_event.id LIMIT 100`,
          [id],
        ),
      ),
      rowsOf(
        db.query<RunAnswer['replies'][number]>(
          `SELECT body, number, kind, done_at FROM inbound WHERE run_id = $1 ORDER BY id DESC LIMIT 50`,
          [id],
        ),
      ),
      rowsOf(
        db.query<RunAnswer['money']>(`SELECT ${SPENT_MICRO} AS spent, ${SPENT_PARTS} AS parts FROM run WHERE run.id = $1`, [id]),
      ),
      rowsOf(
        db.query<{
          answers: number;
          answer_texts: number;
          opted_out: number;
          clicked: number;
          linked: number;
          changes: number;
          links_made: number;
        }>(`SELECT answers, answer_texts, opted_out, clicked, linked, changes, links_made FROM run_figures WHERE run_id = $1`, [
          id,
        ]),
      ),
      rowsOf(
        db.query<RunAnswer['beside'][number]>(
          `SELECT kind, state, count(*) AS n FROM outbound WHERE run_id = $1 AND kind <> 'run'
           AND EXISTS (SELECT 1 FROM run WHERE id = $1 AND (opts_out_after OR has_copies))
         GROUP BY kind, state ORDER BY kind, n DESC`,
          [id],
        ),
      ),
      plannedCourse(db, id),
      rowsOf(
        db.query<RunAnswer['lists'][number]>(
          `SELECT list.id, list.name FROM list WHERE id IN (
           SELECT (source->>'id')::bigint FROM broadcast, jsonb_array_elements(broadcast.draft->'to') AS source WHERE broadcast.id = $1 AND source->>'kind' = 'list')
         ORDER BY list.name, list.id`,
          [broadcastId],
        ),
      ),
      rowsOf(
        db.query<{
          chosen: number | null;
          dropped: Record<string, number>;
          words: string;
          translations: Record<string, string>;
          first: string;
        }>(
          `SELECT chosen, (SELECT coalesce(jsonb_object_agg(d.reason, d.people), '{}') FROM run_dropped d WHERE d.run_id = run.id) AS dropped, words,
           run_translations(run.id) AS translations, workspace.languages[1] AS first
         FROM run, workspace WHERE run.id = $1`,
          [id],
        ),
      ),
      rowsOf(
        db.query<{ waiting: number }>(
          `SELECT count(*) AS waiting FROM inbound WHERE run_id = $1 AND done_at IS NULL AND kind IN ('reply', 'maybe_stop')`,
          [id],
        ),
      ),
      changesOfRun(db, id),
      rowsOf(
        db.query<RunAnswer['alarms'][number]>(
          `SELECT alarm.id, words, at, seen_at, account.name AS seen_by FROM alarm LEFT JOIN account ON account.id = seen_by WHERE run_id = $1 ORDER BY alarm.id`,
          [id],
        ),
      ),
      rowsOf(
        db.query<RunAnswer['stops'][number]>(
          `SELECT i.number, coalesce(trim(person.given_name || ' ' || person.family_name), '') AS name, received_at AS at, body AS words
         FROM inbound i LEFT JOIN person ON person.id = i.person_id WHERE run_id = $1 AND i.kind = 'stop' ORDER BY i.id DESC LIMIT 5`,
          [id],
        ),
      ),
    ],
  );
  return { tally, events, replies, money, figures, beside, planned, lists, shown, waiting, left, alarms, stops };
}

/** Everything of a run but its recipients, as it is at a moment (ISO 8601); undefined when there is none. */
export async function runById(db: Queryable, id: number, moment: string): Promise<RunAnswer | undefined> {
  const [run] = await rowsOf(
    db.query<RunAnswer['run']>(
      `SELECT run.id, run.broadcast_id, run.name, run_shown(run.id, run.state, run.ended_at) AS state, run.people, run.parts, run.cost_micro, run.stored, run.called_off, run.due_at, run.last_due_at,
         run.not_after, run.takeback_until, run.pressed_at, run.started_at, run.ended_at, run.note, run.asks, run.origin,
         to_char((greatest(run.last_due_at, run.ended_at) AT TIME ZONE (SELECT zone FROM workspace))::date + run.reply_days::int, 'YYYY-MM-DD') AS replies_until, broadcast.goes_on, account.name AS by,
         sender.name AS sender, sender.address AS sender_address, sender.kind AS sender_kind, broadcast.labels
       FROM run JOIN broadcast ON broadcast.id = run.broadcast_id LEFT JOIN account ON account.id = run.account_id JOIN sender ON sender.id = run.sender_id WHERE run.id = $1`,
      [id],
    ),
  );
  if (!run) return undefined;
  await countFigures(db, [id]);
  const { tally, events, replies, money, figures, beside, planned, lists, shown, waiting, left, alarms, stops } = await partsOf(
    db,
    run,
  );
  const [{ chosen, dropped, words, translations, first }] = shown;
  const counted = figures.at(0);
  const keys = {
    texts: JSON.stringify([run.state, tally]),
    links: String(counted?.links_made ?? 0),
    back: String(counted?.changes ?? 0),
  };
  const { slow, asOf } = await slowParts(db, run, planned, keys, moment);
  return {
    run,
    other_day: await otherDayOf(db, id, Date.parse(moment)),
    tally,
    reasons: slow.reasons,
    events,
    replies,
    answers: { people: counted?.answers ?? 0, texts: counted?.answer_texts ?? 0, waiting: waiting[0].waiting },
    money: money[0],
    clicks: { ...slow.clicks, clicked: counted?.clicked ?? 0, links: counted?.linked ?? 0 },
    delays: slow.delays,
    as_of: asOf,
    opted_out: counted?.opted_out ?? 0,
    beside,
    course: planned === null ? null : { ...planned, went: slow.went },
    lists,
    left,
    alarms,
    alike: slow.alike,
    stops,
    ledger: chosen === null ? null : { chosen, dropped },
    words: { [first]: words, ...translations },
  };
}

/** A note on a run's course. */
export async function noteOnRun(
  tx: Tx,
  id: number,
  what: string,
  asked: { account: { id: number } | undefined; at: string },
): Promise<void> {
  await tx.query(`INSERT INTO run_event (run_id, at, what, account_id) VALUES ($1, $2::timestamptz, $3, $4)`, [
    id,
    asked.at,
    what,
    asked.account?.id ?? null,
  ]);
}

/** The run of an alarm that somebody has seen now; undefined when there is none that nobody had. */
export async function seeAlarm(db: Queryable, id: number, account: number, at: string): Promise<number | undefined> {
  const { rows } = await db.query<{ run_id: number }>(
    `UPDATE alarm SET seen_at = $3::timestamptz, seen_by = $2 WHERE id = $1 AND seen_at IS NULL RETURNING run_id`,
    [id, account, at],
  );
  return rows[0]?.run_id;
}

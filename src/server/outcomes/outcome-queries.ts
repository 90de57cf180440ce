import type { OutcomeRow, OutcomesQuery, Usual } from '../../core/api/sending/outcomes';
import type { RunFigures } from '../../core/outcome/over-time';
import { addDays } from '../../core/people/day';
import { iso } from '../../core/clock';
import { localInstant } from '../../core/zones';
import { Binder } from '../address-book/for-others';
import type { Db, Queryable } from '../db/db';
import { countFigures } from './run-figures';
import { SPENT_MICRO, SPENT_PARTS } from './spent-sql';

export const PAGE = 50;
/** What is usual is taken of so many runs, each to at least so many people. */
const USUAL_OF = 100;
const LEAST_PEOPLE = 10;
const LEAST_RUNS = 3;

const FROM = `FROM run JOIN broadcast ON broadcast.id = run.broadcast_id JOIN sender ON sender.id = run.sender_id LEFT JOIN account ON account.id = run.account_id LEFT JOIN run_figures f ON f.run_id = run.id`;
/** Runs that have begun, or would have. */
const BEGUN = `(run.started_at IS NOT NULL OR run.state = 'missed')`;
/** People, each once: several answers of one are one person who answered. */
const ROW = `run.id, run.name, run_shown(run.id, run.state, run.ended_at) AS state, run.due_at, run.last_due_at, run.started_at, run.ended_at, run.people, run.parts, ${SPENT_PARTS} AS spent_parts, ${SPENT_MICRO} AS spent_micro, run.note, run.purpose,
  broadcast.labels, account.name AS by, sender.name AS sender, run.words,
  (SELECT coalesce(jsonb_object_agg(state, people), '{}') FROM run_tally WHERE run_id = run.id AND people > 0) AS tally,
  coalesce(f.answers, 0) AS answers, coalesce(f.opted_out, 0) AS opted_out, coalesce(f.clicked, 0) AS clicked, coalesce(f.linked, 0) AS linked`;

type Which = Omit<OutcomesQuery, 'skip'>;

/** Which runs, as SQL; days are those of the zone. */
function whereOf(which: Which, zone: string, binder: Binder): string {
  const parts = [BEGUN];
  const day = (date: string) => binder.bind(iso(localInstant(date, '00:00', zone).instant), 'timestamptz');
  if (which.from) parts.push(`run.due_at >= ${day(which.from)}`);
  if (which.to) parts.push(`run.due_at < ${day(addDays(which.to, 1))}`);
  if (which.label) parts.push(`broadcast.labels @> to_jsonb(${binder.bind(which.label, 'text')})`);
  if (which.sender !== undefined) parts.push(`run.sender_id = ${binder.bind(which.sender, 'bigint')}`);
  if (which.account !== undefined) parts.push(`run.account_id = ${binder.bind(which.account, 'bigint')}`);
  if (which.list !== undefined)
    parts.push(
      `broadcast.draft->'to' @> jsonb_build_array(jsonb_build_object('kind', 'list', 'id', ${binder.bind(which.list, 'bigint')}))`,
    );
  const search = which.search?.trim();
  if (search) {
    const words = binder.bind(`%${search.replace(/[\\%_]/g, '\\$&')}%`, 'text');
    parts.push(`(run.name ILIKE ${words} OR run.words ILIKE ${words})`);
  }
  return parts.join(' AND ');
}

export async function listOutcomes(
  db: Queryable,
  { skip = 0, ...which }: OutcomesQuery,
  zone: string,
): Promise<{ runs: OutcomeRow[]; total: number; usual: Usual }> {
  const binder = new Binder();
  const where = whereOf(which, zone, binder);
  // before the page is bound: the others know nothing of where it begins
  const params = [...binder.params];
  const usual = usualIn(where);
  const shown = `WHERE ${where} ORDER BY run.due_at DESC, run.id DESC LIMIT ${PAGE} OFFSET ${binder.bind(skip, 'int')}`;
  const { rows: looked } = await db.query<{ id: number }>(
    `(SELECT run.id ${FROM} ${shown}) UNION (SELECT run.id ${FROM} ${usual})`,
    binder.params,
  );
  await countFigures(
    db,
    looked.map(({ id }) => id),
  );
  const page = await db.query<OutcomeRow>(`SELECT ${ROW} ${FROM} ${shown}`, binder.params);
  const counted = await db.query<{ n: number }>(`SELECT count(*) AS n ${FROM} WHERE ${where}`, params);
  const before = await db.query<OutcomeRow>(`SELECT ${ROW} ${FROM} ${usual}`, params);
  return { runs: page.rows, total: counted.rows[0].n, usual: usualOf(before.rows) };
}

const usualIn = (where: string) =>
  `WHERE ${where} AND run.people >= ${LEAST_PEOPLE} AND run.ended_at IS NOT NULL ORDER BY run.due_at DESC, run.id DESC LIMIT ${USUAL_OF}`;

/** What is usual of every run. */
export async function usualOfAll(db: Queryable): Promise<Usual> {
  const usual = usualIn(BEGUN);
  const { rows } = await db.query<{ id: number }>(`SELECT run.id ${FROM} ${usual}`);
  await countFigures(
    db,
    rows.map(({ id }) => id),
  );
  return usualOf((await db.query<OutcomeRow>(`SELECT ${ROW} ${FROM} ${usual}`)).rows);
}

/** The middle of the shares of runs. */
function usualOf(runs: readonly OutcomeRow[]): Usual {
  const middle = (share: (run: OutcomeRow) => number | undefined): number | null => {
    const all = runs.flatMap((run) => share(run) ?? []).sort((a, b) => a - b);
    return all.length < LEAST_RUNS ? null : (all[(all.length - 1) >> 1] + all[all.length >> 1]) / 2;
  };
  const ofDelivered = (n: (run: OutcomeRow) => number) => (run: OutcomeRow) =>
    run.tally.delivered > 0 ? n(run) / run.tally.delivered : undefined;
  return {
    runs: runs.length,
    delivered: middle((run) => (run.tally.delivered ?? 0) / run.people),
    answers: middle(ofDelivered((run) => run.answers)),
    clicked: middle((run) => (run.linked > 0 ? ofDelivered(({ clicked }) => clicked)(run) : undefined)),
    opted_out: middle(ofDelivered((run) => run.opted_out)),
  };
}

/** Runs by id, in the order asked; those that there are none of are left out. */
export async function outcomesOf(db: Queryable, ids: readonly number[]): Promise<OutcomeRow[]> {
  await countFigures(db, ids);
  const { rows } = await db.query<OutcomeRow>(`SELECT ${ROW} ${FROM} WHERE run.id = ANY ($1::bigint[])`, [ids]);
  return ids.flatMap((id) => rows.find((row) => row.id === id) ?? []);
}

/** Every run of the outcomes, in pages. */
export async function* streamOutcomes(db: Db, which: Which, zone: string): AsyncIterable<OutcomeRow[]> {
  const binder = new Binder();
  const where = whereOf(which, zone, binder);
  const { rows } = await db.query<{ id: number }>(`SELECT run.id ${FROM} WHERE ${where}`, binder.params);
  for (let from = 0; from < rows.length; from += PAGE * 10)
    await countFigures(
      db,
      rows.slice(from, from + PAGE * 10).map(({ id }) => id),
    );
  yield* db.stream<OutcomeRow>(`SELECT ${ROW} ${FROM} WHERE ${where} ORDER BY run.due_at DESC, run.id DESC`, binder.params, 500);
}

/** Every run of the outcomes in what is counted over many. */
export async function figuresOf(db: Queryable, which: Which, zone: string): Promise<RunFigures[]> {
  const binder = new Binder();
  const where = whereOf(which, zone, binder);
  const { rows: ids } = await db.query<{ id: number }>(`SELECT run.id ${FROM} WHERE ${where}`, binder.params);
  await countFigures(
    db,
    ids.map(({ id }) => id),
  );
  const { rows } = await db.query<Omit<RunFigures, 'at'> & { at: string }>(
    `SELECT coalesce(run.started_at, run.due_at) AS at, coalesce(t.delivered, 0) AS delivered, ${SPENT_MICRO} AS spent_micro, coalesce(f.answers, 0) AS answers,
       coalesce(f.clicked, 0) AS clicked, coalesce(f.linked, 0) AS linked, coalesce(f.opted_out, 0) AS opted_out, sender.name AS sender, broadcast.labels
     ${FROM} LEFT JOIN (SELECT run_id, coalesce(sum(people) FILTER (WHERE state = 'delivered'), 0)::bigint AS delivered FROM run_tally GROUP BY run_id) AS t ON t.run_id = run.id
     WHERE ${where}`,
    binder.params,
  );
  return rows.map((row) => ({ ...row, at: Date.parse(row.at) }));
}

/** What there is to narrow by. */
export async function whichOutcomes(db: Queryable) {
  const named = async (sql: string) => (await db.query<{ id: number; name: string }>(sql)).rows;
  const labels = await db.query<{ label: string }>(
    `SELECT DISTINCT label FROM broadcast, jsonb_array_elements_text(labels) AS label WHERE EXISTS (SELECT 1 FROM run WHERE run.broadcast_id = broadcast.id) ORDER BY label`,
  );
  return {
    labels: labels.rows.map(({ label }) => label),
    senders: await named(
      `SELECT id, name FROM sender WHERE EXISTS (SELECT 1 FROM run WHERE run.sender_id = sender.id) ORDER BY name, id`,
    ),
    accounts: await named(
      `SELECT id, name FROM account WHERE EXISTS (SELECT 1 FROM run WHERE run.account_id = account.id) ORDER BY name, id`,
    ),
    lists: await named(
      `SELECT list.id, list.name FROM list WHERE EXISTS (
         SELECT 1 FROM broadcast WHERE broadcast.draft->'to' @> jsonb_build_array(jsonb_build_object('kind', 'list', 'id', list.id)) AND EXISTS (SELECT 1 FROM run WHERE run.broadcast_id = broadcast.id))
       ORDER BY list.name, list.id`,
    ),
  };
}

import { customAlphabet } from 'nanoid';
import { iso, type Clock } from '../../core/clock';
import type { Draft } from '../../core/plan/draft';
import { TAKEBACK_SECONDS } from '../../core/plan/when';
import { LINK_TOKEN } from '../../core/plan/links';
import type { Db, Param } from '../db/db';
import { isDuplicate } from '../db/db-error';
import { Pace } from '../db/pace';
import type { Bus } from '../engine/bus';
import { balanceMicro } from '../engine/money';
import { callOff, dismantle } from '../engine/sweep';
import { nothingHere, Problem } from '../http/problem';
import { writeRecord } from '../db/record';
import type { OpenedPlan, PlanRow } from './plan-desk';
import type { Plans } from './plan-thread';

/** 31 characters without look-alikes, all in the plain alphabet: 12 of them are 59.4 bits. */
const newLinkToken = customAlphabet('23456789abcdefghjkmnpqrstuvwxyz', LINK_TOKEN);
/** A row of the queue holds texts that are due within so long, and not too many of them. */
const ROW_SPAN = 10_000;
const ROW_TEXTS = 400;

export interface Pressing {
  broadcastId: number;
  version: number;
  digest: string;
  /** Made by the browser for this press: the same press twice is one run. */
  pressId: string;
}

export interface Presser {
  db: Db;
  bus: Bus;
  plans: Plans;
  clock: Pick<Clock, 'now'>;
  /** Of the line's owner that writes the plan: when it dies, the press is undone by whoever comes next. */
  epoch: number;
}

/** The answer to a press: the run is being planned. It has not started, and can be called off. */
export interface Pressed {
  run_id: number;
  /** Resolves when every text is stored (or nothing is, since it was called off); never rejects. */
  stored: Promise<'stored' | 'called off' | 'failed'>;
}

/**
 * The irreversible act. Takes the plan that was shown (made anew if anything it was made from has moved), compares it by its
 * digest, holds the money, and stores each text with its exact words. If the world has moved, nothing goes and the answer says
 * what differs. The seconds to take it back begin when everything is stored.
 */
export async function press(
  app: Presser,
  pressing: Pressing,
  asked: { account: { id: number; role: string } | undefined; at: string; now: number },
): Promise<Pressed> {
  const before = await earlierPress(app.db, pressing);
  if (before !== undefined) return { run_id: before, stored: Promise.resolve('stored') };
  const broadcast = (
    await app.db.query<{ name: string; state: string; draft: Draft; version: number }>(
      `SELECT name, state, draft, version FROM broadcast WHERE id = $1`,
      [pressing.broadcastId],
    )
  ).rows[0];
  if (!broadcast) throw nothingHere();
  if (broadcast.state !== 'draft' && broadcast.state !== 'set_aside')
    throw new Problem(409, 'not-a-draft', `This broadcast is already ${broadcast.state}.`);
  if (broadcast.version !== pressing.version)
    throw new Problem(409, 'changed', 'The draft has been changed since your last look. Nothing was sent.', {
      act: 'Look again.',
    });
  if (broadcast.draft.urgent !== undefined && asked.account?.role !== 'manage')
    throw new Problem(403, 'urgent', 'An urgent notice that goes at any hour needs someone who manages. Nothing was sent.', {
      act: 'Ask someone who manages to send it, or let quiet hours hold it.',
    });
  const plan = await app.plans.open(broadcast.draft, pressing.digest, asked.now);
  try {
    agree(plan, pressing);
    const begun = await begin(app, pressing, broadcast.name, broadcast.draft, plan, asked);
    if (begun.already) {
      await app.plans.close(plan.token);
      return { run_id: begun.id, stored: Promise.resolve('stored') };
    }
    app.bus.changed('runs');
    app.bus.changed('balance');
    return { run_id: begun.id, stored: storeAll(app, begun.id, plan, broadcast.draft, asked) };
  } catch (error) {
    await app.plans.close(plan.token);
    throw error;
  }
}

function agree(plan: OpenedPlan, pressing: Pressing): void {
  const [wrong] = plan.summary.must_fix;
  if (wrong)
    throw new Problem(422, 'not-ready', wrong.message, {
      place: wrong.place,
      kept: 'The draft is kept. Nothing was sent.',
      must_fix: plan.summary.must_fix,
    });
  if (plan.digest !== pressing.digest)
    throw new Problem(409, 'moved', 'Something has changed since your last look. Nothing was sent.', {
      act: 'Look again.',
      plan: plan.summary,
    });
  if (plan.moreWait > 0)
    throw new Problem(
      409,
      'moved',
      `Since your last look it has become later: ${plan.moreWait.toLocaleString('en-US')} more people would get it only after quiet hours. Nothing was sent.`,
      { act: 'Look again.', plan: plan.summary },
    );
}

/** The run of an earlier press with this id; it belongs to one broadcast and one digest. */
async function earlierPress(db: Pick<Db, 'query'>, pressing: Pressing): Promise<number | undefined> {
  const { rows } = await db.query<{ id: number; broadcast_id: number; digest: string }>(
    `SELECT id, broadcast_id, digest FROM run WHERE press_id = $1`,
    [pressing.pressId],
  );
  if (rows.length === 0) return undefined;
  if (rows[0].broadcast_id !== pressing.broadcastId || rows[0].digest !== pressing.digest)
    throw new Problem(409, 'other-press', 'This press was already used for something else. Nothing was sent.', {
      act: 'Look again and press anew.',
    });
  return rows[0].id;
}

async function begin(
  app: Presser,
  pressing: Pressing,
  name: string,
  draft: Draft,
  plan: OpenedPlan,
  asked: { account: { id: number } | undefined; at: string },
): Promise<{ id: number; already: boolean }> {
  const { summary } = plan;
  try {
    const id = await app.db.transaction(async (tx) => {
      await tx.query(`SELECT id FROM workspace FOR UPDATE`); // one at a time: two presses must not spend the same money
      const again = await earlierPress(tx, pressing);
      if (again !== undefined) return { id: again, already: true };
      const balance = await balanceMicro(tx);
      if (balance < summary.cost_micro)
        throw new Problem(402, 'balance', 'The balance does not cover it any more. Nothing was sent.', {
          kept: 'The draft is kept.',
        });
      const taken = await tx.query(
        `UPDATE broadcast SET state = 'scheduled', updated_at = $3::timestamptz WHERE id = $1 AND version = $2 AND state IN ('draft', 'set_aside')`,
        [pressing.broadcastId, pressing.version, asked.at],
      );
      if (taken.rowCount === 0) throw new Problem(409, 'changed', 'Someone else has just changed or sent this broadcast.', {});
      const { rows } = await tx.query<{ id: number }>(
        `INSERT INTO run (broadcast_id, state, press_id, digest, plan, name, sender_id, purpose, people, parts, cost_micro, takeback_until, due_at, last_due_at, not_after, pressed_at, account_id, busy, allowed, urgent, planned_by)
         VALUES ($1, 'planning', $2, $3, $4::jsonb, $5, $6, $7, $8, $9, $10, $11::timestamptz, $12::timestamptz, $13::timestamptz, $14::timestamptz, $11::timestamptz, $15, $16::jsonb, $17::jsonb, $18, $19) RETURNING id`,
        [
          pressing.broadcastId,
          pressing.pressId,
          plan.digest,
          JSON.stringify({ ...summary, words: draft.words, translations: draft.translations ?? {} }),
          name,
          summary.sender?.id ?? null,
          draft.purpose,
          summary.people,
          summary.parts,
          summary.cost_micro,
          asked.at,
          summary.first,
          summary.last,
          summary.not_after,
          asked.account?.id ?? null,
          JSON.stringify(plan.busy),
          draft.allowed ? JSON.stringify(draft.allowed) : null,
          draft.urgent ?? null,
          String(app.epoch),
        ],
      );
      await tx.query(
        `INSERT INTO balance_entry (at, kind, amount_micro, run_id, note) VALUES ($1::timestamptz, 'hold', $2, $3, $4)`,
        [asked.at, -summary.cost_micro, rows[0].id, name],
      );
      await writeRecord(tx, asked, draft.urgent ? `agreed to send at any hour: ${draft.urgent}` : 'agreed to send', name, {
        run: rows[0].id,
        people: summary.people,
        parts: summary.parts,
      });
      return { id: rows[0].id, already: false };
    });
    return id;
  } catch (error) {
    if (!isDuplicate(error)) throw error;
    const again = await earlierPress(app.db, pressing);
    if (again === undefined) throw error;
    return { id: again, already: true };
  }
}

/** Stores everything; whatever ends it early gives the hold back and makes the broadcast a draft again. */
async function storeAll(
  app: Presser,
  runId: number,
  plan: OpenedPlan,
  draft: Draft,
  asked: { account: { id: number } | undefined },
): Promise<'stored' | 'called off' | 'failed'> {
  try {
    if (!(await store(app, runId, plan)) || !(await ready(app, runId, draft, asked))) {
      await dismantle(app.db, runId);
      return 'called off';
    }
    return 'stored';
  } catch (error) {
    const at = iso(app.clock.now());
    try {
      await callOff(app.db, runId, 'draft', at);
      await dismantle(app.db, runId);
      await writeRecord(app.db, { ...asked, at }, 'a press could not be stored and was undone', String(error));
    } catch {
      // the scheduler clears away what is called off, and the next start what has no owner
    }
    return 'failed';
  } finally {
    await app.plans.close(plan.token).catch(() => undefined);
    app.bus.changed('runs');
    app.bus.changed('run', runId);
    app.bus.changed('balance');
  }
}

/** Everything is stored: now the seconds to take it back begin. False when it was called off at the last moment. */
async function ready(
  app: Presser,
  runId: number,
  draft: Draft,
  asked: { account: { id: number } | undefined },
): Promise<boolean> {
  const now = app.clock.now();
  const takeback = iso(now + TAKEBACK_SECONDS * 1000);
  return app.db.transaction(async (tx) => {
    const { rowCount } = await tx.query(
      `UPDATE run SET state = 'waiting', takeback_until = $2::timestamptz, due_at = CASE WHEN $3::boolean THEN greatest(due_at, $2::timestamptz) ELSE due_at END
       WHERE id = $1 AND state = 'planning'`,
      [runId, takeback, draft.when.kind === 'now'],
    );
    if (rowCount === 0) return false;
    await tx.query(`INSERT INTO run_event (run_id, at, what, account_id) VALUES ($1, $2::timestamptz, 'agreed', $3)`, [
      runId,
      iso(now),
      asked.account?.id ?? null,
    ]);
    return true;
  });
}

/** Every text with its exact words, in chunks, so that other requests slip between. False when it was called off. */
async function store(app: Presser, runId: number, plan: OpenedPlan): Promise<boolean> {
  const bulk = app.db.lane('bulk');
  const pace = new Pace(app.db, 200, 6000);
  let from = 0;
  let told = 0;
  while (from < plan.count) {
    const going = await pace.take(async (most) => {
      const rows = await app.plans.rows(plan.token, from, most);
      const kept = await bulk.transaction(async (tx) => {
        const planning = await tx.query(`UPDATE run SET stored = $2 WHERE id = $1 AND state = 'planning'`, [
          runId,
          from + rows.length,
        ]);
        if (planning.rowCount === 0) return false;
        const ids = await reserve(tx, 'outbound_id_seq', rows.length);
        const queue = queueRows(rows, ids);
        const queueIds = await reserve(tx, 'line_queue_id_seq', queue.length);
        const made = rowsOf(rows, { runId, ids, queueIds, queue, plan });
        await tx.copyIn('outbound', OUTBOUND, [made.texts]);
        if (made.links.length > 0) await tx.copyIn('link', LINK, [made.links]);
        await tx.copyIn(
          'line_queue',
          ['id', 'run_id', 'sender_id', 'lane', 'due_at', 'parts', 'ids'],
          [queue.map((row, i) => [queueIds[i], runId, plan.summary.sender?.id, 2, iso(row.due), row.parts, row.ids])],
        );
        return true;
      });
      from += rows.length;
      return kept;
    });
    if (!going) return false;
    if (from - told > 5000) {
      told = from;
      app.bus.changed('run', runId);
    }
  }
  if (app.db.engine === 'embedded' && plan.count > 5000) await bulk.exec('ANALYZE outbound');
  return true;
}

/** Ids of our own for so many rows, as one piece of text: a row for each would cost more than the numbers. */
async function reserve(
  tx: Pick<Db, 'query'>,
  sequence: 'outbound_id_seq' | 'line_queue_id_seq',
  count: number,
): Promise<number[]> {
  const { rows } = await tx.query<{ ids: string }>(
    `SELECT string_agg(nextval('${sequence}')::text, ',') AS ids FROM generate_series(1, $1::int)`,
    [count],
  );
  return rows[0].ids.split(',').map(Number);
}

interface Cut {
  due: number;
  parts: number;
  ids: number[];
}

/** Texts by their due times, cut into rows of the queue. */
function queueRows(rows: readonly PlanRow[], ids: readonly number[]): Cut[] {
  const cuts: Cut[] = [];
  rows.forEach(([, , , , parts, , due], i) => {
    const last = cuts[cuts.length - 1];
    if (last && last.ids.length < ROW_TEXTS && due - last.due <= ROW_SPAN) {
      last.ids.push(ids[i]);
      last.parts += parts;
      last.due = Math.min(last.due, due);
    } else cuts.push({ due, parts, ids: [ids[i]] });
  });
  return cuts;
}

const OUTBOUND = [
  'id',
  'run_id',
  'kind',
  'person_id',
  'number',
  'sender_id',
  'body',
  'alphabet',
  'parts',
  'cost_micro',
  'due_at',
  'not_after',
  'open',
  'queue',
  'dependants',
] as const;

const LINK = ['token', 'run_id', 'outbound_id', 'number', 'address', 'name', 'expires_at'] as const;

function rowsOf(
  rows: readonly PlanRow[],
  of: {
    runId: number;
    ids: readonly number[];
    queueIds: readonly number[];
    queue: readonly Cut[];
    plan: OpenedPlan;
  },
): { texts: Param[][]; links: Param[][] } {
  const { plan } = of;
  const links: Param[][] = [];
  let cut = 0;
  let inCut = 0;
  const texts = rows.map(([person, number, words, extended, parts, cost, due, dependants], i): Param[] => {
    if (inCut >= of.queue[cut].ids.length) {
      cut += 1;
      inCut = 0;
    }
    inCut += 1;
    let body = words;
    for (const { name, address, days, dummy } of plan.links) {
      // the words of another language may do without it
      if (!body.includes(dummy)) continue;
      const token = newLinkToken();
      links.push([token, of.runId, of.ids[i], number, address, name, days === undefined ? null : iso(due + days * 86_400_000)]);
      body = body.replaceAll(dummy, dummy.slice(0, -LINK_TOKEN) + token);
    }
    return [
      of.ids[i],
      of.runId,
      'run',
      person,
      number,
      plan.summary.sender?.id,
      body,
      extended ? 'ucs2' : 'gsm7',
      parts,
      cost,
      iso(due),
      plan.summary.not_after,
      parts,
      of.queueIds[cut],
      dependants,
    ];
  });
  return { texts, links };
}

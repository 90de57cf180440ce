import { iso } from '../../../core/clock';
import type { Draft } from '../../../core/plan/draft/draft';
import { TAKEBACK_SECONDS } from '../../../core/plan/times/when';
import type { Db, Tx } from '../../db/db';
import { isDuplicate } from '../../db/db-error';
import { writeRecord } from '../../db/record';
import { BALANCE_LOCK, balanceMicro, callOff, dismantle } from '../../engine/for-others';
import { holdCodes, holderOf, reserveCodes, returnSpareCodes } from '../../codes/for-others';
import { Refusal } from '../../../core/api/refusal';
import type { OpenedPlan } from '../planning/plan-desk';
import type { Presser } from './presser';
import { noteBesideOthers } from '../run/run-notes';
import { storeTexts } from './store-run';

/** What brings a run about. */
export type Origin =
  | { kind: 'press' }
  | { kind: 'repeat'; date: string }
  | { kind: 'import'; id: number }
  /** The run that was agreed to, once more. */
  | { kind: 'current'; instead: number };

/** A run as it begins: of a press, or planned by the server. */
export interface Beginning {
  broadcastId: number;
  /** There is one run of each. */
  pressId: string;
  name: string;
  draft: Draft;
  plan: OpenedPlan;
  asked: { account: { id: number } | undefined; at: string };
  /** For the record: "agreed to send". */
  what: string;
  origin: Origin;
  /** Why it waits for a person. */
  asks?: string;
  /** Held already for what this takes the place of, micro. */
  credit?: number;
  /** Takes the broadcast, in the same transaction; what it throws undoes everything. */
  claim(tx: Tx, runId: number): Promise<void>;
  /** When everything is stored, before it may start; false calls it off. */
  ready?(tx: Tx, runId: number): Promise<boolean>;
}

/** Compares and takes in one transaction: money is held, the broadcast is taken, and the run is there, being planned. */
export async function beginRun(app: Presser, beginning: Beginning): Promise<{ id: number; already: boolean }> {
  const { plan, draft, asked, origin } = beginning;
  const { summary } = plan;
  try {
    return await app.db.transaction(async (tx) => {
      await tx.query(BALANCE_LOCK); // one at a time: two presses must not spend the same money
      const again = await runOfPress(tx, beginning.pressId);
      if (again !== undefined) return { id: again, already: true };
      if ((await balanceMicro(tx)) + (beginning.credit ?? 0) < summary.cost_micro)
        throw new Refusal('not paid for', 'balance', 'The balance does not cover it any more. Nothing was sent.', {
          kept: 'The draft is kept.',
        });
      const { rows } = await tx.query<{ id: number }>(
        `INSERT INTO run (broadcast_id, state, press_id, digest, plan, name, sender_id, purpose, people, parts, cost_micro, takeback_until, due_at, last_due_at, not_after, pressed_at, account_id, busy, allowed, urgent, planned_by, origin, on_date, import_id, asks, reply_days)
         VALUES ($1, 'planning', $2, $3, $4::jsonb, $5, $6, $7, $8, $9, $10, $11::timestamptz, $12::timestamptz, $13::timestamptz, $14::timestamptz, $11::timestamptz, $15, $16::jsonb, $17::jsonb, $18, $19, $20, $21::date, $22, $23, $24) RETURNING id`,
        [
          beginning.broadcastId,
          beginning.pressId,
          plan.digest,
          JSON.stringify({ ...summary, words: draft.words, translations: draft.translations ?? {} }),
          beginning.name,
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
          origin.kind,
          origin.kind === 'repeat' ? origin.date : null,
          origin.kind === 'import' ? origin.id : null,
          beginning.asks ?? null,
          summary.sender?.reply_days ?? null,
        ],
      );
      await beginning.claim(tx, rows[0].id);
      if (summary.codes) await hold(tx, rows[0].id, beginning);
      await tx.query(
        `INSERT INTO balance_entry (at, kind, amount_micro, run_id, note) VALUES ($1::timestamptz, 'hold', $2, $3, $4)`,
        [asked.at, -summary.cost_micro, rows[0].id, beginning.name],
      );
      await writeRecord(tx, asked, beginning.what, beginning.name, {
        run: rows[0].id,
        people: summary.people,
        parts: summary.parts,
      });
      return { id: rows[0].id, already: false };
    });
  } catch (error) {
    if (!isDuplicate(error)) throw error;
    const again = await runOfPress(app.db, beginning.pressId);
    if (again === undefined) throw error;
    return { id: again, already: true };
  }
}

/** The codes that are reserved are the run's from now on, or nothing begins. */
async function hold(tx: Tx, run: number, { plan, draft, broadcastId, asked }: Beginning): Promise<void> {
  const { codes } = plan.summary;
  const list = draft.code_list_id ?? null;
  if (!codes || list === null) return;
  const held = { list, holder: holderOf(broadcastId), run, count: codes.needed, now: Date.parse(asked.at) };
  if (!codes.exact || !(await holdCodes(tx, held)))
    throw new Refusal('clash', 'moved', 'The codes that were reserved are free again. Nothing was sent.', { act: 'Look again.' });
}

/** A plan in which every recipient's code is known: where it gives any, they are reserved. For runs that nobody looks at. */
export async function openWithCodes(app: Presser, draft: Draft, broadcast: number, credit = 0): Promise<OpenedPlan> {
  const now = app.clock.now();
  const holder = holderOf(broadcast);
  const plan = await app.plans.open(draft, '', now, holder, credit);
  const { codes } = plan.summary;
  const list = draft.code_list_id ?? null;
  if (!codes || codes.exact || list === null || codes.free < codes.needed) return plan;
  await app.plans.close(plan.token);
  await reserveCodes(app.db, list, holder, codes.needed, now);
  return app.plans.open(draft, '', now, holder, credit);
}

async function runOfPress(db: Pick<Db, 'query'>, pressId: string): Promise<number | undefined> {
  return (await db.query<{ id: number }>(`SELECT id FROM run WHERE press_id = $1`, [pressId])).rows[0]?.id;
}

/** Stores everything; whatever ends it early gives the hold back and makes the broadcast what it was before. */
export async function storeRun(app: Presser, runId: number, beginning: Beginning): Promise<'stored' | 'called off' | 'failed'> {
  const { plan, asked } = beginning;
  try {
    if (!(await storeTexts(app, runId, plan)) || !(await ready(app, runId, beginning))) {
      await undo(app, runId);
      return 'called off';
    }
    return 'stored';
  } catch (error) {
    const at = iso(app.clock.now());
    try {
      await undo(app, runId);
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

async function undo(app: Presser, runId: number): Promise<void> {
  await callOff(app.db, runId, 'undone', iso(app.clock.now()));
  await dismantle(app.db, runId);
}

/** Everything is stored: now the seconds to take it back begin. False when it was called off at the last moment. */
async function ready(app: Presser, runId: number, beginning: Beginning): Promise<boolean> {
  const { draft, asked, origin } = beginning;
  const now = app.clock.now();
  const takeback = iso(now + TAKEBACK_SECONDS * 1000);
  return app.db.transaction(async (tx) => {
    const { rowCount } = await tx.query(
      `UPDATE run SET state = 'waiting', takeback_until = $2::timestamptz, due_at = CASE WHEN $3::boolean THEN greatest(due_at, $2::timestamptz) ELSE due_at END
       WHERE id = $1 AND state = 'planning'`,
      [runId, takeback, draft.when.kind !== 'at'],
    );
    if (rowCount === 0) return false;
    if (beginning.plan.summary.codes) await returnSpareCodes(tx, runId);
    if (beginning.ready && !(await beginning.ready(tx, runId))) return false;
    await tx.query(`INSERT INTO run_event (run_id, at, what, account_id) VALUES ($1, $2::timestamptz, $3, $4)`, [
      runId,
      iso(now),
      origin.kind === 'press' ? 'agreed' : 'planned anew',
      origin.kind === 'press' ? (asked.account?.id ?? null) : null,
    ]);
    await noteBesideOthers(tx, { id: runId, name: beginning.name, draft }, { account: asked.account, at: iso(now) });
    return true;
  });
}

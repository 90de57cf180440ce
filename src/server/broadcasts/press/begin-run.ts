import type { Draft } from '../../../core/plan/draft/draft';
import type { RunOrigin } from '../../../core/runs/life';
import type { Db, Tx } from '../../db/db';
import { isDuplicate, isPassing } from '../../db/db-error';
import { writeRecord } from '../../db/record';
import { wantLeased, type LeasedJob } from '../../desk/job-queries';
import { BALANCE_LOCK, balanceMicro } from '../../engine/for-others';
import { holdCodes, holderOf, reserveCodes } from '../../codes/for-others';
import { Refusal } from '../../../core/api/refusal';
import type { OpenedPlan } from '../planning/plan-desk';
import { keepOfPlan } from './kept-of-plan';
import { refuseOver } from './press-over';
import type { Presser, Stored } from './presser';

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
}

/** A run that was begun; `already` is that of the same press, which was begun before. */
export type Begun = { id: number; already: true } | { id: number; already: false; stored: Promise<Stored> };

/**
 * Compares and takes in one transaction: money is held, the broadcast is taken, the run is there, and so is the job that stores it, leased
 * to this process, which has the plan. Where the commit was not heard of, it is looked for by the press's id.
 */
export async function beginRun(app: Presser, beginning: Beginning): Promise<Begun> {
  const { id, job } = await beginOrFind(app, beginning);
  if (!job) return { id, already: true };
  const stored = app.storing.begin(id, beginning.plan);
  app.bus.changed('runs');
  app.bus.changed('balance');
  app.give(job);
  return { id, already: false, stored };
}

async function beginOrFind(app: Presser, beginning: Beginning): Promise<{ id: number; job?: LeasedJob }> {
  let written: { id: number; job: LeasedJob } | undefined;
  try {
    return await app.db.transaction(async (tx) => {
      await tx.query(BALANCE_LOCK); // one at a time: two presses must not spend the same money
      const again = await runOfPress(tx, beginning.pressId);
      if (again !== undefined) return { id: again };
      await refuseOver(tx, beginning.pressId);
      written = await write(tx, app, beginning);
      return written;
    });
  } catch (error) {
    if (isDuplicate(error)) {
      const again = await runOfPress(app.db, beginning.pressId);
      if (again !== undefined) return { id: again };
    }
    // it may have happened all the same: then it is this one
    if (written && isPassing(error) && (await runOfPress(app.db, beginning.pressId)) === written.id) return written;
    throw error;
  }
}

async function write(tx: Tx, app: Presser, beginning: Beginning): Promise<{ id: number; job: LeasedJob }> {
  const { plan, draft, asked, origin } = beginning;
  const { summary } = plan;
  if ((await balanceMicro(tx)) + (beginning.credit ?? 0) < summary.cost_micro)
    throw new Refusal('not paid for', 'balance', 'The balance does not cover it any more. Nothing was sent.', {
      kept: 'The draft is kept.',
    });
  const { rows } = await tx.query<{ id: number }>(
    `INSERT INTO run (broadcast_id, state, press_id, digest, words, name, sender_id, purpose, people, parts, cost_micro, takeback_until, due_at, last_due_at, not_after, pressed_at, account_id, busy, allowed, urgent, own, at_once, origin, on_date, import_id, instead, asks, reply_days, chosen, shown_first, course_from, course_step_seconds,
       course_texts, opts_out_after, has_copies, show_at_once)
     VALUES ($1, 'planning', $2, $3, $4, $5, $6, $7, $8, $9, $10, $11::timestamptz, $12::timestamptz, $13::timestamptz, $14::timestamptz, $11::timestamptz, $15, $16::jsonb, $17::jsonb, $18, $19, $20, $21, $22::date, $23, $24, $25, $26, $27, $28::timestamptz, $29::timestamptz, $30, $31::integer[], $32, $33, $34) RETURNING id`,
    [
      beginning.broadcastId,
      beginning.pressId,
      plan.digest,
      draft.words,
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
      draft.when.kind === 'at' && draft.when.own === true,
      draft.when.kind !== 'at',
      origin.kind satisfies RunOrigin,
      origin.kind === 'repeat' ? origin.date : null,
      origin.kind === 'import' ? origin.id : null,
      origin.kind === 'current' ? origin.instead : null,
      beginning.asks ?? null,
      summary.sender?.reply_days ?? null,
      summary.chosen,
      summary.first,
      summary.course?.from ?? null,
      summary.course?.step_seconds ?? null,
      summary.course?.all ?? null,
      summary.after !== null,
      summary.copies !== null,
      draft.show_at_once === true,
    ],
  );
  const [{ id }] = rows;
  await keepOfPlan(tx, id, summary, draft);
  await beginning.claim(tx, id);
  if (summary.codes) await hold(tx, id, beginning);
  await tx.query(
    `INSERT INTO balance_entry (at, kind, amount_micro, run_id, note) VALUES ($1::timestamptz, 'hold', $2, $3, $4)`,
    [asked.at, -summary.cost_micro, id, beginning.name],
  );
  await writeRecord(tx, asked, beginning.what, beginning.name, { run: id, people: summary.people, parts: summary.parts });
  return { id, job: await wantLeased(tx, 'store run', String(id), app.clock.now()) };
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
export async function openWithCodes(
  app: Presser,
  draft: Draft,
  broadcast: number,
  { credit = 0, lateBy }: { credit?: number; lateBy?: number } = {},
): Promise<OpenedPlan> {
  const now = app.clock.now();
  const holder = holderOf(broadcast);
  const plan = await app.plans.open(draft, '', now, holder, credit, lateBy);
  const { codes } = plan.summary;
  const list = draft.code_list_id ?? null;
  if (!codes || codes.exact || list === null || codes.free < codes.needed) return plan;
  await app.plans.close(plan.token);
  await reserveCodes(app.db, list, holder, codes.needed, now);
  return app.plans.open(draft, '', now, holder, credit, lateBy);
}

async function runOfPress(db: Pick<Db, 'query'>, pressId: string): Promise<number | undefined> {
  return (await db.query<{ id: number }>(`SELECT id FROM run WHERE press_id = $1`, [pressId])).rows[0]?.id;
}

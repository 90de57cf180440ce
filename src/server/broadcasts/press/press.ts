import type { Draft } from '../../../core/plan/draft/draft';
import { nextRun, upcomingAfter, upcomingOn, type Upcoming } from '../../../core/plan/times/upcoming';
import { iso } from '../../../core/clock';
import type { Db, Tx } from '../../db/db';
import { writeRecord } from '../../db/record';
import { holderOf } from '../../codes/for-others';
import { nothingHere, Refusal } from '../../../core/api/refusal';
import { workspaceOf } from '../../setup/for-others';
import { beginRun, storeRun, type Beginning } from './begin-run';
import type { Presser } from './presser';
import type { OpenedPlan } from '../planning/plan-desk';

export type { Presser };

export interface Pressing {
  broadcastId: number;
  version: number;
  digest: string;
  /** Made by the browser for this press: the same press twice is one run. */
  pressId: string;
}

interface Asked {
  account: { id: number; role: string } | undefined;
  at: string;
  now: number;
}

/** The answer to a press: the run is being planned. It has not started, and can be called off. */
export interface Pressed {
  /** Null where the first run is still to come: at the next import. */
  run_id: number | null;
  /** Resolves when every text is stored (or nothing is, since it was called off); never rejects. */
  stored: Promise<'stored' | 'called off' | 'failed'>;
}

/**
 * The irreversible act. Takes the plan that was shown (made anew if anything it was made from has moved), compares it by its
 * digest, holds the money, and stores each text with its exact words. If the world has moved, nothing goes and the answer says
 * what differs. The seconds to take it back begin when everything is stored.
 */
export async function press(app: Presser, pressing: Pressing, asked: Asked): Promise<Pressed> {
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
    throw new Refusal('clash', 'not-a-draft', `This broadcast is already ${broadcast.state}.`);
  if (broadcast.version !== pressing.version)
    throw new Refusal('clash', 'changed', 'The draft has been changed since your last look. Nothing was sent.', {
      act: 'Look again.',
    });
  if (broadcast.draft.urgent !== undefined && asked.account?.role !== 'manage')
    throw new Refusal(
      'not allowed',
      'urgent',
      'An urgent notice that goes at any hour needs someone who manages. Nothing was sent.',
      {
        act: 'Ask someone who manages to send it, or let quiet hours hold it.',
      },
    );
  const plan = await app.plans.open(broadcast.draft, pressing.digest, asked.now, holderOf(pressing.broadcastId));
  try {
    agree(plan, pressing);
    const { zone } = await workspaceOf(app.db);
    const draft = nextRun(broadcast.draft, asked.now, zone);
    const claim = (tx: Tx) => take(tx, pressing, asked, plan, comesNext(broadcast.draft, draft, zone));
    if (draft.when.kind === 'import') {
      await app.db.transaction(async (tx) => {
        await claim(tx);
        await writeRecord(tx, asked, 'agreed to send at each import', broadcast.name, { people: plan.summary.people });
      });
      await app.plans.close(plan.token);
      app.bus.changed('runs');
      return { run_id: null, stored: Promise.resolve('stored') };
    }
    const beginning: Beginning = {
      broadcastId: pressing.broadcastId,
      pressId: pressing.pressId,
      name: broadcast.name,
      draft,
      plan,
      asked,
      origin: { kind: 'press' },
      what: draft.urgent ? `agreed to send at any hour: ${draft.urgent}` : 'agreed to send',
      claim,
    };
    const begun = await beginRun(app, beginning);
    if (begun.already) {
      await app.plans.close(plan.token);
      return { run_id: (await earlierPress(app.db, pressing)) ?? begun.id, stored: Promise.resolve('stored') };
    }
    app.bus.changed('runs');
    app.bus.changed('balance');
    return { run_id: begun.id, stored: storeRun(app, begun.id, beginning) };
  } catch (error) {
    await app.plans.close(plan.token);
    throw error;
  }
}

function agree(plan: OpenedPlan, pressing: Pressing): void {
  const [wrong] = plan.summary.must_fix;
  if (wrong)
    throw new Refusal('wrong', 'not-ready', wrong.message, {
      place: wrong.place,
      kept: 'The draft is kept. Nothing was sent.',
      must_fix: plan.summary.must_fix,
    });
  if (plan.summary.codes && !plan.summary.codes.exact)
    throw new Refusal('clash', 'moved', 'The codes that were reserved at your last look are free again. Nothing was sent.', {
      act: 'Look again: they are reserved anew.',
      plan: plan.summary,
    });
  if (plan.digest !== pressing.digest)
    throw new Refusal('clash', 'moved', 'Something has changed since your last look. Nothing was sent.', {
      act: 'Look again.',
      plan: plan.summary,
    });
  if (plan.later > 0)
    throw new Refusal(
      'clash',
      'moved',
      `${plan.later.toLocaleString('en-US')} ${plan.later === 1 ? 'person' : 'people'} would get it later than your last look said. Nothing was sent.`,
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
    throw new Refusal('clash', 'other-press', 'This press was already used for something else. Nothing was sent.', {
      act: 'Look again and press anew.',
    });
  return rows[0].id;
}

/** What the server has to plan by itself after this run. */
interface Next {
  goesOn: boolean;
  upcoming?: Upcoming;
  /** The very run that was agreed to is planned once more, for whoever is there then. */
  anew?: number;
}

function comesNext(draft: Draft, run: Draft, zone: string): Next {
  if (draft.when.kind === 'import') return { goesOn: true };
  if (draft.when.kind !== 'at' || run.when.kind !== 'at') return { goesOn: false };
  if (draft.when.repeats) {
    const upcoming = upcomingAfter(draft.when, run.when.date, zone);
    return { goesOn: upcoming !== undefined, upcoming };
  }
  return { goesOn: false, anew: draft.when.current ? upcomingOn(draft.when, draft.when.date, zone).planAt : undefined };
}

/** The broadcast is scheduled from now on, with what comes after this run; someone who was quicker has it. */
async function take(tx: Tx, pressing: Pressing, asked: Asked, plan: OpenedPlan, next: Next): Promise<void> {
  const planAt = next.upcoming?.planAt ?? next.anew;
  const taken = await tx.query(
    `UPDATE broadcast SET state = 'scheduled', updated_at = $3::timestamptz, goes_on = $4, next_date = $5::date, next_at = $6::timestamptz,
       plan_at = $7::timestamptz, agreed = $8::jsonb, imports_since = $3::timestamptz
     WHERE id = $1 AND version = $2 AND state IN ('draft', 'set_aside')`,
    [
      pressing.broadcastId,
      pressing.version,
      asked.at,
      next.goesOn,
      next.upcoming?.date ?? null,
      next.upcoming ? iso(next.upcoming.at) : null,
      planAt === undefined ? null : iso(planAt),
      JSON.stringify({ people: plan.summary.people, cost_micro: plan.summary.cost_micro }),
    ],
  );
  if (taken.rowCount === 0) throw new Refusal('clash', 'changed', 'Someone else has just changed or sent this broadcast.', {});
}

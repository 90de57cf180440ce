import { calledOf } from '../../../core/plan/draft/called';
import type { RunState } from '../../../core/outcome/states';
import type { Draft } from '../../../core/plan/draft/draft';
import { nextRun, upcomingAfter, upcomingOn, type Upcoming } from '../../../core/plan/times/upcoming';
import { iso } from '../../../core/clock';
import type { Tx } from '../../db/db';
import { writeRecord } from '../../db/record';
import { holderOf } from '../../codes/for-others';
import { nothingHere, Refusal } from '../../../core/api/refusal';
import { workspaceOf } from '../../setup/for-others';
import { want } from '../../desk/job-queries';
import { BALANCE_LOCK } from '../../engine/for-others';
import { beginRun } from './begin-run';
import { over, refuseOver, type Over } from './press-over';
import type { Presser, Stored } from './presser';
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
  stored: Promise<Stored | 'being stored'>;
}

/**
 * The irreversible act. Takes the plan that was shown (made anew if anything it was made from has moved), compares it by its
 * digest, holds the money, and stores each text with its exact words. If the world has moved, nothing goes and the answer says
 * what differs. The seconds to take it back begin when everything is stored.
 */
export async function press(app: Presser, pressing: Pressing, asked: Asked): Promise<Pressed> {
  const before = await earlierPress(app, pressing);
  if (before) return before;
  try {
    return await pressOnce(app, pressing, asked);
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    // the same press may have come twice, and the other have been quicker: then it is wrong that nothing was sent
    const other = await refusedFor(app, pressing, asked);
    if (other) return other;
    throw error;
  }
}

async function pressOnce(app: Presser, pressing: Pressing, asked: Asked): Promise<Pressed> {
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
    const called = calledOf({ name: broadcast.name, words: broadcast.draft.words });
    const draft = nextRun(broadcast.draft, asked.now, zone);
    const claim = (tx: Tx) => take(tx, pressing, asked, plan, comesNext(broadcast.draft, draft, zone));
    if (draft.when.kind === 'import') {
      await app.db.transaction(async (tx) => {
        await refuseOver(tx, pressing.pressId);
        await claim(tx);
        await writeRecord(tx, asked, 'agreed to send at each import', called, { people: plan.summary.people });
      });
      await app.plans.close(plan.token);
      app.bus.changed('runs');
      return { run_id: null, stored: Promise.resolve('stored') };
    }
    const begun = await beginRun(app, {
      broadcastId: pressing.broadcastId,
      pressId: pressing.pressId,
      name: called,
      draft,
      plan,
      asked,
      origin: { kind: 'press' },
      what: draft.urgent ? `agreed to send at any hour: ${draft.urgent}` : 'agreed to send',
      claim,
    });
    if (!begun.already) return { run_id: begun.id, stored: begun.stored };
    await app.plans.close(plan.token);
    return (await earlierPress(app, pressing)) ?? { run_id: begun.id, stored: Promise.resolve('being stored') };
  } catch (error) {
    await app.plans.close(plan.token);
    throw error;
  }
}

/** From here on nothing comes of this press, also not of a twin of it that is still on its way; unless that has come already. */
async function refusedFor(app: Presser, pressing: Pressing, { at }: Asked): Promise<Pressed | undefined> {
  const came = await app.db.transaction(async (tx) => {
    await tx.query(BALANCE_LOCK);
    const came = await tx.query(
      `SELECT 1 FROM run WHERE press_id = $1 UNION ALL SELECT 1 FROM broadcast WHERE agreed_by_press = $1`,
      [pressing.pressId],
    );
    if (came.rowCount === 0)
      await tx.query(
        `INSERT INTO press_over (press_id, broadcast_id, how, at) VALUES ($1, $2, 'refused', $3::timestamptz) ON CONFLICT (press_id) DO NOTHING`,
        [pressing.pressId, pressing.broadcastId, at],
      );
    return came.rowCount > 0;
  });
  return came ? earlierPress(app, pressing) : undefined;
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

/** Of a broadcast that goes with each import: whether what was agreed to holds. */
const AGREED = `CASE WHEN state = 'scheduled' AND goes_on THEN 'agreed' ELSE 'called off' END`;

interface Earlier {
  id: number | null;
  broadcast_id: number;
  digest: string | null;
  state: RunState | null;
  how: Over | 'agreed' | null;
}

/**
 * What an earlier press with this id came to: it belongs to one broadcast and one digest, and makes no second run, also when the first is
 * gone. Undefined where there was none.
 */
async function earlierPress({ db, storing }: Presser, pressing: Pressing): Promise<Pressed | undefined> {
  const { rows } = await db.query<Earlier>(
    `SELECT id, broadcast_id, digest, state, NULL AS how FROM run WHERE press_id = $1
     UNION ALL SELECT NULL, broadcast_id, NULL, NULL, how FROM press_over WHERE press_id = $1
     UNION ALL SELECT NULL, id, NULL, state, ${AGREED} FROM broadcast WHERE agreed_by_press = $1 AND draft->'when'->>'kind' = 'import'`,
    [pressing.pressId],
  );
  const earlier = rows.at(0);
  if (!earlier) return undefined;
  if (earlier.broadcast_id !== pressing.broadcastId || (earlier.digest ?? pressing.digest) !== pressing.digest)
    throw new Refusal('clash', 'other-press', 'This press was already used for something else. Nothing was sent.', {
      act: 'Look again and press anew.',
    });
  if (earlier.how === 'agreed') return { run_id: null, stored: Promise.resolve('stored') };
  if (earlier.how !== null) throw over(earlier.how);
  const run = earlier.id ?? 0;
  return { run_id: run, stored: storing.endOf(run) ?? Promise.resolve(earlier.state === 'planning' ? 'being stored' : 'stored') };
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
       plan_at = $7::timestamptz, agreed = $8::jsonb, agreed_by_press = $9, put_back = NULL
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
      pressing.pressId,
    ],
  );
  if (taken.rowCount === 0) throw new Refusal('clash', 'changed', 'Someone else has just changed or sent this broadcast.', {});
  // imports that are done are nobody's reason to text: those that come are
  await tx.query(`DELETE FROM broadcast_import WHERE broadcast_id = $1`, [pressing.broadcastId]);
  await tx.query(
    `INSERT INTO broadcast_import SELECT broadcast.id, import.id FROM broadcast JOIN import ON (import.facts->>'list_id')::bigint = (draft->'when'->>'list_id')::bigint
     WHERE broadcast.id = $1 AND draft->'when'->>'kind' = 'import' AND import.state = 'done'`,
    [pressing.broadcastId],
  );
  if (planAt !== undefined || next.goesOn)
    await want(tx, [{ kind: 'plan next', key: String(pressing.broadcastId), due: planAt ?? asked.now }]);
}

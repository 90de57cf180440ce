import { iso } from '../../../core/clock';
import type { Draft } from '../../../core/plan/draft/draft';
import { nextRun, runOn } from '../../../core/plan/times/upcoming';
import { TAKEBACK_SECONDS } from '../../../core/plan/times/when';
import type { RunOrigin } from '../../../core/runs/life';
import type { RunState } from '../../../core/outcome/states';
import type { Db, Tx } from '../../db/db';
import { isPassing } from '../../db/db-error';
import { writeRecord } from '../../db/record';
import { Lost, type Work, type Working } from '../../desk/job-runner';
import { callOff, dropChangedMeanwhile, moveRun } from '../../engine/for-others';
import { holderOf, returnSpareCodes } from '../../codes/for-others';
import { workspaceOf } from '../../setup/for-others';
import type { OpenedPlan } from '../planning/plan-desk';
import { noteBesideOthers } from '../run/run-notes';
import type { Presser, Stored } from './presser';
import { storeCopies, storeTexts } from './store-run';

interface Row {
  id: number;
  broadcast_id: number;
  name: string;
  state: RunState;
  digest: string;
  stored: number;
  origin: RunOrigin;
  on_date: string | null;
  at_once: boolean;
  cost_micro: number;
  instead: number | null;
  account_id: number | null;
  pressed_at: string;
  draft: Draft;
}

/**
 * Stores what was pressed, text by text, and lets it wait for its time: the job of the kind `store run`, by run. Broken off, it goes on
 * where it was: with the plan that its process has, or with one made anew where that is the same; where it is not, the press is undone,
 * its hold returns, and its broadcast is what it was before.
 */
export function storeRunWork(app: Presser): Work {
  return async (working) => {
    const run = await rowOf(app.db, Number(working.job.key));
    const came = run?.state === 'planning' ? await store(app, run, working) : undefined;
    if (came === 'later') return { again: working.now() };
    const id = Number(working.job.key);
    const plan = app.storing.end(id, came ?? (run === undefined || run.state === 'stopped' ? 'called off' : 'stored'));
    if (plan) await app.plans.close(plan.token).catch(() => undefined);
    app.bus.changed('runs');
    app.bus.changed('run', id);
    app.bus.changed('balance');
    app.bus.changed('broadcasts');
    return undefined;
  };
}

async function store(app: Presser, run: Row, working: Working): Promise<Stored | 'later'> {
  try {
    const held = app.storing.planOf(run.id);
    const plan = held ?? (await openAnew(app, run));
    if (!plan) return await undo(run, working, 'the server stopped while it was stored, and its plan is another by now');
    try {
      const went = await storeTexts(app, run.id, plan, run.stored, working);
      if (went !== 'stored') return went === 'called off' ? 'called off' : 'later';
      return await working.inOne(async (tx) => ({ came: await ready(tx, run, plan, working.now()) })).then(({ came }) => came);
    } finally {
      if (!held) await app.plans.close(plan.token).catch(() => undefined);
    }
  } catch (error) {
    // what passes is tried again, with the plan that is kept; what lasts is undone at once
    if (error instanceof Lost || isPassing(error)) throw error;
    return undo(run, working, String(error));
  }
}

/** The plan that was agreed to, made once more; undefined where it is another. */
async function openAnew(app: Presser, run: Row): Promise<OpenedPlan | undefined> {
  const { zone, late_limit_minutes } = await workspaceOf(app.db);
  const lateBy = run.origin === 'repeat' ? late_limit_minutes * 60_000 : undefined;
  const draft = draftOf(run, zone);
  const plan = await app.plans.open(draft, run.digest, app.clock.now(), holderOf(run.broadcast_id), run.cost_micro, lateBy);
  if (plan.digest === run.digest) return plan;
  await app.plans.close(plan.token);
  return undefined;
}

/** The draft as a run of its origin goes. */
function draftOf({ draft, origin, on_date, at_once, pressed_at }: Row, zone: string): Draft {
  const { when } = draft;
  if (origin === 'press') return nextRun(draft, Date.parse(pressed_at), zone);
  if (origin === 'import' || when.kind !== 'at') return { ...draft, when: { kind: 'now' } };
  const at = { ...when, current: undefined };
  if (origin === 'current') return { ...draft, when: at };
  const once = runOn({ ...draft, when: { ...at, repeats: undefined } }, on_date ?? when.date);
  return at_once ? { ...once, when: { kind: 'now' } } : once;
}

/** Everything is stored: now the seconds to take it back begin. Not where it was called off at the last moment. */
async function ready(tx: Tx, run: Row, plan: OpenedPlan, now: number): Promise<Stored> {
  const takeback = now + TAKEBACK_SECONDS * 1000;
  const move = await moveRun(tx, run.id, { is: 'stored', takeback, atOnce: run.at_once }, now);
  if (move?.refused !== undefined || !move) return 'called off';
  // what it takes the place of has started or was taken back: that stands
  if (run.instead !== null && !(await callOff(tx, run.instead, 'skipped', now))) {
    await callOff(tx, run.id, 'undone', now);
    return 'called off';
  }
  await dropChangedMeanwhile(tx, run.id, run.pressed_at, now);
  if (plan.copies.length > 0) await storeCopies(tx, now, run.id, plan);
  if (plan.summary.codes) await returnSpareCodes(tx, run.id);
  const account = run.account_id === null ? undefined : { id: run.account_id };
  await tx.query(`INSERT INTO run_event (run_id, at, what, account_id) VALUES ($1, $2::timestamptz, $3, $4)`, [
    run.id,
    iso(now),
    run.origin === 'press' ? 'agreed' : 'planned anew',
    run.origin === 'press' ? run.account_id : null,
  ]);
  const { zone } = await workspaceOf(tx);
  await noteBesideOthers(tx, { id: run.id, name: run.name, draft: draftOf(run, zone) }, { account, at: iso(now) });
  return 'stored';
}

/** Gives the hold back and makes the broadcast what it was before, in the transaction in which the job ends. */
async function undo(run: Row, { inOne, now }: Working, why: string): Promise<Stored> {
  await inOne(async (tx) => {
    if (await callOff(tx, run.id, 'undone', now())) {
      const account = run.account_id === null ? undefined : { id: run.account_id };
      await writeRecord(tx, { account, at: iso(now()) }, 'a press could not be stored and was undone', why);
    }
    return {};
  });
  return 'failed';
}

async function rowOf(db: Db, id: number): Promise<Row | undefined> {
  const { rows } = await db.query<Row>(
    `SELECT run.id, broadcast_id, run.name, run.state, digest, stored, origin, on_date, at_once, cost_micro, instead, run.account_id, pressed_at, broadcast.draft
     FROM run JOIN broadcast ON broadcast.id = broadcast_id WHERE run.id = $1`,
    [id],
  );
  return rows.at(0);
}

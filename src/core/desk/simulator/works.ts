import { foundOut, askAt } from '../../line/look-up';
import { SETTLED } from '../../line/unanswered';
import { moveOf, type RunEvent } from '../../runs/life';
import { nextOf } from '../../runs/next';
import type { DeskStore } from './desk-store';
import { LATE, LEAD, Overtaken, TAKEBACK, type SimBegun, type SimBroadcast, type SimPlan } from './desk-tables';
import type { SimJob, SimKind } from './sim-jobs';

/** A transaction happens whole or not at all; whoever waits for it is told what it came to, or that its answer was lost. */
export type Step = () => unknown;
export type Steps<T> = Generator<Step, T, unknown>;
/** What a job came to, as the server's runner has it. */
export type WorkCame = 'in one' | { again: number } | undefined;

export class Lost extends Error {}
/** The database is away, or its answer was lost. */
export class Trouble extends Error {}

/** What of a process the works need. */
export interface Around {
  desk: DeskStore;
  now(): number;
  /** Plans that this process has in memory, by run. */
  plans: Map<number, SimPlan>;
  give(job: SimJob): void;
  poke(): void;
  /** Asks the carrier over this process's line; undefined where it has none. */
  ask(number: string, reference: number): string | 'never' | 'unknown' | undefined;
  resolve(found: ReturnType<typeof foundOut>): void;
}

/** One transaction, typed. */
function* tx<T>(step: () => T): Generator<Step, T, unknown> {
  return (yield step) as T;
}

/** One transaction of a job in which it also ends: nothing of it happens where the job is somebody else's by now. */
function* inOne<T>({ desk }: Around, job: SimJob, step: () => T): Steps<T> {
  return yield* tx(() => {
    if (!desk.jobs.mine(job)) throw new Lost();
    const came = step();
    desk.jobs.finish(job);
    return came;
  });
}

const startEvent: RunEvent = { is: 'time to start', lateLimit: LATE };
const PIECE = 2;

function* store(around: Around, job: SimJob): Steps<WorkCame> {
  const { desk } = around;
  const id = Number(job.key);
  const run = yield* tx(() => {
    const found = desk.runs.get(id);
    return found && { ...found };
  });
  if (!run || run.state !== 'planning') {
    around.plans.delete(id);
    return undefined;
  }
  let plan = around.plans.get(id);
  if (!plan) {
    // made anew, it is gone on with only where it is the same
    plan = yield* tx(() => desk.plan(desk.broadcast(run.broadcast)));
    if (plan.digest !== run.digest) {
      yield* inOne(around, job, () => desk.move(id, { is: 'call off', as: 'undone' }));
      return 'in one';
    }
  }
  for (let from = run.stored; from < run.people.length;) {
    const began = from;
    yield* tx(() => {
      if (!desk.jobs.holdOn(job, around.now())) throw new Lost();
    });
    const some = yield* tx(() => desk.storeSome(id, began, PIECE));
    if (some === 'lost') throw new Lost();
    if (some === 'called off') {
      around.plans.delete(id);
      return undefined;
    }
    from += some;
  }
  yield* inOne(around, job, () => {
    const move = desk.move(id, { is: 'stored', takeback: around.now() + TAKEBACK, atOnce: run.atOnce });
    if (!move || move.refused !== undefined) return;
    if (run.instead === null) return;
    const off = desk.move(run.instead, { is: 'call off', as: 'skipped' });
    if (!off || off.refused !== undefined) desk.move(id, { is: 'call off', as: 'undone' });
  });
  around.plans.delete(id);
  return 'in one';
}

function* start(around: Around, job: SimJob): Steps<WorkCame> {
  yield* inOne(around, job, () => around.desk.move(Number(job.key), startEvent));
  around.poke();
  return 'in one';
}

function* end(around: Around, job: SimJob): Steps<WorkCame> {
  const { desk } = around;
  const id = Number(job.key);
  const sweep = yield* tx(() => {
    const run = desk.runs.get(id);
    return run && (desk.rules.life ?? moveOf)(run, { is: 'time to end', open: desk.openOf(id) }, around.now()).sweep;
  });
  let after: number | undefined = sweep === undefined ? undefined : 0;
  while (after !== undefined) {
    const last: number = after;
    yield* tx(() => {
      if (!desk.jobs.holdOn(job, around.now())) throw new Lost();
    });
    after = yield* tx((): number | undefined => desk.sweepSome(id, sweep ?? '', last));
  }
  yield* inOne(around, job, () => desk.move(id, { is: 'time to end', open: desk.openOf(id) }));
  around.poke();
  return 'in one';
}

function* clear(around: Around, job: SimJob): Steps<WorkCame> {
  const { desk } = around;
  const id = Number(job.key);
  if (!(yield* tx(() => desk.runs.get(id)?.calledOff === true))) return undefined;
  while (yield* tx(() => desk.clearSome(id)));
  yield* inOne(around, job, () => desk.clearRun(id));
  return 'in one';
}

/** What the server plans by itself: of each date one run or a miss, of each import one run. */
function* planNext(around: Around, job: SimJob): Steps<WorkCame> {
  const { desk } = around;
  const id = Number(job.key);
  for (let overtaken = 0; overtaken < 4;) {
    const read = yield* tx(() => ({ ...desk.broadcast(id) }));
    const next = yield* tx(() => (desk.rules.next ?? nextOf)(desk.courseOf(desk.broadcast(id)), around.now(), LATE));
    if (next.do === 'nothing') return undefined;
    if (next.do === 'wait') return { again: next.until };
    try {
      if (next.do === 'miss') {
        const of = { pressId: `repeat-${id}-${read.version}-${next.date}`, date: next.date };
        yield* tx(() => desk.miss(read, of, () => takeDate(desk, read, next.date)));
      } else if (next.do === 'plan date')
        yield* planned(around, read, () => takeDate(desk, read, next.date, true), {
          pressId: `repeat-${id}-${read.version}-${next.date}`,
          origin: 'repeat',
          due: next.atOnce ? around.now() + TAKEBACK : (read.nextAt ?? 0),
          atOnce: next.atOnce,
          date: next.date,
          dateAt: read.nextAt,
          // now and then a run differs much from the one before
          asks: read.nextAt !== null && Math.floor(read.nextAt / 7) % 5 === 0 ? 'differs' : null,
        });
      else if (next.do === 'plan import')
        yield* planned(around, read, () => takeImport(desk, read, next.id), {
          pressId: `import-${id}-${read.version}-${next.id}`,
          origin: 'import',
          due: around.now() + TAKEBACK,
          atOnce: true,
          import: next.id,
          asks: null,
        });
      else yield* anew(around, read);
    } catch (error) {
      if (!(error instanceof Overtaken)) throw error;
      overtaken += 1;
    }
  }
  return { again: around.now() + 3000 };
}

function* planned(around: Around, read: SimBroadcast, claim: () => void, how: Parameters<DeskStore['begin']>[2]): Steps<void> {
  const { desk } = around;
  const plan = yield* tx(() => desk.plan(read));
  const begun = yield* tx(() => desk.begin(read.id, plan, how, claim));
  if (begun.how === 'refused') yield* tx(() => desk.miss(read, how, claim));
  else if (begun.how === 'already') yield* tx(claim);
  else begunHere(around, begun, plan);
}

/** The run that was agreed to, once more, for whoever is there now. */
function* anew(around: Around, read: SimBroadcast): Steps<void> {
  const { desk } = around;
  const old = yield* tx(() =>
    [...desk.runs.values()]
      .filter((run) => run.broadcast === read.id && run.state === 'waiting' && run.origin === 'press')
      .at(-1),
  );
  const clear = () => {
    const broadcast = desk.broadcast(read.id);
    if (!isAsRead(desk, read) || broadcast.planAt === null) throw new Overtaken();
    broadcast.planAt = null;
  };
  if (!old) {
    yield* tx(clear);
    return;
  }
  const plan = yield* tx(() => desk.plan(read));
  const how = {
    pressId: `current-${old.id}`,
    origin: 'current' as const,
    due: old.dueAt,
    atOnce: false,
    asks: null,
    instead: old.id,
  };
  const begun = yield* tx(() => desk.begin(read.id, plan, how, clear));
  if (begun.how === 'begun') begunHere(around, begun, plan);
  else yield* tx(clear);
}

export function begunHere(around: Around, begun: Extract<SimBegun, { how: 'begun' }>, plan: SimPlan): void {
  around.plans.set(begun.run, plan);
  around.give(begun.job);
}

const isAsRead = (desk: DeskStore, read: SimBroadcast) => {
  const broadcast = desk.broadcast(read.id);
  return broadcast.state === 'scheduled' && (desk.rules.plansOld || broadcast.version === read.version);
};

/** A date is taken once, and what comes next is due. */
export function takeDate(desk: DeskStore, read: SimBroadcast, date: string, inTime = false): void {
  const broadcast = desk.broadcast(read.id);
  if (!isAsRead(desk, read) || (broadcast.nextDate !== date && !desk.rules.datesTwice)) throw new Overtaken();
  if (inTime && desk.now() - (read.nextAt ?? 0) > LATE && !desk.rules.next) throw new Overtaken();
  const n = Number(date.slice(1)) + 1;
  const more = n < broadcast.times;
  const at = broadcast.at + n * broadcast.every;
  Object.assign(
    broadcast,
    more ? { nextDate: `d${n}`, nextAt: at, planAt: at - LEAD } : { nextDate: null, nextAt: null, planAt: null },
  );
  broadcast.goesOn = more;
  if (more) desk.jobs.want('plan next', broadcast.id, at - LEAD);
}

function takeImport(desk: DeskStore, read: SimBroadcast, id: number): void {
  const broadcast = desk.broadcast(read.id);
  const undone = desk.imports.some((each) => each.id === id && each.undoneAt !== null);
  if (!isAsRead(desk, read) || (broadcast.importsHad.has(id) && !desk.rules.importsTwice)) throw new Overtaken();
  if (undone && !desk.rules.undoneGoes) throw new Overtaken();
  broadcast.importsHad = new Set([...broadcast.importsHad, id]);
}

function* replies(around: Around): Steps<WorkCame> {
  const { desk } = around;
  for (;;) {
    const next = yield* tx(() => desk.inbound.find((each) => !each.applied));
    if (!next) return undefined;
    yield* tx(() => desk.act(next));
    around.poke();
  }
}

function* passOn(around: Around, job: SimJob): Steps<WorkCame> {
  yield* inOne(around, job, () => around.desk.passOn(Number(job.key)));
  around.poke();
  return 'in one';
}

/** Asks the carrier about every part whose answer was lost; only its own word moves one. */
function* lookUp(around: Around): Steps<WorkCame> {
  const { desk } = around;
  const parts = yield* tx(() => [...desk.line.parts.values()].map((part) => ({ ...part })));
  let again = false;
  for (const part of parts) {
    const at = (desk.rules.askAt ?? askAt)(part, around.now());
    if (at === undefined) continue;
    if (at > around.now()) {
      again = true;
      continue;
    }
    const answer = around.ask(part.number, part.reference);
    if (answer === undefined) return { again: around.now() + 60_000 };
    if (answer === 'unknown') return undefined;
    around.resolve(foundOut(part, answer === 'never' ? answer : { messageId: answer }, around.now()));
  }
  return again ? { again: around.now() + SETTLED } : undefined;
}

function* cleanLists(around: Around, job: SimJob): Steps<WorkCame> {
  yield* inOne(around, job, () => {
    const run = around.desk.runs.get(Number(job.key));
    if (run) run.cleaned = true;
  });
  return 'in one';
}

/** The work of every kind, in the order of transactions in which the server's does it. */
export const WORKS: Readonly<Record<SimKind, (around: Around, job: SimJob) => Steps<WorkCame>>> = {
  replies,
  'pass on': passOn,
  'look up': lookUp,
  'store run': store,
  'plan next': planNext,
  'start run': start,
  'end run': end,
  'clear run': clear,
  'clean lists': cleanLists,
};

import type { DeskStore } from './desk-store';
import { LEAD, TAKEBACK, type Pressed, type SimBegun, type SimBroadcast } from './desk-tables';
import { begunHere, Trouble, type Around, type Steps } from './works';

/** What is refused in words; nothing of it happens. */
class Refused extends Error {}

/** One transaction. */
export function* one<T>(step: () => T): Steps<T> {
  return (yield step) as T;
}

/** Takes back what can be: the broadcast is locked, but a run of it may have started since it was looked for. */
export function* settingAside(desk: DeskStore, broadcast: SimBroadcast, as: 'draft' | 'skipped'): Steps<void> {
  yield* one(() => {
    if (broadcast.state !== 'scheduled') return;
    const found = [...desk.runs.values()]
      .filter((run) => run.broadcast === broadcast.id && ['planning', 'waiting', 'sending'].includes(run.state) && !run.calledOff)
      .sort((a, b) => a.dueAt - b.dueAt);
    for (const run of as === 'skipped' ? found.slice(0, 1) : found) desk.move(run.id, { is: 'call off', as });
    if (as === 'draft' && broadcast.goesOn) desk.unschedule(broadcast, 'draft');
  });
}

/** A press as the server carries it out. */
export function* pressing(desk: DeskStore, pressed: Pressed, around: Around | undefined): Steps<NonNullable<Pressed['came']>> {
  const earlier = () => {
    const run = [...desk.runs.values()].find((each) => each.pressId === pressed.id);
    if (run) return { run: run.id };
    return desk.rules.pressForgets ? undefined : desk.pressOver.get(pressed.id);
  };
  const before = (yield earlier) as ReturnType<typeof earlier>;
  if (before !== undefined) return before;
  // the same press may have come twice, and the other have been quicker
  const refused = function* (): Steps<NonNullable<Pressed['came']>> {
    return yield* one(() => {
      const came = earlier();
      // a twin of it that is still on its way finds that it is over
      if (came === undefined && !desk.rules.pressForgets) desk.pressOver.set(pressed.id, 'refused');
      return came ?? 'refused';
    });
  };
  const broadcast = desk.broadcast(pressed.broadcast);
  const plan = (yield () => desk.plan(broadcast)) as ReturnType<DeskStore['plan']>;
  if (plan.digest !== pressed.digest && !desk.rules.pressesOld) return yield* refused();
  const kind = broadcast.kind;
  const claim = () => {
    if (desk.pressOver.has(pressed.id) && !desk.rules.pressForgets) throw new Refused();
    if (broadcast.state !== 'draft' && broadcast.state !== 'set_aside') throw new Refused();
    if (broadcast.version !== pressed.version && !desk.rules.pressesOld) throw new Refused();
    broadcast.state = 'scheduled';
    broadcast.series = pressed.id;
    broadcast.goesOn = kind === 'import' || kind === 'repeat';
    broadcast.importsHad = new Set(desk.imports.map(({ id }) => id));
    desk.scheduled.set(broadcast.id, desk.now());
    if (kind === 'repeat')
      Object.assign(broadcast, {
        nextDate: 'd1',
        nextAt: broadcast.at + broadcast.every,
        planAt: broadcast.at + broadcast.every - LEAD,
      });
    if (kind === 'current') broadcast.planAt = broadcast.at - LEAD / 2;
    if (broadcast.planAt !== null || broadcast.goesOn) desk.jobs.want('plan next', broadcast.id, broadcast.planAt ?? desk.now());
  };
  if (kind === 'import') {
    try {
      yield claim;
    } catch (error) {
      if (error instanceof Refused) return yield* refused();
      throw error;
    }
    return { run: null };
  }
  const how = {
    pressId: pressed.id,
    origin: 'press' as const,
    due: kind === 'now' ? desk.now() + TAKEBACK : broadcast.at,
    atOnce: kind === 'now',
    asks: null,
  };
  let begun: SimBegun;
  try {
    begun = (yield () => desk.begin(broadcast.id, plan, how, claim)) as SimBegun;
  } catch (error) {
    if (error instanceof Refused) return yield* refused();
    if (!(error instanceof Trouble)) throw error;
    // it may have happened all the same: then it is this one
    const found = (yield earlier) as ReturnType<typeof earlier>;
    if (found === undefined) throw error;
    return found;
  }
  if (begun.how === 'refused') return yield* refused();
  if (begun.how === 'begun' && around) begunHere(around, begun, plan);
  return { run: begun.run };
}

import { Jobs, type JobEvent } from '../../jobs/jobs';
import { checkParts, checkRate, wrongToSend } from '../../line/simulator/check';
import { History, type Process, type Verdict } from '../../line/simulator/history';
import { SIM_DAY } from '../../line/simulator/store';
import { SENDER } from '../../line/simulator/world';
import { LAST_WORD_WITHIN, type RunEvent } from '../../runs/life';
import type { DeskRules } from './desk-rules';
import { STORMY, type DeskHappening, type DeskPlan } from './desk-plan';
import { DeskStore, LEAD, TAKEBACK, type SimBegun, type SimBroadcast, type SimInbound } from './desk-store';
import { deskWrong, type Pressed } from './desk-oracles';
import type { SimJob, SimKind } from './sim-jobs';
import { begunHere, Lost, Trouble, WORKS, type Around, type Step, type Steps, type WorkCame } from './works';

/** What of a process is not its line: its jobs, and the plans it has in memory. */
interface Office {
  jobs: Jobs<SimKind>;
  around: Around;
  wakeAt: number;
}

/** A text from a phone, which the carrier brings until it is acknowledged. */
interface FromPhone {
  id: string;
  number: string;
  kind: SimInbound['kind'];
  acknowledgedAt: number | null;
}

/** Plays one history of the whole desk to its end and says what is wrong with it. The same plan gives the same verdict. */
export function playDesk(plan: DeskPlan, rules: DeskRules = {}, tell = false): Verdict {
  return new DeskHistory(plan, rules, tell).play();
}

export class DeskHistory extends History {
  readonly desk: DeskStore;
  readonly presses: Pressed[] = [];
  readonly phones: FromPhone[] = [];
  protected override readonly stormy = STORMY;
  protected override readonly quietAfter = LAST_WORD_WITHIN + SIM_DAY * 20;
  protected override readonly most = 60_000;
  private readonly offices = new Map<Process, Office>();
  private awayUntil = 0;

  constructor(
    private readonly script: DeskPlan,
    private readonly rules: DeskRules,
    tell: boolean,
  ) {
    super(script.line, { ask: rules.ask, move: rules.receipt, unfenced: rules.unfencedLine }, tell);
    this.desk = new DeskStore(this.store, rules, () => this.now);
    this.store.intended = (text) => {
      if (this.desk.kinds.get(text.id) === 'confirmation') return;
      const wrong = text.number === 'desk' ? undefined : wrongToSend(this.store, text, this.now);
      if (wrong) this.problems.push(`text ${text.id} is handed over ${wrong}`);
      const stop = this.phones.find(
        (each) => each.number === text.number && each.kind === 'stop' && each.acknowledgedAt !== null,
      );
      if (stop) this.problems.push(`text ${text.id} is handed over after its stop was acknowledged`);
      const run = text.run === null ? undefined : this.desk.runs.get(text.run);
      // a run of a series that is going goes on, when what comes after it is written anew
      const written = run && this.desk.broadcast(run.broadcast);
      if (written && written.words !== run.words && written.writtenAt < (run.startedAt ?? Infinity))
        this.problems.push(`text ${text.id} says what was written anew since`);
      if (run && run.endedAt !== null) this.problems.push(`text ${text.id} goes round after its run was settled`);
    };
    this.desk.jobs.wakes = () => {
      for (const [process] of this.offices) this.agenda.add(this.now + 1, () => this.tellJobs(process, { is: 'woken' }));
    };
  }

  protected override begins(): void {
    const { store, desk, dice, plan, script } = this;
    store.senders.set(SENDER, { rate: plan.rate, freeAt: 0 });
    for (let id = 1; id <= plan.texts; id += 1)
      store.people.set(`n${id}`, {
        zones: dice.chance(0.5) ? ['near'] : dice.chance(0.5) ? ['far'] : ['near', 'far'],
        registered: false,
        withdrawn: false,
        state: 'here',
      });
    script.broadcasts.forEach(({ kind, after, every, times }, i) => {
      desk.broadcasts.set(i + 1, {
        id: i + 1,
        kind,
        state: 'draft',
        version: 1,
        words: 1,
        at: plan.start + after,
        every,
        times,
        nextDate: null,
        nextAt: null,
        planAt: null,
        goesOn: false,
        importsSince: plan.start,
        importsLast: Infinity,
        series: '',
        writtenAt: plan.start,
      });
    });
    for (const each of script.happenings) this.agenda.add(plan.start + each.at, () => this.deskHappens(each));
  }

  // ---- processes

  protected override boot(): void {
    // once all is well, one process is enough
    if (!this.ended || !this.processes.some((each) => this.has(each))) super.boot();
  }

  /** It lives, and its line is its own. */
  private has(process: Process): boolean {
    return process.alive && this.store.owners.get(process.epoch)?.ended === false;
  }

  protected override booted = (process: Process): void => {
    const around: Around = {
      desk: this.desk,
      now: () => this.now,
      plans: new Map(),
      give: (job) => this.tellJobs(process, { is: 'given', job }),
      poke: () => this.poke(),
      ask: (number, reference) => (process.session === 0 ? undefined : this.carrier.lookUp(number, reference)),
      resolve: (found) => {
        this.store.resolve(process.epoch, { kind: 'resolved', at: this.now, parts: [found] });
        this.tellLine(process, { is: 'noted', size: 1 });
      },
    };
    const jobs = new Jobs<SimKind>(
      { atOnce: 4, atOnceOf: { 'plan next': 1, 'look up': 1 }, backoff: [500, 8000], lookEvery: 600_000 },
      () => this.dice.roll(),
    );
    this.offices.set(process, { jobs, around, wakeAt: Infinity });
    this.tellJobs(process, { is: 'woken' });
  };

  protected override connected = (): void => {
    this.desk.jobs.want('look up', '', this.now);
    for (const each of this.phones) if (each.acknowledgedAt === null) this.bring(each);
  };

  /** The lookup is a job here: made due by the posting that leaves such a part, and at each new line. */
  protected override lookUp(): void {
    if ([...this.store.parts.values()].some((part) => part.state === 'uncertain' && part.messageId === null))
      this.desk.jobs.want('look up', '', this.now);
  }

  protected override happened = (): void => this.desk.counted();

  protected override atAnyHour = (text: number): boolean => this.desk.kinds.get(text) === 'confirmation';

  private tellJobs(process: Process, event: JobEvent<SimKind>): void {
    const office = this.offices.get(process);
    if (!office || !process.alive) return;
    if (this.now < process.stalledUntil) return this.agenda.add(process.stalledUntil, () => this.tellJobs(process, event));
    for (const effect of office.jobs.on(event, this.now))
      switch (effect.do) {
        case 'lease':
          this.perform(
            process,
            one(() => this.desk.jobs.lease(effect.most, effect.except, office.jobs.inHand(), this.now)),
            (came) =>
              'error' in came
                ? this.tellJobs(process, { is: 'lease failed' })
                : this.tellJobs(process, { is: 'leased', ...came.value }),
          );
          break;
        case 'run':
          this.run(process, office, effect.job as SimJob);
          break;
        case 'postpone':
          this.perform(
            process,
            one(() => this.desk.jobs.postpone(effect.job as SimJob, effect.to)),
            () => undefined,
          );
          break;
        case 'wake':
          if (office.wakeAt <= effect.at && office.wakeAt > this.now) break;
          office.wakeAt = effect.at;
          this.agenda.add(effect.at, () => {
            if (office.wakeAt > effect.at) return;
            office.wakeAt = Infinity;
            this.tellJobs(process, { is: 'tick' });
          });
      }
  }

  private run(process: Process, office: Office, job: SimJob): void {
    const { desk } = this;
    const ended = (how: Extract<JobEvent<SimKind>, { is: 'ended' }>['ended']) =>
      this.tellJobs(process, { is: 'ended', id: job.id, ended: how });
    const failed = (error: Error) =>
      ended(error instanceof Lost ? { how: 'lost' } : { how: 'failed', trouble: error.message, passing: true });
    this.say(() => `${job.kind} ${job.key} begins`);
    this.perform<WorkCame>(process, WORKS[job.kind](office.around, job), (came) => {
      if ('error' in came) return failed(came.error);
      const { value } = came;
      if (value === 'in one') return ended({ how: 'done' });
      const finish = () =>
        value === undefined
          ? { how: desk.jobs.finish(job), at: this.now }
          : { how: desk.jobs.keepFor(job, value.again) ? ('again' as const) : ('lost' as const), at: value.again };
      this.perform(process, one(finish), (end) => {
        if ('error' in end) return failed(end.error);
        const { how, at } = end.value;
        ended(how === 'again' ? { how, at } : { how });
      });
    });
  }

  /** Goes through transactions one by one, each some time later; any of them may fail, or happen and nobody hears of it. */
  private perform<T>(process: Process, steps: Steps<T>, then: (came: { value: T } | { error: Error }) => void): void {
    const go = (resume: () => IteratorResult<Step, T>): void => {
      let next: IteratorResult<Step, T>;
      try {
        next = resume();
      } catch (error) {
        return then({ error: error instanceof Error ? error : new Error(String(error)) });
      }
      if (next.done) return then({ value: next.value });
      const step = next.value;
      if (!this.ended && this.script.sleeps > 0 && this.dice.chance(this.script.sleeps))
        process.stalledUntil = Math.max(process.stalledUntil, this.now + 10_500 + this.dice.between(0, 8000));
      const act = () => {
        if (!process.alive) {
          if (this.dice.chance(0.5)) this.attempt(step);
          return;
        }
        if (this.now < process.stalledUntil) return this.agenda.add(process.stalledUntil, act);
        if (this.now < this.awayUntil || this.dice.chance(0.01)) return go(() => steps.throw(new Trouble('away')));
        const came = this.attempt(step);
        if ('error' in came) return go(() => steps.throw(came.error));
        if (this.dice.chance(this.ended ? 0.015 : this.script.loses))
          return go(() => steps.throw(new Trouble('the answer was lost')));
        go(() => steps.next(came.value));
      };
      this.agenda.add(this.now + this.dice.between(1, 12) * (this.ended ? 1 : this.script.slow), act);
    };
    go(() => steps.next());
  }

  private attempt(step: Step): { value: unknown } | { error: Error } {
    try {
      const value = step();
      this.desk.counted();
      return { value };
    } catch (error) {
      return { error: error as Error };
    }
  }

  // ---- people of the desk, and phones

  private deskHappens({ what, which, ms }: DeskHappening): void {
    const { desk } = this;
    const broadcast = desk.broadcast((which % desk.broadcasts.size) + 1);
    const runs = [...desk.runs.values()].filter((run) => run.endedAt === null);
    const run = runs.at(which % Math.max(1, runs.length));
    const number = `n${(which % this.plan.texts) + 1}`;
    this.say(() => `${what} ${which} ${ms}`);
    switch (what) {
      case 'press':
        return this.press(broadcast, ms);
      case 'back':
        return this.setAside(broadcast, 'draft');
      case 'skip':
        return this.setAside(broadcast, 'skipped');
      case 'edit':
        return this.asked(() => {
          if (broadcast.state !== 'draft' && broadcast.state !== 'set_aside') return;
          broadcast.words += 1;
          broadcast.writtenAt = this.now;
          broadcast.version += 1;
        });
      case 'pause':
      case 'resume':
        return this.asked(() => run && this.moved(run.id, { is: what }));
      case 'agree':
        return this.asked(() => run && this.moved(run.id, { is: 'agreed' }));
      case 'cancel':
        return this.asked(() => run && this.moved(run.id, { is: 'cancel rest', by: 'Ana' }));
      case 'stop text':
        return this.texts(number, 'stop');
      case 'maybe text':
        return this.texts(number, 'maybe');
      case 'reply text':
        return this.texts(number, 'reply');
      case 'decide':
        return this.asked(() => {
          const open = desk.inbound.find((each) => each.kind === 'maybe' && !each.done);
          if (open && which % 2 === 0) {
            desk.stop(open);
            this.remove(open.number, 'opted out');
          } else if (open) open.done = true;
        });
      case 'import':
        return this.asked(() => {
          desk.imports.push({ id: desk.imports.length + 1, at: this.now });
          for (const each of desk.broadcasts.values())
            if (each.state === 'scheduled' && each.kind === 'import') desk.jobs.want('plan next', each.id, 0);
        });
      case 'sleep': {
        const process = this.living();
        if (process) process.stalledUntil = Math.max(process.stalledUntil, this.now + 11_000 + ms);
        return;
      }
      case 'away':
        this.awayUntil = this.now + ms;
    }
  }

  private moved(run: number, event: RunEvent): void {
    this.desk.move(run, event);
    this.poke();
  }

  /** Somebody asks for something once; where the answer is lost, they look whether it happened. */
  private asked(step: () => unknown): void {
    const process = this.living();
    if (process) this.perform(process, one(step), () => undefined);
  }

  private living(): Process | undefined {
    const living = this.processes.filter((each) => each.alive);
    return living.at(this.dice.between(0, Math.max(0, living.length - 1)));
  }

  private setAside(broadcast: SimBroadcast, as: 'draft' | 'skipped'): void {
    const process = this.living();
    if (process) this.perform(process, settingAside(this.desk, broadcast, as), () => undefined);
  }

  /** Looks, and presses what was seen; pressed again with the same id until it is known what came of it. */
  private press(broadcast: SimBroadcast, ms: number): void {
    const { desk } = this;
    if (broadcast.state !== 'draft' && broadcast.state !== 'set_aside') return;
    const { version } = broadcast;
    // a time that has passed is chosen anew
    if (broadcast.at < this.now + 4000) broadcast.at = this.now + 6000 + (broadcast.every % 5000);
    const pressed: Pressed = {
      id: `press-${this.presses.length + 1}`,
      broadcast: broadcast.id,
      version,
      digest: desk.plan(broadcast).digest,
      words: broadcast.words,
      came: undefined,
    };
    this.presses.push(pressed);
    this.agenda.add(this.now + ms, () => this.pressAgain(pressed));
  }

  private pressAgain(pressed: Pressed): void {
    const process = this.living();
    const again = () => this.agenda.add(this.now + this.dice.between(300, 6000), () => this.pressAgain(pressed));
    if (!process) return again();
    let answered = false;
    this.perform(process, pressing(this.desk, pressed, this.offices.get(process)?.around), (came) => {
      answered = true;
      if ('error' in came && came.error instanceof Trouble) again();
      else pressed.came = 'error' in came ? 'refused' : came.value;
      this.say(() => `${pressed.id}: ${JSON.stringify(pressed.came ?? 'no answer')}`);
    });
    // the process died with it: nobody answers
    this.agenda.add(this.now + 20_000, () => {
      if (!answered && pressed.came === undefined) {
        answered = true;
        again();
      }
    });
  }

  private texts(number: string, kind: SimInbound['kind']): void {
    const text: FromPhone = { id: `t${this.phones.length + 1}`, number, kind, acknowledgedAt: null };
    this.phones.push(text);
    if (kind === 'stop') this.remove(number, 'opted out');
    this.bring(text);
  }

  private bring(text: FromPhone): void {
    const bound = this.processes.filter((each) => each.alive && each.session !== 0);
    const process = bound.at(this.dice.between(0, Math.max(0, bound.length - 1)));
    if (text.acknowledgedAt !== null || !process) return;
    const acknowledge = () => {
      text.acknowledgedAt ??= this.now;
      this.say(() => `${text.id} (${text.kind} of ${text.number}) is acknowledged`);
    };
    if (this.rules.acknowledgesFirst) acknowledge();
    this.perform(
      process,
      one(() => this.desk.take(text)),
      (came) => ('error' in came ? this.agenda.add(this.now + 2000, () => this.bring(text)) : acknowledge()),
    );
  }

  // ---- the end

  protected override calm(): void {
    this.awayUntil = 0;
    for (const run of this.desk.runs.values()) if (run.state === 'paused') this.desk.move(run.id, { is: 'resume' });
    // one process is enough from now on, and what the others had in hand is taken over
    const [kept] = this.processes.filter((each) => this.has(each));
    for (const process of this.processes) {
      if (process === kept) continue;
      process.alive = false;
      process.session = 0;
    }
    super.calm();
    for (const each of this.phones) if (each.acknowledgedAt === null) this.bring(each);
  }

  protected override rests(): boolean {
    if (!super.rests()) return false;
    if (this.phones.some((each) => each.acknowledgedAt === null) || this.presses.some((each) => each.came === undefined))
      return false;
    for (const run of this.desk.runs.values()) if (run.endedAt === null || run.calledOff) return false;
    return this.desk.jobs.rows.size === 0;
  }

  protected override wrong(): string[] {
    const taken = new Map<number, number>();
    for (const each of this.carrier.taken) taken.set(each.text * 16 + each.no, (taken.get(each.text * 16 + each.no) ?? 0) + 1);
    const problems = [...taken]
      .filter(([, times]) => times > 1)
      .map(([key, times]) => `text ${key >> 4} was taken ${times} times`);
    problems.push(...this.store.backwards.map((each) => `a final state moved: ${each}`));
    for (const text of this.store.texts.values()) {
      if (text.open > 0) problems.push(`text ${text.id} never came to an end: ${text.state}`);
      problems.push(...checkParts(this, text, taken));
    }
    problems.push(...checkRate(this), ...this.desk.problems, ...deskWrong(this));
    return problems;
  }
}

function* one<T>(step: () => T): Steps<T> {
  return (yield step) as T;
}

/** Takes back what can be: the broadcast is locked, but a run of it may have started since it was looked for. */
function* settingAside(desk: DeskStore, broadcast: SimBroadcast, as: 'draft' | 'skipped'): Steps<void> {
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
function* pressing(desk: DeskStore, pressed: Pressed, around: Around | undefined): Steps<NonNullable<Pressed['came']>> {
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
    Object.assign(broadcast, { importsSince: desk.now(), importsLast: Infinity });
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

class Refused extends Error {}

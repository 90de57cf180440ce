import { Jobs, type JobEvent } from '../../jobs/jobs';
import { History } from '../../line/simulator/history';
import type { Process } from '../../line/simulator/line-processes';
import { one } from './desk-acts';
import type { DeskPlan } from './desk-plan';
import type { DeskRules } from './desk-rules';
import { DeskStore } from './desk-store';
import type { SimJob, SimKind } from './sim-jobs';
import { Lost, Trouble, WORKS, type Around, type Step, type Steps, type WorkCame } from './works';

/** What of a process is not its line: its jobs, and the plans it has in memory. */
interface Office {
  jobs: Jobs<SimKind>;
  around: Around;
  wakeAt: number;
}

/** The processes of a desk: each with its line and its jobs, over a database that is slow, away, or whose answers are lost. */
export class DeskProcesses extends History {
  readonly desk: DeskStore;
  protected readonly offices = new Map<Process, Office>();
  protected awayUntil = 0;

  constructor(
    protected readonly script: DeskPlan,
    protected readonly rules: DeskRules,
    tell: boolean,
  ) {
    super(script.line, { ask: rules.ask, move: rules.receipt, unfenced: rules.unfencedLine }, tell);
    this.desk = new DeskStore(this.store, rules, () => this.now);
    this.desk.jobs.wakes = () => {
      for (const [process] of this.offices) this.agenda.add(this.now + 1, () => this.tellJobs(process, { is: 'woken' }));
    };
  }

  protected override boot(): void {
    // once all is well, one process is enough
    if (!this.ended || !this.processes.some((each) => this.has(each))) super.boot();
  }

  /** It lives, and its line is its own. */
  protected has(process: Process): boolean {
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
  protected perform<T>(process: Process, steps: Steps<T>, then: (came: { value: T } | { error: Error }) => void): void {
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

  protected living(): Process | undefined {
    const living = this.processes.filter((each) => each.alive);
    return living.at(this.dice.between(0, Math.max(0, living.length - 1)));
  }
}

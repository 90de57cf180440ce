/**
 * What goes on by itself, as a machine without I/O: which jobs are asked for, how many run beside one another, what becomes of one that
 * has ended, and when to look again. The rows are the database's (`server/desk`); time and chance are passed in.
 */

/** A job as it was leased: this process has it until then, and its lease is the fence of everything it does. */
export interface Leased<K extends string = string> {
  id: number;
  kind: K;
  key: string;
  lease: number;
  /** Until when it is ours, ms. */
  until: number;
  /** Tries before this one that failed. */
  attempts: number;
  failingSince: number | null;
}

/** What a round of a job came to. `done` takes the row away; `again` keeps it for later; a failure is tried again, later each time. */
export type Ended =
  | { how: 'done' }
  | { how: 'again'; at: number }
  | { how: 'failed'; trouble: string; passing: boolean }
  /** Another process has it, or it was asked for anew meanwhile: the row says what is to be done. */
  | { how: 'lost' };

/** What the row is to say after a failure. */
export interface Postponed {
  due: number;
  attempts: number;
  trouble: string;
  failingSince: number;
}

export type JobEvent<K extends string = string> =
  | { is: 'woken' }
  | { is: 'tick' }
  | { is: 'leased'; jobs: readonly Leased<K>[]; next: number | null }
  /** One that was leased to us as it was made: beside what else runs. */
  | { is: 'given'; job: Leased<K> }
  | { is: 'lease failed' }
  | { is: 'ended'; id: number; ended: Ended }
  | { is: 'close' };

export type JobEffect<K extends string = string> =
  | { do: 'lease'; most: number; except: readonly K[] }
  | { do: 'run'; job: Leased<K> }
  | { do: 'postpone'; job: Leased<K>; to: Postponed }
  | { do: 'wake'; at: number };

export interface JobSettings<K extends string = string> {
  /** Jobs that run beside one another, in all and of one kind. */
  atOnce: number;
  atOnceOf: Partial<Record<K, number>>;
  /** First wait after a failure, and the longest, ms. */
  backoff: readonly [number, number];
  /** However little is due, it is looked after so long, ms: a word that somebody woke us may be lost. */
  lookEvery: number;
}

export const JOB_SETTINGS: JobSettings = { atOnce: 8, atOnceOf: {}, backoff: [1000, 5 * 60_000], lookEvery: 30_000 };

/** Failing for so many tries, or so long (ms), a job is shown to a person; what lasts is shown at once. */
export const SEEN_AFTER_TRIES = 4;
export const SEEN_AFTER = 2 * 60_000;

/**
 * How long a job waits after its nth failure (1, 2, …), ms: twice as long each time up to the longest, with half of it left to
 * chance, so that many that failed together do not come back together.
 */
export function backoffOf(attempts: number, chance: number, [first, longest]: readonly [number, number]): number {
  const whole = Math.min(longest, first * 2 ** Math.min(attempts - 1, 30));
  return Math.round(whole / 2 + (whole / 2) * chance);
}

/** What becomes of a job that failed. */
export function postponed(
  job: Pick<Leased, 'attempts' | 'failingSince'>,
  failed: { trouble: string },
  now: number,
  chance: number,
  backoff: readonly [number, number] = JOB_SETTINGS.backoff,
): Postponed {
  const attempts = job.attempts + 1;
  return {
    due: now + backoffOf(attempts, chance, backoff),
    attempts,
    trouble: failed.trouble.slice(0, 400),
    failingSince: job.failingSince ?? now,
  };
}

/** The machine of one process. Deterministic for its events, its clock and its chance. */
export class Jobs<K extends string = string> {
  private readonly running = new Map<number, Leased<K>>();
  private leasing = false;
  /** Something was said while a lease was on its way: it may have been overlooked. */
  private askedMeanwhile = false;
  private closed = false;
  private wakeAt = Infinity;
  private failures = 0;

  constructor(
    private readonly settings: JobSettings<K>,
    private readonly chance: () => number,
  ) {}

  /** Ids of what runs. */
  inHand(): number[] {
    return [...this.running.keys()];
  }

  /** Nothing runs and nothing is being asked for. */
  get quiet(): boolean {
    return this.running.size === 0 && !this.leasing;
  }

  on(event: JobEvent<K>, now: number): JobEffect<K>[] {
    switch (event.is) {
      case 'close':
        this.closed = true;
        return [];
      case 'woken':
        return this.look();
      case 'tick':
        this.wakeAt = Infinity;
        return this.look();
      case 'lease failed':
        this.leasing = false;
        this.failures += 1;
        return this.wake(now + backoffOf(this.failures, this.chance(), [500, 15_000]));
      case 'leased': {
        this.leasing = false;
        this.failures = 0;
        const effects: JobEffect<K>[] = [];
        for (const job of event.jobs) {
          // a lease that ran out while it is still at work here is not begun a second time beside it
          if (this.running.has(job.id)) continue;
          // one that ran out before we came to it may be another process's by now, and is not begun beside it: it is asked for anew
          if (job.until <= now) continue;
          this.running.set(job.id, job);
          effects.push({ do: 'run', job });
        }
        const again = this.askedMeanwhile || event.jobs.length > 0;
        this.askedMeanwhile = false;
        if (again) effects.push(...this.look());
        if (!this.leasing) effects.push(...this.wake(Math.min(event.next ?? Infinity, now + this.settings.lookEvery)));
        return effects;
      }
      case 'given':
        // a process that ends begins nothing, and a lease that has run out meanwhile is anybody's
        if (this.closed || event.job.until <= now) return [];
        this.running.set(event.job.id, event.job);
        return [{ do: 'run', job: event.job }];
      case 'ended': {
        const job = this.running.get(event.id);
        if (!job) return [];
        this.running.delete(event.id);
        const { ended } = event;
        const effects: JobEffect<K>[] = [];
        if (ended.how === 'failed') {
          const to = postponed(job, ended, now, this.chance(), this.settings.backoff);
          effects.push({ do: 'postpone', job, to }, ...this.wake(to.due));
        } else if (ended.how === 'again') effects.push(...this.wake(ended.at));
        return [...effects, ...this.look()];
      }
    }
  }

  /** Asks for as many as there is room for. */
  private look(): JobEffect<K>[] {
    if (this.closed) return [];
    if (this.leasing) {
      this.askedMeanwhile = true;
      return [];
    }
    const most = this.settings.atOnce - this.running.size;
    if (most <= 0) return [];
    this.leasing = true;
    return [{ do: 'lease', most, except: this.full() }];
  }

  /** Kinds of which as many run as may. */
  private full(): K[] {
    const count = new Map<K, number>();
    for (const { kind } of this.running.values()) count.set(kind, (count.get(kind) ?? 0) + 1);
    return [...count].flatMap(([kind, n]) => (n >= (this.settings.atOnceOf[kind] ?? this.settings.atOnce) ? [kind] : []));
  }

  private wake(at: number): JobEffect<K>[] {
    if (this.closed || at >= this.wakeAt) return [];
    this.wakeAt = at;
    return [{ do: 'wake', at }];
  }
}

import type { Clock } from '../../core/clock';
import { JOB_SETTINGS, Jobs, type Ended, type JobEffect, type JobEvent, type JobSettings } from '../../core/jobs/jobs';
import type { Db, Tx } from '../db/db';
import { isPassing } from '../db/db-error';
import { finish, freeLeases, holdOn, keepFor, lease, postpone, want, type JobKind, type LeasedJob } from './job-queries';

/** What a job came to: done (and its row goes with its own transaction), or once more at a moment (ms). */
export type Came = { done: true } | { again: number };

/** What a job is given to work with. */
export interface Working {
  job: LeasedJob;
  now(): number;
  /** The process is ending: long work leaves off between two things and comes again. */
  over(): boolean;
  /**
   * One transaction of the job, in which it also ends: what it did and that it is done are one. Nothing of it happens where the
   * job is another's by now.
   */
  inOne<T>(work: (tx: Tx) => Promise<T & { again?: number }>): Promise<T>;
  /** Keeps the lease for work that goes on between transactions. @throws Lost */
  stillMine(): Promise<void>;
}

/** The work of one kind. Without `inOne` its row is taken away, or kept for later, after it. */
export type Work = (working: Working) => Promise<Came | undefined>;

/** Another process has taken the job over. */
export class Lost extends Error {}

const LANE = 'dispatch';
/** Kinds that wait for others than the database; one of them does not take the place of everything else. */
const AT_ONCE: Partial<Record<JobKind, number>> = {
  'pass on': 3,
  'look up': 1,
  'end run': 2,
  'store run': 2,
  'plan next': 1,
  'clear run': 1,
  trim: 1,
  watch: 1,
};

/**
 * Carries out what the machine of jobs wants: leases, runs, writes down, sleeps. Each job works in its own transaction and is isolated
 * from its neighbors; whatever it throws is tried again later, and shown when it keeps failing. The only loop and the only `catch` of
 * what goes on by itself.
 */
export class JobRunner {
  private readonly machine: Jobs<JobKind>;
  private readonly db: Db;
  private readonly busy = new Set<Promise<void>>();
  private readonly running = new Map<number, LeasedJob>();
  private waker: AbortController | undefined;
  private deaf: (() => Promise<void>) | undefined;
  private ended = false;

  constructor(
    db: Db,
    private readonly clock: Clock,
    private readonly works: Readonly<Record<JobKind, Work>>,
    private readonly failed: (error: unknown) => void,
    settings: Partial<JobSettings<JobKind>> = {},
  ) {
    this.db = db.lane(LANE);
    // the embedded engine has one connection: many at once would only wait for it
    const atOnce = db.engine === 'embedded' ? 6 : JOB_SETTINGS.atOnce;
    this.machine = new Jobs<JobKind>({ ...JOB_SETTINGS, atOnce, atOnceOf: AT_ONCE, ...settings }, Math.random);
  }

  /** Listens for jobs that are made due, and begins with those that are. */
  async start(): Promise<void> {
    await freeLeases(this.db);
    this.deaf = await this.db.listen('job', () => this.wake());
    this.wake();
  }

  wake(): void {
    this.tell({ is: 'woken' });
  }

  /** Work that this process leased as it made it (`wantLeased`), after its commit: it begins at once. */
  given(job: LeasedJob): void {
    this.tell({ is: 'given', job });
  }

  /** Nothing new begins; resolves when what runs has ended. */
  async end(): Promise<void> {
    this.tell({ is: 'close' });
    this.ended = true;
    this.waker?.abort();
    await this.deaf?.();
    while (this.busy.size > 0) await Promise.all([...this.busy]);
  }

  /** Resolves when nothing that is due by the clock is left: for tests, and for whoever waits for an order of things. */
  async settle(): Promise<void> {
    for (;;) {
      this.wake();
      while (this.busy.size > 0) await Promise.all([...this.busy]);
      const { rows } = await this.db.query<{ n: number }>(
        // what somebody else has in hand is theirs to end
        `SELECT count(*) AS n FROM job WHERE due_at <= $1::timestamptz AND attempts = 0 AND (leased_until IS NULL OR leased_until <= $1::timestamptz)`,
        [new Date(this.clock.now()).toISOString()],
      );
      if (rows[0].n === 0 || this.ended) return;
      await new Promise((resolve) => setTimeout(resolve, 2));
    }
  }

  private tell(event: JobEvent<JobKind>): void {
    if (this.ended) return;
    for (const effect of this.machine.on(event, this.clock.now())) this.carryOut(effect);
  }

  private carryOut(effect: JobEffect<JobKind>): void {
    switch (effect.do) {
      case 'lease':
        return this.background(this.lease(effect));
      case 'run':
        return this.background(this.run(effect.job as LeasedJob));
      case 'postpone':
        // written by `run`, with what it knows of the error
        return;
      case 'wake':
        return this.sleep(effect.at);
    }
  }

  private background(work: Promise<void>): void {
    const watched = work.catch(this.failed).finally(() => this.busy.delete(watched));
    this.busy.add(watched);
  }

  private async lease(effect: Extract<JobEffect<JobKind>, { do: 'lease' }>): Promise<void> {
    let leased: Awaited<ReturnType<typeof lease>>;
    try {
      leased = await lease(this.db, { ...effect, now: this.clock.now(), not: [...this.running.keys()] });
    } catch (error) {
      this.failed(error);
      return this.tell({ is: 'lease failed' });
    }
    this.tell({ is: 'leased', ...leased });
  }

  private async run(job: LeasedJob): Promise<void> {
    this.running.set(job.id, job);
    let ended: Ended;
    let passing = true;
    try {
      ended = await this.work(job);
    } catch (error) {
      passing = isPassing(error);
      if (error instanceof Lost) ended = { how: 'lost' };
      else {
        this.failed(error);
        ended = { how: 'failed', passing, trouble: error instanceof Error ? error.message : 'unknown trouble' };
      }
    } finally {
      this.running.delete(job.id);
    }
    if (this.ended) {
      // what failed while the process ends is given back as it was
      if (ended.how === 'failed')
        await this.db
          .query(`UPDATE job SET leased_until = NULL WHERE id = $1 AND lease = $2`, [job.id, job.lease])
          .catch(this.failed);
      return;
    }
    for (const effect of this.machine.on({ is: 'ended', id: job.id, ended }, this.clock.now())) {
      if (effect.do === 'postpone')
        // where even this cannot be written, the lease runs out and it comes again
        await postpone(this.db, job, effect.to, passing).catch(this.failed);
      else this.carryOut(effect);
    }
  }

  private async work(job: LeasedJob): Promise<Ended> {
    let inOne: Ended | undefined;
    const came = await this.works[job.kind]({
      job,
      now: () => this.clock.now(),
      over: () => this.ended,
      stillMine: async () => {
        if (!(await holdOn(this.db, job, this.clock.now()))) throw new Lost();
      },
      inOne: (work) =>
        this.db.transaction(async (tx) => {
          const result = await work(tx);
          // last: whoever asks for it anew waits for no more than this; where it is another's by now, nothing of it happened
          const how = await finish(tx, job);
          if (how === 'lost') throw new Lost();
          if (result.again !== undefined) {
            await want(tx, [{ kind: job.kind, key: job.key, due: result.again }]);
            inOne = { how: 'again', at: result.again };
          } else inOne = how === 'done' ? { how: 'done' } : { how: 'again', at: this.clock.now() };
          return result;
        }),
    });
    if (inOne) return inOne;
    if (came && 'again' in came)
      return (await keepFor(this.db, job, came.again)) ? { how: 'again', at: came.again } : { how: 'lost' };
    const how = await finish(this.db, job);
    return how === 'again' ? { how: 'again', at: this.clock.now() } : { how };
  }

  private sleep(at: number): void {
    this.waker?.abort();
    const waker = new AbortController();
    this.waker = waker;
    void (async () => {
      // whoever sleeps wakes when its time has come, or when the clock is moved
      while (!waker.signal.aborted && this.clock.now() < at) await this.clock.sleep(at - this.clock.now(), waker.signal);
      if (this.waker !== waker || this.ended) return;
      this.waker = undefined;
      this.tell({ is: 'tick' });
    })();
  }
}

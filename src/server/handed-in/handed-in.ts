import { Worker } from 'node:worker_threads';
import { Refusal } from '../../core/api/refusal';
import type { TaskName, Tasks } from './tasks';
import type { FromHandedIn, ToHandedIn } from './worker';

/** What reading one thing may take: time, ms, and memory of the thread, MB. */
export const BUDGET = { ms: 5000, mb: 128 };
/** A thread that is not needed for so long is ended, ms: what it read last is in its memory. */
const IDLE = 30_000;
/** Nor is one kept that what it read has made so large, bytes. */
const LARGE = 64 << 20;
/** So many may wait; what is more is told to come again. */
const MOST_WAITING = 40;

/** Reading it would take more than it may; `busy`: others are being read, and it may be tried again. */
export class OverBudget extends Refusal {
  readonly of: 'time' | 'memory' | 'busy';
  constructor(of: 'time' | 'memory' | 'busy') {
    const busy = of === 'busy';
    super(
      busy ? 'away' : 'wrong',
      busy ? 'busy' : 'too-much',
      busy ? 'Too much is being read at once.' : `It was given up: reading it takes more ${of} than it may. Nothing was kept.`,
      { act: busy ? 'Try once more in a moment.' : 'Split it, or save it anew from the program it comes from.' },
    );
    this.of = of;
    this.name = 'OverBudget';
  }
}

interface Job {
  task: TaskName;
  asked: unknown;
  resolve(value: never): void;
  reject(error: Error): void;
}

/**
 * Reads what a stranger or a colleague hands in (mails, translations, lists of codes) in a thread of its own, one after the other, each
 * within a budget: whatever it holds, the server's own thread answers others meanwhile. A thread that goes beyond is ended, and the next
 * is read by a new one. Files of people have a thread each, which gives rows as it goes (files/reading-thread.ts).
 */
export class HandedIn {
  private worker: Worker | undefined;
  private readonly waiting: Job[] = [];
  private job: Job | undefined;
  private timer: NodeJS.Timeout | undefined;
  private idle: NodeJS.Timeout | undefined;

  constructor(private readonly budget = BUDGET) {}

  /** @throws OverBudget */
  read<N extends TaskName>(task: N, asked: Parameters<Tasks[N]>[0]): Promise<Awaited<ReturnType<Tasks[N]>>> {
    if (this.waiting.length >= MOST_WAITING) return Promise.reject(new OverBudget('busy'));
    return new Promise((resolve, reject) => {
      this.waiting.push({ task, asked, resolve, reject });
      this.go();
    });
  }

  async end(): Promise<void> {
    clearTimeout(this.idle);
    for (const job of this.waiting.splice(0)) job.reject(new OverBudget('busy'));
    await this.worker?.terminate();
  }

  private go(): void {
    if (this.job) return;
    const job = this.waiting.shift();
    clearTimeout(this.idle);
    if (!job) {
      this.idle = setTimeout(() => this.rest(), IDLE).unref();
      return;
    }
    this.job = job;
    const worker = (this.worker ??= this.start());
    // a thread that is only being started does not use up what the reading may take
    if (this.ready.has(worker)) this.begin(worker);
    worker.postMessage({ task: job.task, asked: job.asked } satisfies ToHandedIn);
  }

  private readonly ready = new WeakSet<Worker>();

  private begin(worker: Worker): void {
    this.timer = setTimeout(() => this.gone(worker, new OverBudget('time')), this.budget.ms);
  }

  private start(): Worker {
    const fromSource = import.meta.url.endsWith('.ts');
    const url = new URL(fromSource ? './worker-source.mjs' : './handed-in-worker.js', import.meta.url);
    const made = new Worker(url, {
      execArgv: [],
      resourceLimits: { maxOldGenerationSizeMb: this.budget.mb, maxYoungGenerationSizeMb: 16 },
    });
    made.unref();
    made.on('message', (said: FromHandedIn) => {
      if (this.worker !== made) return;
      if (said === 'ready') {
        this.ready.add(made);
        if (this.job) this.begin(made);
        return;
      }
      const { job } = this;
      this.done();
      if (said.heap > LARGE) this.rest();
      if ('value' in said) job?.resolve(said.value as never);
      else job?.reject(new Error(said.failed));
      this.go();
    });
    made.on('error', (error: NodeJS.ErrnoException) =>
      this.gone(made, error.code === 'ERR_WORKER_OUT_OF_MEMORY' ? new OverBudget('memory') : error),
    );
    made.on('exit', () => this.gone(made, new Error('The thread of what is handed in has ended.')));
    return made;
  }

  private rest(): void {
    const { worker } = this;
    this.worker = undefined;
    void worker?.terminate();
  }

  private done(): void {
    clearTimeout(this.timer);
    this.job = undefined;
  }

  /** The thread is no more, or is no longer waited for. */
  private gone(worker: Worker, error: Error): void {
    if (this.worker !== worker) return;
    this.worker = undefined;
    void worker.terminate();
    const { job } = this;
    this.done();
    job?.reject(error);
    this.go();
  }
}

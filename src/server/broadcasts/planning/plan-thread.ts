import { Refusal } from '../../../core/api/refusal';
import { Worker } from 'node:worker_threads';
import type { Db, Param } from '../../db/db';
import { flatOf, type FlatRows } from '../../db/flat-rows';
import { sealingKey } from '../../db/sealed';
import { PlanDesk } from './plan-desk';
import { stopwatch } from './stopwatch';

type Methods = 'summary' | 'proof' | 'proofs' | 'step' | 'aboutWhom' | 'open' | 'rows' | 'close' | 'rehearse';
/** What the rest of the server may ask of plans; each answer comes from the compute thread, or from this one in tests. */
export type Plans = { [M in Methods]: (...args: Parameters<PlanDesk[M]>) => Promise<Awaited<ReturnType<PlanDesk[M]>>> } & {
  end(): Promise<void>;
};

export type ToPlanWorker =
  | { kind: 'call'; method: Methods; args: unknown[] }
  | { kind: 'rows'; id: number; rows: FlatRows; rowCount: number }
  | { kind: 'trouble'; id: number; message: string };
export type FromPlanWorker =
  /** It is loaded: what it takes from now on is what it is asked. */
  | { kind: 'ready' }
  | { kind: 'query'; id: number; sql: string; params: readonly Param[] }
  | { kind: 'answer'; value: unknown }
  | { kind: 'trouble'; message: string };

const METHODS: readonly Methods[] = ['summary', 'proof', 'proofs', 'step', 'aboutWhom', 'open', 'rows', 'close', 'rehearse'];

/** Plans made in this thread: for tests, and where no worker can be started. */
export function localPlans(db: Db): Plans {
  const desk = new PlanDesk(db);
  let tail: Promise<unknown> = Promise.resolve();
  const call = (method: Methods, args: unknown[]): Promise<unknown> => {
    const result = tail.then(() => (desk[method] as (...args: unknown[]) => unknown).apply(desk, args));
    tail = result.catch(() => undefined);
    return result;
  };
  return of(call, () => Promise.resolve());
}

function of(call: (method: Methods, args: unknown[]) => Promise<unknown>, end: () => Promise<void>): Plans {
  return Object.assign(Object.fromEntries(METHODS.map((method) => [method, (...args: unknown[]) => call(method, args)])), {
    end,
  }) as unknown as Plans;
}

/** What one answer may take of the thread's own time, ms; what it waits for the database does not count. */
export const PLAN_BUDGET = { ms: 120_000 };

/** What was asked takes more of the thread than it may, and was given up. */
export class PlanTooLong extends Refusal {
  constructor() {
    super('wrong', 'too-long', 'Counting who gets what takes too long, and was given up. Nothing was sent.', {
      kept: 'What you wrote is kept.',
      act: 'Take fields out of the words, or fewer people at once.',
    });
    this.name = 'PlanTooLong';
  }
}

interface Call {
  method: Methods;
  args: unknown[];
  resolve(value: unknown): void;
  reject(error: Error): void;
}

/**
 * The compute thread: keeps what audiences need in its own memory and never makes other requests wait. It asks its questions to
 * the database through this thread, a piece at a time, so that the interface's statements slip between. It is asked one thing after
 * the other, each within a budget of its own time; when it goes beyond, or dies, what it was just asked fails, and what waits behind is
 * asked of a new one.
 */
export function planThread(db: Db, failed: (error: unknown) => void, budget = PLAN_BUDGET): Plans {
  const fromSource = import.meta.url.endsWith('.ts');
  const url = new URL(fromSource ? './plan-worker-source.mjs' : './plan-worker.js', import.meta.url);
  const waiting: Call[] = [];
  const lane = db.lane('interface');
  const watch = stopwatch(() => gone(new PlanTooLong()));
  let asked: Call | undefined;
  let ended = false;
  let worker: Worker | undefined;
  let ready = false;

  const start = (): Worker => {
    const made = new Worker(url, {
      execArgv: [],
      workerData: { key: sealingKey() },
      resourceLimits: { maxOldGenerationSizeMb: 2048 },
    });
    ready = false;
    made.unref();
    made.on('message', (said: FromPlanWorker) => {
      if (worker !== made) return;
      if (said.kind === 'ready') {
        ready = true;
        if (asked) watch.start(budget.ms);
      } else if (said.kind === 'query') {
        const call = asked;
        watch.pause();
        const answer = (message: ToPlanWorker) => {
          if (worker !== made) return;
          made.postMessage(message);
          if (asked === call) watch.resume();
        };
        lane.query(said.sql, said.params).then(
          ({ rows, rowCount }) => answer({ kind: 'rows', id: said.id, rows: flatOf(rows), rowCount }),
          (error: unknown) =>
            answer({ kind: 'trouble', id: said.id, message: error instanceof Error ? error.message : String(error) }),
        );
      } else {
        const call = asked;
        next();
        if (said.kind === 'answer') call?.resolve(said.value);
        else call?.reject(new Error(said.message));
      }
    });
    const lost = (error: Error) => {
      if (worker === made) gone(error);
    };
    made.on('error', (error) => lost(error as Error));
    made.on('exit', () => lost(new Error('The plan thread has ended; it is started again when it is needed.')));
    return made;
  };
  /** The next is asked, when there is one. */
  const next = () => {
    watch.stop();
    asked = waiting.shift();
    if (!asked) return;
    worker ??= start();
    if (ready) watch.start(budget.ms);
    worker.postMessage({ kind: 'call', method: asked.method, args: asked.args } satisfies ToPlanWorker);
  };
  const gone = (error: Error) => {
    void worker?.terminate();
    worker = undefined;
    const call = asked;
    if (ended) for (const each of waiting.splice(0)) each.reject(error);
    else if (!(error instanceof PlanTooLong)) failed(error);
    next();
    call?.reject(error);
  };

  // at once: the first plan of the day should not wait for a thread to start
  worker = start();
  return of(
    (method, args) =>
      new Promise((resolve, reject) => {
        if (ended) return reject(new Error('The server is being stopped.'));
        waiting.push({ method, args, resolve, reject });
        if (!asked) next();
      }),
    async () => {
      ended = true;
      await worker?.terminate();
    },
  );
}

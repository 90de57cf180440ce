import { Worker } from 'node:worker_threads';
import type { Db, Param } from '../db/db';
import { PlanDesk } from './plan-desk';

type Methods = 'summary' | 'proof' | 'proofs' | 'step' | 'open' | 'rows' | 'close' | 'rehearse';
/** What the rest of the server may ask of plans; each answer comes from the compute thread, or from this one in tests. */
export type Plans = { [M in Methods]: (...args: Parameters<PlanDesk[M]>) => Promise<Awaited<ReturnType<PlanDesk[M]>>> } & {
  end(): Promise<void>;
};

export type ToPlanWorker =
  | { kind: 'call'; id: number; method: Methods; args: unknown[] }
  | { kind: 'rows'; id: number; rows: unknown[]; rowCount: number }
  | { kind: 'trouble'; id: number; message: string };
export type FromPlanWorker =
  | { kind: 'query'; id: number; sql: string; params: readonly Param[] }
  | { kind: 'answer'; id: number; value: unknown }
  | { kind: 'trouble'; id: number; message: string };

const METHODS: readonly Methods[] = ['summary', 'proof', 'proofs', 'step', 'open', 'rows', 'close', 'rehearse'];

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

/**
 * The compute thread: keeps what audiences need in its own memory and never makes other requests wait. It asks its questions to
 * the database through this thread, a piece at a time, so that the interface's statements slip between. When it dies, it is
 * started again, and what it was asked fails.
 */
export function planThread(db: Db, failed: (error: unknown) => void): Plans {
  const fromSource = import.meta.url.endsWith('.ts');
  const url = new URL(fromSource ? './plan-worker-source.mjs' : './plan-worker.js', import.meta.url);
  const open = new Map<number, { resolve: (value: unknown) => void; reject: (error: Error) => void }>();
  let next = 1;
  let ended = false;
  let worker: Worker | undefined;
  const lane = db.lane('interface');

  const start = (): Worker => {
    const made = new Worker(url, { execArgv: [], resourceLimits: { maxOldGenerationSizeMb: 2048 } });
    made.unref();
    made.on('message', (said: FromPlanWorker) => {
      if (said.kind === 'query') {
        lane.query(said.sql, said.params).then(
          ({ rows, rowCount }) => made.postMessage({ kind: 'rows', id: said.id, rows, rowCount } satisfies ToPlanWorker),
          (error: unknown) =>
            made.postMessage({
              kind: 'trouble',
              id: said.id,
              message: error instanceof Error ? error.message : String(error),
            } satisfies ToPlanWorker),
        );
        return;
      }
      const waiting = open.get(said.id);
      open.delete(said.id);
      if (said.kind === 'answer') waiting?.resolve(said.value);
      else waiting?.reject(new Error(said.message));
    });
    const gone = (error: Error) => {
      if (worker !== made) return;
      worker = undefined;
      for (const { reject } of open.values()) reject(error);
      open.clear();
      if (!ended) failed(error);
    };
    made.on('error', (error) => gone(error as Error));
    made.on('exit', () => gone(new Error('The plan thread has ended; it is started again when it is needed.')));
    return made;
  };

  // at once: the first plan of the day should not wait for a thread to start
  worker = start();
  return of(
    (method, args) =>
      new Promise((resolve, reject) => {
        if (ended) return reject(new Error('The server is being stopped.'));
        worker ??= start();
        const id = next;
        next += 1;
        open.set(id, { resolve, reject });
        worker.postMessage({ kind: 'call', id, method, args } satisfies ToPlanWorker);
      }),
    async () => {
      ended = true;
      await worker?.terminate();
    },
  );
}

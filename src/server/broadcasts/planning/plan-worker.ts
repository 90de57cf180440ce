import { parentPort, workerData } from 'node:worker_threads';
import type { Queryable, Result, Row } from '../../db/db';
import { rowsOf } from '../../db/flat-rows';
import { sealWith } from '../../db/sealed';
import { PlanDesk } from './plan-desk';
import type { FromPlanWorker, ToPlanWorker } from './plan-thread';

/** The compute thread's far end: one plan desk, asked one thing after the other; its questions to the database go back. */
const port = parentPort;
if (!port) throw new Error('This file is the plan thread and is started by plan-thread.ts.');

const asked = new Map<number, { resolve: (result: Result<never>) => void; reject: (error: Error) => void }>();
let next = 1;
const say = (message: FromPlanWorker) => port.postMessage(message);

const db: Queryable = {
  query<R = Row>(sql: string, params: readonly unknown[] = []) {
    return new Promise<Result<R>>((resolve, reject) => {
      const id = next;
      next += 1;
      asked.set(id, { resolve: resolve as (result: Result<never>) => void, reject });
      say({ kind: 'query', id, sql, params: params as never });
    });
  },
};
const { key } = workerData as { key?: Uint8Array };
if (key) sealWith(key);
const desk = new PlanDesk(db);
let tail: Promise<unknown> = Promise.resolve();

port.on('message', (message: ToPlanWorker) => {
  if (message.kind === 'call') {
    const { method, args } = message;
    tail = tail
      .then(() => (desk[method] as (...args: unknown[]) => unknown).apply(desk, args))
      .then(
        (value) => say({ kind: 'answer', value }),
        (error: unknown) =>
          say({
            kind: 'trouble',
            message: error instanceof Error ? `${error.message}\n${error.stack ?? ''}` : String(error),
          }),
      );
    return;
  }
  const waiting = asked.get(message.id);
  asked.delete(message.id);
  if (message.kind === 'rows') waiting?.resolve({ rows: rowsOf(message.rows) as never[], rowCount: message.rowCount });
  else waiting?.reject(new Error(message.message));
});
say({ kind: 'ready' });

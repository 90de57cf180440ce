import { parentPort } from 'node:worker_threads';
import { tasks, type TaskName } from './tasks';

/** The thread in which what others hand in is read; see handed-in.ts for the other end and for what it may take. */
export interface ToHandedIn {
  id: number;
  task: TaskName;
  asked: unknown;
}
/** `ready`: it is loaded, and what it reads is what it takes from now on. */
export type FromHandedIn = 'ready' | { id: number; value: unknown } | { id: number; failed: string };

const port = parentPort;
if (!port) throw new Error('This file is the thread of what is handed in and is started by handed-in.ts.');
port.on('message', ({ id, task, asked }: ToHandedIn) => {
  const work = tasks[task] as (asked: unknown) => Promise<unknown>;
  work(asked).then(
    (value) => port.postMessage({ id, value } satisfies FromHandedIn),
    (error: unknown) =>
      port.postMessage({
        id,
        failed: error instanceof Error ? (error.stack ?? error.message) : String(error),
      } satisfies FromHandedIn),
  );
});
port.postMessage('ready' satisfies FromHandedIn);

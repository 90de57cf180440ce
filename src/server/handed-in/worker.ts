import { getHeapStatistics } from 'node:v8';
import { parentPort } from 'node:worker_threads';
import { tasks, type TaskName } from './tasks';

/** The thread in which what others hand in is read; see handed-in.ts for the other end and for what it may take. */
export interface ToHandedIn {
  task: TaskName;
  asked: unknown;
}
/** `ready`: it is loaded, and what it reads is what it takes from now on. */
/** `heap`: what the thread keeps afterwards, bytes. */
export type FromHandedIn = 'ready' | { heap: number; value: unknown } | { heap: number; failed: string };

const port = parentPort;
if (!port) throw new Error('This file is the thread of what is handed in and is started by handed-in.ts.');
const heap = () => getHeapStatistics().total_heap_size;
port.on('message', ({ task, asked }: ToHandedIn) => {
  const work = tasks[task] as (asked: unknown) => Promise<unknown>;
  work(asked).then(
    (value) => port.postMessage({ heap: heap(), value } satisfies FromHandedIn),
    (error: unknown) =>
      port.postMessage({
        heap: heap(),
        failed: error instanceof Error ? (error.stack ?? error.message) : String(error),
      } satisfies FromHandedIn),
  );
});
port.postMessage('ready' satisfies FromHandedIn);

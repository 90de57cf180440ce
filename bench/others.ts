import { readFileSync } from 'node:fs';
import { parentPort, Worker, workerData } from 'node:worker_threads';
import { fileURLToPath } from 'node:url';

/** Memory that a process holds, MB. */
export const held = (pid: number) =>
  Number(/VmRSS:\s+(\d+) kB/.exec(readFileSync(`/proc/${pid}/status`, 'latin1'))?.[1] ?? 0) / 1000;

interface Looking {
  url: string;
  cookie: string;
  pid: number;
}
/** What was seen since it was last asked: how long each look took, ms, and the most memory that the server held, MB. */
export interface Seen {
  waits: number[];
  most: number;
}

/**
 * Others at the desk, who look at people all the time while something goes on: in a thread of their own, so that what the bench itself
 * does (making a file of eighty megabytes) is not taken for a wait.
 */
export class Others {
  private readonly worker: Worker;
  constructor(looking: Looking) {
    this.worker = new Worker(
      `import('tsx/esm/api').then(({ register }) => (register(), import(${JSON.stringify(fileURLToPath(import.meta.url))})))`,
      {
        eval: true,
        workerData: looking,
      },
    );
  }
  seen(): Promise<Seen> {
    return new Promise((resolve) => {
      this.worker.once('message', resolve);
      this.worker.postMessage('seen');
    });
  }
  async end(): Promise<void> {
    await this.worker.terminate();
  }
}

async function look({ url, cookie, pid }: Looking, port: NonNullable<typeof parentPort>): Promise<void> {
  let seen: Seen = { waits: [], most: 0 };
  port.on('message', () => {
    port.postMessage(seen);
    seen = { waits: [], most: 0 };
  });
  for (;;) {
    const began = performance.now();
    const answer = await fetch(`${url}/api/people`, { headers: { cookie } });
    await answer.json();
    if (!answer.ok) throw new Error(`Others were answered with ${answer.status}.`);
    seen.waits.push(performance.now() - began);
    seen.most = Math.max(seen.most, held(pid));
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
}

const looking = workerData as Looking | undefined;
if (parentPort && looking?.url) void look(looking, parentPort);

import { parentPort, workerData } from 'node:worker_threads';
import { onlyForTheOwner } from './modes';
import { Statements, type Gave } from './statements';
import { openStore } from './store';
import { Wire } from './wire';

/**
 * The embedded engine's own thread: a long statement here never blocks the server's event loop.
 * Speaks a tiny request/answer protocol over the port; see thread.ts for the other end.
 */
export type WorkerRequest =
  | { id: number; kind: 'query'; sql: string; params: (string | null)[]; keeps: boolean }
  | { id: number; kind: 'exec'; sql: string }
  | { id: number; kind: 'begin' }
  | { id: number; kind: 'end'; sql: 'COMMIT' | 'ROLLBACK' }
  | { id: number; kind: 'copy'; sql: string; data: Uint8Array }
  | { id: number; kind: 'listen'; channel: string }
  | { id: number; kind: 'unlisten'; channel: string }
  | { id: number; kind: 'dump' }
  | { id: number; kind: 'close' };

/** What the thread is begun with: see openStore. */
export interface StoreData {
  dataDir?: string;
  snapshot?: Uint8Array<ArrayBuffer>;
  there?: boolean;
  unfinished?: boolean;
}

export type WorkerAnswer =
  | ({ id: number } & Gave)
  | { id: number; dump: Uint8Array }
  | { id: number; error: { message: string; code?: string; detail?: string; constraint?: string } }
  | { id: -1; channel: string; payload: string }
  | { id: -1; lost: string }
  | { id: 0; ready: true };

const port = parentPort;
if (!port) throw new Error('This file is the embedded database thread and is started by thread.ts.');

onlyForTheOwner();

/** No further statement may reach an engine that is lost: its thread ends here and now, and what was not answered never is. */
function lost(words: string): never {
  port?.postMessage({ id: -1, lost: words } satisfies WorkerAnswer);
  process.exit(1);
}

const { pg, tidy } = await openStore({ ...(workerData as StoreData), lost });
const notified = (channel: string, payload: string) => port.postMessage({ id: -1, channel, payload } satisfies WorkerAnswer);
const statements = new Statements(new Wire(pg, notified));
await pg.exec(`SET TIME ZONE 'UTC'; SET intervalstyle = 'postgres'`);

const NOTHING: Gave = { columns: [], values: [], rowCount: 0 };

const listeners = new Map<string, () => Promise<void>>();

async function answer(request: WorkerRequest): Promise<WorkerAnswer> {
  const { id } = request;
  switch (request.kind) {
    case 'query': {
      return { id, ...(await statements.run(request.sql, request.params, request.keeps)) };
    }
    case 'begin':
      statements.begin();
      return { id, ...NOTHING };
    case 'end':
      await statements.end(request.sql);
      return { id, ...NOTHING };
    case 'exec':
      // migrations and maintenance
      await statements.ready();
      await pg.exec(request.sql);
      if (/\b(?:ALTER|CREATE|DROP)\b/i.test(request.sql)) await statements.forget();
      return { id, ...NOTHING };
    case 'copy': {
      await statements.ready();
      const result = await pg.query(request.sql, [], { blob: new Blob([request.data as Uint8Array<ArrayBuffer>]) });
      return { id, ...NOTHING, rowCount: result.affectedRows ?? 0 };
    }
    case 'listen':
      listeners.set(
        request.channel,
        // what is answered to the package itself, too
        await pg.listen(request.channel, (payload) => notified(request.channel, payload)),
      );
      return { id, ...NOTHING };
    case 'unlisten':
      await listeners.get(request.channel)?.();
      listeners.delete(request.channel);
      return { id, ...NOTHING };
    case 'dump': {
      const file = await pg.dumpDataDir('none');
      return { id, dump: new Uint8Array(await file.arrayBuffer()) };
    }
    case 'close':
      await pg.close();
      return { id, ...NOTHING };
  }
}

/**
 * PostgreSQL gives a folder that may not be written the code of a missing privilege (42501). Here nobody lacks any: it is the file system's
 * (58030, io_error), which passes when it can be written again.
 */
const ofTheDisk = (code: string | undefined): string | undefined => (code === '42501' ? '58030' : code);

// one after the other, in the order they came
let tail: Promise<unknown> = Promise.resolve();
port.on('message', (request: WorkerRequest) => {
  tail = tail
    .then(() => answer(request))
    .then(
      (reply) => port.postMessage(reply),
      (error: unknown) => {
        const e = error as { message?: string; code?: string; detail?: string; constraint?: string };
        port.postMessage({
          id: request.id,
          error: { message: e.message ?? String(error), code: ofTheDisk(e.code), detail: e.detail, constraint: e.constraint },
        });
      },
    )
    .then(tidy);
});
port.postMessage({ id: 0, ready: true } satisfies WorkerAnswer);

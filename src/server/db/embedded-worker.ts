import { parentPort, workerData } from 'node:worker_threads';
import { PGlite } from '@electric-sql/pglite';
import { pg_trgm } from '@electric-sql/pglite/contrib/pg_trgm';
import { onlyForTheOwner } from './embedded-modes';
import { Statements } from './embedded-statements';

/**
 * The embedded engine's own thread: a long statement here never blocks the server's event loop.
 * Speaks a tiny request/answer protocol over the port; see embedded.ts for the other end.
 */
export type WorkerRequest =
  | { id: number; kind: 'query'; sql: string; params: (string | null)[] }
  | { id: number; kind: 'exec'; sql: string }
  | { id: number; kind: 'copy'; sql: string; data: Uint8Array }
  | { id: number; kind: 'listen'; channel: string }
  | { id: number; kind: 'unlisten'; channel: string }
  | { id: number; kind: 'dump' }
  | { id: number; kind: 'close' };

export type WorkerAnswer =
  | { id: number; rows: unknown[]; rowCount: number }
  | { id: number; dump: Uint8Array }
  | { id: number; error: { message: string; code?: string; detail?: string; constraint?: string } }
  | { id: -1; channel: string; payload: string }
  | { id: 0; ready: true };

const port = parentPort;
if (!port) throw new Error('This file is the embedded database thread and is started by embedded.ts.');

onlyForTheOwner();
const { dataDir, snapshot } = workerData as { dataDir?: string; snapshot?: Uint8Array<ArrayBuffer> };
const pg = await PGlite.create({
  dataDir,
  loadDataDir: snapshot ? new Blob([snapshot]) : undefined,
  extensions: { pg_trgm },
});
const statements = new Statements(pg);
await pg.exec(`SET TIME ZONE 'UTC'; SET intervalstyle = 'postgres'; SET plan_cache_mode = force_custom_plan`);

const listeners = new Map<string, () => Promise<void>>();

async function answer(request: WorkerRequest): Promise<WorkerAnswer> {
  const { id } = request;
  switch (request.kind) {
    case 'query': {
      return { id, ...(await statements.run(request.sql, request.params)) };
    }
    case 'exec':
      await pg.exec(request.sql);
      // migrations and maintenance; transactions begin and end this way, too
      if (/\b(?:ALTER|CREATE|DROP)\b/i.test(request.sql)) await statements.forget();
      return { id, rows: [], rowCount: 0 };
    case 'copy': {
      const result = await pg.query(request.sql, [], { blob: new Blob([request.data as Uint8Array<ArrayBuffer>]) });
      return { id, rows: [], rowCount: result.affectedRows ?? 0 };
    }
    case 'listen':
      listeners.set(
        request.channel,
        await pg.listen(request.channel, (payload) => port?.postMessage({ id: -1, channel: request.channel, payload })),
      );
      return { id, rows: [], rowCount: 0 };
    case 'unlisten':
      await listeners.get(request.channel)?.();
      listeners.delete(request.channel);
      return { id, rows: [], rowCount: 0 };
    case 'dump': {
      const file = await pg.dumpDataDir('none');
      return { id, dump: new Uint8Array(await file.arrayBuffer()) };
    }
    case 'close':
      await pg.close();
      return { id, rows: [], rowCount: 0 };
  }
}

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
          error: { message: e.message ?? String(error), code: e.code, detail: e.detail, constraint: e.constraint },
        });
      },
    );
});
port.postMessage({ id: 0, ready: true } satisfies WorkerAnswer);

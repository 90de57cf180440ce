import { parentPort, workerData } from 'node:worker_threads';
import { PGlite } from '@electric-sql/pglite';
import { pg_trgm } from '@electric-sql/pglite/contrib/pg_trgm';
import { PARAM_OIDS, PARSERS } from './values';

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

const { dataDir, snapshot } = workerData as { dataDir?: string; snapshot?: Uint8Array<ArrayBuffer> };
const serializers = Object.fromEntries(PARAM_OIDS.map((oid) => [oid, (value: unknown) => value as string]));
const parsers = { ...PARSERS };
const pg = await PGlite.create({
  dataDir,
  loadDataDir: snapshot ? new Blob([snapshot]) : undefined,
  extensions: { pg_trgm },
  parsers,
});
await pg.exec(`SET TIME ZONE 'UTC'; SET intervalstyle = 'postgres'`);

const listeners = new Map<string, () => Promise<void>>();

async function answer(request: WorkerRequest): Promise<WorkerAnswer> {
  const { id } = request;
  switch (request.kind) {
    case 'query': {
      const result = await pg.query(request.sql, request.params, { serializers, parsers });
      return { id, rows: result.rows, rowCount: result.affectedRows || result.rows.length };
    }
    case 'exec':
      await pg.exec(request.sql);
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

port.on('message', (request: WorkerRequest) => {
  answer(request).then(
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

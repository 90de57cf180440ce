import { Worker } from 'node:worker_threads';
import type { Db, Lane, Param, Result, Row, Tx } from './db';
import { DbError } from './db-error';
import type { WorkerAnswer, WorkerRequest } from './embedded-worker';
import { LaneLock } from './lanes';
import { toCopyText, toText } from './values';

type Bare<T> = T extends unknown ? Omit<T, 'id'> : never;
type Answered = { rows: unknown[]; rowCount: number; dump?: Uint8Array };

/** The worker thread's near end: numbers requests and matches answers. */
class Thread {
  private readonly worker: Worker;
  private readonly open = new Map<number, { resolve: (answer: Answered) => void; reject: (error: Error) => void }>();
  private next = 1;
  private died: Error | undefined;
  readonly heard = new Map<string, Set<(payload: string) => void>>();
  readonly ready: Promise<void>;

  constructor(data: { dataDir?: string; snapshot?: Uint8Array }) {
    const fromSource = import.meta.url.endsWith('.ts');
    const url = new URL(fromSource ? './embedded-worker-source.mjs' : './embedded-worker.js', import.meta.url);
    this.worker = new Worker(url, { workerData: data, execArgv: [] });
    this.ready = new Promise((resolve, reject) => {
      this.open.set(0, { resolve: () => resolve(), reject });
    });
    this.worker.on('message', (answer: WorkerAnswer) => this.receive(answer));
    this.worker.on('error', (error) => this.fail(error as Error));
    this.worker.on('exit', () => this.fail(new Error('The database thread has ended.')));
  }

  ask(request: Bare<WorkerRequest>): Promise<Answered> {
    if (this.died) return Promise.reject(this.died);
    const id = this.next++;
    return new Promise((resolve, reject) => {
      this.open.set(id, { resolve, reject });
      this.worker.postMessage({ ...request, id });
    });
  }

  end(): Promise<number> {
    return this.worker.terminate();
  }

  private receive(answer: WorkerAnswer): void {
    if ('channel' in answer) {
      for (const heard of this.heard.get(answer.channel) ?? []) heard(answer.payload);
      return;
    }
    const waiting = this.open.get(answer.id);
    this.open.delete(answer.id);
    if (!waiting) return;
    if ('error' in answer) waiting.reject(new DbError(answer.error.message, answer.error.code, answer.error.constraint));
    else if ('ready' in answer) waiting.resolve({ rows: [], rowCount: 0 });
    else if ('dump' in answer) waiting.resolve({ rows: [], rowCount: 0, dump: answer.dump });
    else waiting.resolve(answer);
  }

  private fail(error: Error): void {
    this.died ??= error;
    for (const waiting of this.open.values()) waiting.reject(error);
    this.open.clear();
  }
}

const COPY_BYTES = 1 << 20;

/** Statements on the one connection; whoever holds the lane lock may use it. */
function onConnection(thread: Thread): Tx {
  return {
    async query<R = Row>(sql: string, params: readonly Param[] = []) {
      const answer = await thread.ask({ kind: 'query', sql, params: params.map(toText) });
      return answer as Result<R>;
    },
    async copyIn(table, columns, chunks) {
      const sql = `COPY ${table} (${columns.join(', ')}) FROM '/dev/blob' WITH (FORMAT text)`;
      const encoder = new TextEncoder();
      let lines: string[] = [];
      let size = 0;
      let total = 0;
      const flush = async () => {
        if (lines.length === 0) return;
        await thread.ask({ kind: 'copy', sql, data: encoder.encode(lines.join('')) });
        lines = [];
        size = 0;
      };
      for await (const rows of chunks) {
        for (const row of rows) {
          const line = `${row.map(toCopyText).join('\t')}\n`;
          lines.push(line);
          size += line.length;
          total += 1;
        }
        if (size >= COPY_BYTES) await flush();
      }
      await flush();
      return total;
    },
  };
}

/**
 * PostgreSQL compiled to WebAssembly, in its own thread, on a folder (or in memory when `dataDir` is left out).
 * One connection: the lane lock decides who is next. Callers take the folder lock first (see folder-lock.ts).
 */
export async function openEmbedded(
  options: { dataDir?: string; snapshot?: Uint8Array } = {},
): Promise<Db & { dump(): Promise<Uint8Array> }> {
  const thread = new Thread(options);
  await thread.ready;
  const lock = new LaneLock();
  const connection = onConnection(thread);

  const inLane = (lane: Lane): Db & { dump(): Promise<Uint8Array> } => {
    const held = async <T>(work: () => Promise<T>): Promise<T> => {
      const release = await lock.acquire(lane);
      try {
        return await work();
      } finally {
        release();
      }
    };
    const transaction = <T>(work: (tx: Tx) => Promise<T>): Promise<T> =>
      held(async () => {
        // not waited for: the thread takes one message after the other, and what comes next fails if this did
        const begun = thread.ask({ kind: 'exec', sql: 'BEGIN' });
        begun.catch(() => undefined);
        try {
          const result = await work(connection);
          await begun;
          await thread.ask({ kind: 'exec', sql: 'COMMIT' });
          return result;
        } catch (error) {
          await thread.ask({ kind: 'exec', sql: 'ROLLBACK' }).catch(() => undefined);
          throw error;
        }
      });
    return {
      engine: 'embedded',
      lane: inLane,
      query: (sql, params) => held(() => connection.query(sql, params)),
      exec: (sql) => held(async () => void (await thread.ask({ kind: 'exec', sql }))),
      copyIn: (table, columns, chunks) => transaction((tx) => tx.copyIn(table, columns, chunks)),
      transaction,
      async *stream<R>(sql: string, params: readonly Param[], size: number) {
        // A holdable cursor is materialized at COMMIT, so each FETCH is a short statement of its own.
        const name = `stream_${(cursorNumber += 1)}`;
        await transaction((tx) => tx.query(`DECLARE ${name} NO SCROLL CURSOR WITH HOLD FOR ${sql}`, params));
        try {
          for (;;) {
            const { rows } = await held(() => connection.query<R>(`FETCH ${size} FROM ${name}`));
            if (rows.length > 0) yield rows;
            if (rows.length < size) return;
          }
        } finally {
          await held(() => connection.query(`CLOSE ${name}`));
        }
      },
      async listen(channel, heard) {
        const set = thread.heard.get(channel) ?? new Set();
        thread.heard.set(channel, set);
        set.add(heard);
        if (set.size === 1) await held(() => thread.ask({ kind: 'listen', channel }));
        return async () => {
          set.delete(heard);
          if (set.size === 0) await held(() => thread.ask({ kind: 'unlisten', channel }));
        };
      },
      dump: () => held(async () => (await thread.ask({ kind: 'dump' })).dump ?? new Uint8Array()),
      async close() {
        await held(() => thread.ask({ kind: 'close' }));
        await thread.end();
      },
    };
  };
  return inLane('interface');
}

let cursorNumber = 0;

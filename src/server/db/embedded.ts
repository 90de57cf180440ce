import type { Db, Lane, Param, Result, Row, Tx } from './db';
import { LaneLock } from './lanes';
import { StoreKeeper } from './store/keeper';
import type { StoreData } from './store/store-worker';
import type { StoreThread } from './store/thread';
import { toCopyText, toText } from './values';

const COPY_BYTES = 1 << 20;

/**
 * Statements on the one connection; whoever holds the lane lock may use it. In the lane of dispatch the same few statements find rows by
 * their keys thousands of times: their plans are kept, and everywhere else each run is planned for its values.
 */
function onConnection(thread: StoreThread, lane: Lane, sent: Promise<unknown>[] = []): Tx {
  const keeps = lane === 'dispatch';
  const ask = (sql: string, params: readonly Param[]) => thread.ask({ kind: 'query', sql, params: params.map(toText), keeps });
  return {
    async query<R = Row>(sql: string, params: readonly Param[] = []) {
      return (await ask(sql, params)) as Result<R>;
    },
    send(sql, params = []) {
      const asked = ask(sql, params);
      asked.catch(() => undefined);
      sent.push(asked);
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
 * @param source the thread's file, where tests put another
 */
export async function openEmbedded(
  options: { dataDir?: string; snapshot?: Uint8Array; unfinished?: boolean } = {},
  source?: URL,
): Promise<Db & { dump(): Promise<Uint8Array> }> {
  const keeper = new StoreKeeper(options as StoreData, source);
  await keeper.ready;
  const lock = new LaneLock();

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
        // to its end on the one thread: a transaction does not go on in another
        const thread = await keeper.current();
        // not waited for: the thread takes one message after the other, and does not commit what failed in between
        const begun = thread.ask({ kind: 'begin' });
        begun.catch(() => undefined);
        const sent: Promise<unknown>[] = [begun];
        try {
          const result = await work(onConnection(thread, lane, sent));
          const ended = thread.ask({ kind: 'end', sql: 'COMMIT' });
          // the first that failed says why
          await Promise.all([...sent, ended]);
          return result;
        } catch (error) {
          await thread.ask({ kind: 'end', sql: 'ROLLBACK' }).catch(() => undefined);
          throw error;
        }
      });
    return {
      engine: 'embedded',
      lane: inLane,
      query: (sql, params) => held(async () => onConnection(await keeper.current(), lane).query(sql, params)),
      exec: (sql) => held(async () => void (await (await keeper.current()).ask({ kind: 'exec', sql }))),
      copyIn: (table, columns, chunks) => transaction((tx) => tx.copyIn(table, columns, chunks)),
      transaction,
      async *stream<R>(sql: string, params: readonly Param[], size: number) {
        // A holdable cursor is materialized at COMMIT, so each FETCH is a short statement of its own.
        const name = `stream_${(cursorNumber += 1)}`;
        // where the store has to be opened anew, the cursor is gone with its thread, and the next FETCH says so
        const thread = await keeper.current();
        await transaction((tx) => tx.query(`DECLARE ${name} NO SCROLL CURSOR WITH HOLD FOR ${sql}`, params));
        const ask = <A>(words: string) => held(() => onConnection(thread, lane).query<A>(words));
        try {
          for (;;) {
            const { rows } = await ask<R>(`FETCH ${size} FROM ${name}`);
            if (rows.length > 0) yield rows;
            if (rows.length < size) return;
          }
        } finally {
          await ask(`CLOSE ${name}`);
        }
      },
      async listen(channel, heard) {
        const release = await held(() => keeper.listen(channel, heard));
        return () => held(release);
      },
      dump: () => held(async () => (await (await keeper.current()).ask({ kind: 'dump' })).dump ?? new Uint8Array()),
      close: () => held(() => keeper.close()),
    };
  };
  return inLane('interface');
}

let cursorNumber = 0;

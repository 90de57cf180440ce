import type { Db, Lane, Param, Queryable, Tx } from '../db';
import { DbError } from '../db-error';

/** A database in which what speaks of `about` fails so many times before it is done, with a SQLSTATE; in a transaction, as there. */
export class Failing implements Db {
  readonly engine: Db['engine'];

  constructor(
    private readonly inner: Db,
    private readonly about: RegExp,
    /** How many times more; shared by all lanes. */
    readonly left: { times: number },
    private readonly code = '40P01',
  ) {
    this.engine = inner.engine;
  }

  lane(lane: Lane): Db {
    return new Failing(this.inner.lane(lane), this.about, this.left, this.code);
  }

  async query<R>(sql: string, params?: readonly Param[]) {
    this.mayFail(sql);
    return this.inner.query<R>(sql, params);
  }

  transaction<T>(work: (tx: Tx) => Promise<T>): Promise<T> {
    return this.inner.transaction(async (tx) => {
      const query: Queryable['query'] = async (sql, params) => {
        this.mayFail(sql);
        return tx.query(sql, params);
      };
      // waited for at the end, as there
      const sent: Promise<unknown>[] = [];
      const send: Tx['send'] = (sql, params) => {
        const asked = query(sql, params);
        asked.catch(() => undefined);
        sent.push(asked);
      };
      const result = await work({ query, send, copyIn: (...load) => tx.copyIn(...load) });
      await Promise.all(sent);
      return result;
    });
  }

  private mayFail(sql: string): void {
    if (this.left.times <= 0 || !this.about.test(sql)) return;
    this.left.times -= 1;
    throw new DbError('deadlock detected', this.code);
  }

  stream: Db['stream'] = (sql, params, size) => this.inner.stream(sql, params, size);
  copyIn: Db['copyIn'] = (...load) => this.inner.copyIn(...load);
  exec: Db['exec'] = (sql) => this.inner.exec(sql);
  listen: Db['listen'] = (channel, heard) => this.inner.listen(channel, heard);
  close: Db['close'] = () => this.inner.close();
}

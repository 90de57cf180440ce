import { Dice } from '../../../core/line/simulator/dice';
import type { Db, Lane, Param, Queryable, Tx } from '../db';

/**
 * A database over a bad connection: what speaks of `about` is done, and now and then its answer is lost, so that whoever asked
 * hears of a failure. Deterministic for a seed. `while` it is on.
 */
export class Forgetful implements Db {
  readonly engine: Db['engine'];
  /** Answers that were lost so far. */
  readonly told: { lost: number; on: boolean };

  constructor(
    private readonly inner: Db,
    private readonly about: RegExp,
    private readonly often: number,
    private readonly dice = new Dice(7),
    told = { lost: 0, on: true },
  ) {
    this.engine = inner.engine;
    this.told = told;
  }

  lane(lane: Lane): Db {
    return new Forgetful(this.inner.lane(lane), this.about, this.often, this.dice, this.told);
  }

  async query<R>(sql: string, params?: readonly Param[]) {
    const answer = await this.inner.query<R>(sql, params);
    if (this.about.test(sql)) this.maybeLose();
    return answer;
  }

  async transaction<T>(work: (tx: Tx) => Promise<T>): Promise<T> {
    let touched = false;
    const answer = await this.inner.transaction((tx) => {
      const query: Queryable['query'] = (sql, params) => {
        touched ||= this.about.test(sql);
        return tx.query(sql, params);
      };
      const send: Tx['send'] = (sql, params) => {
        touched ||= this.about.test(sql);
        tx.send(sql, params);
      };
      return work({ query, send, copyIn: (...load) => tx.copyIn(...load) });
    });
    if (touched) this.maybeLose();
    return answer;
  }

  private maybeLose(): void {
    if (!this.told.on || !this.dice.chance(this.often)) return;
    this.told.lost += 1;
    throw new Error('the answer of the database was lost');
  }

  stream: Db['stream'] = (sql, params, size) => this.inner.stream(sql, params, size);
  copyIn: Db['copyIn'] = (...load) => this.inner.copyIn(...load);
  exec: Db['exec'] = (sql) => this.inner.exec(sql);
  listen: Db['listen'] = (channel, heard) => this.inner.listen(channel, heard);
  close: Db['close'] = () => this.inner.close();
}

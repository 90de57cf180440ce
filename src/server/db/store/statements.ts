import type { BackendMessage } from 'pg-protocol/dist/messages';
import { serialize } from 'pg-protocol/dist/serializer';
import type { FlatRows } from '../flat-rows';
import { notCommitted } from '../db-error';
import { PARSERS } from '../values';
import type { Wire } from './wire';

const MOST = 400;
/** PostgreSQL itself plans the first runs of a prepared statement each for its values, and from then on may keep one plan (`choose_custom_plan`). */
const PLANNED_EACH = 5;
/** After so many runs a plan that is kept is made anew all the same: tables grow, and the plan for an empty one would stay. */
const KEPT = 100;

/** What a statement gave. */
export interface Gave extends FlatRows {
  rowCount: number;
}

interface Statement {
  name: string;
  columns: readonly string[];
  parsers: readonly ((text: string) => unknown)[];
  /** Since it was prepared. */
  runs: number;
}

type Completed = BackendMessage & { text: string };
type Described = BackendMessage & { fields: { name: string; dataTypeID: number }[] };

const asText = (text: string): string => text;

/**
 * Statements prepared once and run by one message each (PostgreSQL's extended query protocol, Bind + Execute + Sync in one
 * buffer). The package's own `query` prepares anew and crosses into the engine five times: measured, 1.1 ms a statement against
 * 0.3. Plans are made for the values of each run, so that their frequency counts: a statement is prepared anew before the engine keeps
 * one plan for all. The session itself is left on `plan_cache_mode = auto`: what the engine asks by itself (keys that are checked row by
 * row, statements of functions) is planned once, and so is what the line and the jobs ask over and over.
 */
export class Statements {
  private readonly known = new Map<string, Statement>();
  private next = 1;
  private beginning = false;
  /** Something has failed since the transaction began. */
  private failed = false;

  constructor(private readonly wire: Wire) {}

  /** @param keeps it finds rows by their keys, whatever the values: its plan is kept for a while */
  async run(sql: string, params: readonly (string | null)[], keeps = false): Promise<Gave> {
    try {
      return await this.attempt(sql, params, keeps);
    } catch (error) {
      this.failed = true;
      throw error;
    }
  }

  private async attempt(sql: string, params: readonly (string | null)[], keeps: boolean): Promise<Gave> {
    let statement = this.known.get(sql);
    if (statement) {
      // the latest used last: the first is the one to give up
      this.known.delete(sql);
      this.known.set(sql, statement);
    } else statement = await this.prepare(sql);
    const before = this.begun();
    const after = [];
    if (statement.runs >= (keeps ? KEPT : PLANNED_EACH)) {
      // in the same crossing; under another name, so that one is always there
      const old = statement.name;
      statement.name = this.newName();
      statement.runs = 0;
      before.push(serialize.parse({ name: statement.name, text: sql }));
      after.push(serialize.close({ type: 'S', name: old }));
    }
    statement.runs += 1;
    const own = [serialize.bind({ statement: statement.name, values: [...params] }), serialize.execute({})];
    try {
      const { columns, parsers } = statement;
      const values: unknown[] = [];
      let rowCount = 0;
      await this.wire.ask([...before, ...own, ...after, serialize.sync()], {
        row(texts) {
          for (let i = 0; i < texts.length; i += 1) {
            const text = texts[i];
            values.push(text === null ? null : parsers[i](text));
          }
        },
        other(message) {
          // "UPDATE 3", "INSERT 0 5": the last number is how many
          if (message.name === 'commandComplete') rowCount = Number(/\d+$/.exec((message as Completed).text)?.[0] ?? 0);
        },
      });
      return { columns, values, rowCount: rowCount || (columns.length > 0 ? values.length / columns.length : 0) };
    } catch (error) {
      // whether it was prepared anew before this failed is not known: it is prepared from the beginning next time
      if (after.length > 0) {
        this.known.delete(sql);
        const gone = serialize.close({ type: 'S', name: statement.name });
        await this.wire.ask([gone, ...after, serialize.sync()]);
      }
      throw error;
    }
  }

  /** A transaction begins with its first statement, in one crossing with it. */
  begin(): void {
    this.beginning = true;
    this.failed = false;
  }

  /**
   * COMMIT or ROLLBACK. Of a transaction in which nothing was asked there is nothing to end. Whoever asks for the commit may not have heard
   * yet that something failed: then nothing is committed, whether PostgreSQL knows of it or not, and it is said.
   * @throws DbError
   */
  async end(sql: 'COMMIT' | 'ROLLBACK'): Promise<void> {
    if (this.beginning) {
      this.beginning = false;
      return;
    }
    let done = '';
    await this.wire.ask([serialize.query(this.failed ? 'ROLLBACK' : sql)], {
      other(message) {
        if (message.name === 'commandComplete') done = (message as Completed).text;
      },
    });
    if (sql === 'COMMIT' && done !== 'COMMIT') throw notCommitted();
  }

  /** Whatever else is asked of the engine than by `run`: a transaction that is to begin has begun before it. */
  async ready(): Promise<void> {
    const begin = this.begun();
    if (begin.length > 0) await this.wire.ask(begin);
  }

  private begun(): Uint8Array[] {
    if (!this.beginning) return [];
    this.beginning = false;
    return [serialize.query('BEGIN')];
  }

  private newName(): string {
    const name = `s${this.next}`;
    this.next += 1;
    return name;
  }

  private async prepare(sql: string): Promise<Statement> {
    await this.ready();
    const name = this.newName();
    let fields: Described['fields'] = [];
    await this.wire.ask([serialize.parse({ name, text: sql }), serialize.describe({ type: 'S', name }), serialize.sync()], {
      other(message) {
        if (message.name === 'rowDescription') ({ fields } = message as Described);
      },
    });
    const statement: Statement = {
      name,
      columns: fields.map((field) => field.name),
      parsers: fields.map((field) => PARSERS[field.dataTypeID] ?? asText),
      runs: 0,
    };
    this.known.set(sql, statement);
    if (this.known.size > MOST) {
      const [[oldest, gone]] = this.known;
      this.known.delete(oldest);
      await this.wire.ask([serialize.close({ type: 'S', name: gone.name }), serialize.sync()]);
    }
    return statement;
  }

  /** The tables may have changed: what was prepared is forgotten. */
  async forget(): Promise<void> {
    if (this.known.size === 0) return;
    this.known.clear();
    await this.wire.ask([serialize.query('DEALLOCATE ALL')]);
  }
}

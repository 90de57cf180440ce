/** What may be bound to a parameter. Objects for jsonb are stringified by the caller and cast in the statement. */
export type Param = string | number | bigint | boolean | null | undefined | Date | readonly Param[];

export interface Result<Row> {
  rows: Row[];
  /** Rows touched by the statement (or returned by it). */
  rowCount: number;
}

/**
 * Which queue a statement waits in. The embedded engine has one connection, so a bulk load that came first
 * must not make a person wait: interface goes before dispatch goes before bulk.
 */
export type Lane = 'interface' | 'dispatch' | 'bulk';
export const LANES: readonly Lane[] = ['interface', 'dispatch', 'bulk'];

export type Row = Record<string, unknown>;

/** Anything one can ask: the database itself or an open transaction. */
export interface Queryable {
  query<R = Row>(sql: string, params?: readonly Param[]): Promise<Result<R>>;
}

/** An open transaction; use it, not the database, for everything inside. */
export interface Tx extends Queryable {
  /**
   * A statement whose answer nobody waits for. It is carried out in its turn, before what is asked after it, and the transaction commits
   * only if it was done; where it fails, the transaction fails with its error.
   */
  send(sql: string, params?: readonly Param[]): void;
  /**
   * Bulk load of finished rows. `chunks` yields arrays of rows, each row in the order of `columns`.
   * Returns the number of rows loaded.
   */
  copyIn(
    table: string,
    columns: readonly string[],
    chunks: Iterable<readonly Param[][]> | AsyncIterable<readonly Param[][]>,
  ): Promise<number>;
}

/**
 * The database, one interface over both engines. Values come out alike from both: int8 as number, timestamptz as
 * ISO 8601 UTC text, date as `YYYY-MM-DD`, numeric and interval as text, jsonb parsed, arrays as arrays.
 */
export interface Db extends Omit<Tx, 'send'> {
  readonly engine: 'embedded' | 'postgres';
  /** The same database, waiting in another lane. */
  lane(lane: Lane): Db;
  /** Rows of a long answer, `size` at a time; other statements slip in between. */
  stream<R = Row>(sql: string, params: readonly Param[], size: number): AsyncIterable<R[]>;
  /** Several statements without parameters (migrations, maintenance). */
  exec(sql: string): Promise<void>;
  transaction<T>(work: (tx: Tx) => Promise<T>): Promise<T>;
  /** Calls `heard` for each NOTIFY on the channel until the returned function is called. */
  listen(channel: string, heard: (payload: string) => void): Promise<() => Promise<void>>;
  close(): Promise<void>;
}

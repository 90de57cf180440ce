import { Chunks } from '../../db/chunks';
import type { Db, Param, Queryable, Tx } from '../../db/db';
import type { NumberedRow } from '../../files/table';
import { isBroken } from '../../../core/text/tidy';

/** So much of a file's rows is held at once, whoever asks: a row may hold six million characters, and a file of short cells many. */
export const MOST_AT_ONCE = 500_000;
/** What a cell weighs beside its characters. */
const CELL = 16;

/** What a row weighs. */
export const sizeOf = (cells: readonly string[]): number => cells.reduce((sum, cell) => sum + cell.length + CELL, 0);

export interface StagedRow {
  row_no: number;
  cells: string[];
  /** Of the last dry run; null when there was none. */
  verdict: string | null;
  reason: string | null;
}

/** Puts rows of a file down, without what no text in the database may hold. */
export async function keepRows(db: Pick<Tx, 'copyIn'>, importId: number, rows: readonly NumberedRow[]): Promise<void> {
  const kept = rows.map(({ no, cells }): Param[] => {
    const whole = cells.map((cell) => (isBroken(cell) ? cell.replaceAll('\0', '').toWellFormed() : cell));
    return [importId, no, whole, sizeOf(whole)];
  });
  await db.copyIn('import_row', ['import_id', 'row_no', 'cells', 'size'], [kept]);
}

/**
 * The next rows of a file after `after` and up to `last`: at most `most`, and fewer where they hold much, but always one while there
 * is one. With `verdicts`, only those that the last dry run judged so.
 */
export async function nextRows(
  db: Queryable,
  importId: number,
  wanted: { after: number; last?: number; verdicts?: readonly string[] },
  most: number,
): Promise<StagedRow[]> {
  const { after, last = 2_000_000_000, verdicts } = wanted;
  // ranges on both sides of the join: else the rest of the file is joined and sorted for every piece
  const rows = verdicts
    ? `SELECT r.row_no, r.cells, r.size, v.verdict, v.reason FROM import_verdict v JOIN import_row r ON r.import_id = v.import_id AND r.row_no = v.row_no
       WHERE v.import_id = $1 AND v.row_no > $2 AND v.row_no <= $3 AND r.import_id = $1 AND r.row_no > $2 AND r.row_no <= $3 AND v.verdict = ANY ($6::text[])`
    : `SELECT r.row_no, r.cells, r.size, NULL AS verdict, NULL AS reason FROM import_row r
       WHERE r.import_id = $1 AND r.row_no > $2 AND r.row_no <= $3`;
  const params: Param[] = [importId, after, last, most, MOST_AT_ONCE];
  return (
    await db.query<StagedRow>(
      `SELECT row_no, cells, verdict, reason FROM (
         SELECT *, sum(size) OVER (ORDER BY row_no) - size AS before FROM (${rows} ORDER BY r.row_no LIMIT $4::int) AS batch
       ) AS summed WHERE before < $5::bigint ORDER BY row_no`,
      verdicts ? [...params, verdicts] : params,
    )
  ).rows;
}

/** What a file has put down goes, piece by piece: its rows, what the dry run said of them, or both. */
export async function clearRows(db: Db, importId: number, tables: readonly ('import_row' | 'import_verdict')[]): Promise<void> {
  const bulk = db.lane('bulk');
  const chunks = new Chunks(db, 200, 5000);
  for (const table of tables)
    for (let after: number | null = -1; after !== null;) {
      const from: number = after;
      after = await chunks.take(async (size) => {
        const { rows } = await bulk.query<{ last: number | null }>(
          `SELECT max(row_no) AS last FROM (SELECT row_no FROM ${table} WHERE import_id = $1 AND row_no > $2 ORDER BY row_no LIMIT $3::int) AS piece`,
          [importId, from, size],
        );
        const [{ last }] = rows;
        // by their range: asked for one by one, the planner may go through all that is there for each piece
        if (last !== null)
          await bulk.query(`DELETE FROM ${table} WHERE import_id = $1 AND row_no > $2 AND row_no <= $3`, [importId, from, last]);
        return last;
      });
    }
}

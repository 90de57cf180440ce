import { isBroken } from '../../../core/text/tidy';
import { nothingHere, Refusal } from '../../../core/api/refusal';
import type { Queryable, Tx } from '../../db/db';
import { sizeOf } from './file-rows';
import { busy, importOf, openImport } from './import-store';

/**
 * Corrects one cell of a file on the bench; the counts are to be made anew. What the file has stays beside it, and is all there is once
 * every cell is as it was.
 *
 * @throws Refusal 404 where there is no such row or column, 409 when the bench is closed, 422 for a row that is no person's
 */
export async function correctCell(
  tx: Tx,
  id: number,
  { row, column, text }: { row: number; column: number; text: string },
): Promise<void> {
  const { settings, facts } = await openImport(tx, id);
  if (row <= settings.heading_row || column >= facts.headings.length)
    throw new Refusal('wrong', 'cell', 'Only the cells under the headings can be corrected.', { place: `row ${row + 1}` });
  // a bench is changed by one at a time: whoever comes second finds the row as the first has left it
  const changed = await tx.query(`UPDATE import SET at_row = 1, version = version + 1 WHERE id = $1 AND state = 'open'`, [id]);
  if (changed.rowCount === 0) throw busy(await importOf(tx, id));
  const { rows } = await tx.query<{ cells: string[]; was: string[] | null }>(
    `SELECT cells, was FROM import_row WHERE import_id = $1 AND row_no = $2`,
    [id, row],
  );
  if (rows.length === 0) throw nothingHere();
  const was = rows[0].was ?? rows[0].cells;
  const cells = Array.from({ length: Math.max(was.length, rows[0].cells.length, column + 1) }, (_, at) =>
    at === column ? (isBroken(text) ? text.replaceAll('\0', '').toWellFormed() : text) : (rows[0].cells[at] ?? ''),
  );
  // a cell that the file has not, and nothing in it, are the same
  const same = cells.every((cell, at) => cell === (was[at] ?? ''));
  const kept = same ? was : cells;
  await tx.query(`UPDATE import_row SET cells = $3::text[], was = $4::text[], size = $5 WHERE import_id = $1 AND row_no = $2`, [
    id,
    row,
    kept,
    same ? null : was,
    sizeOf(kept),
  ]);
}

/** In how many rows of a file somebody has corrected something. */
export async function correctedRows(db: Queryable, id: number): Promise<number> {
  const { rows } = await db.query<{ n: number }>(
    `SELECT count(*)::int AS n FROM import_row WHERE import_id = $1 AND was IS NOT NULL`,
    [id],
  );
  return rows[0].n;
}

import type { Row } from './db';

/**
 * Rows as they cross between threads: what they are called once, and their values in one list, row by row. Copied so (structured clone,
 * WHATWG HTML §2.7) they cost a fraction of what as many objects do.
 */
export interface FlatRows {
  columns: readonly string[];
  values: unknown[];
}

/** @param rows of one statement: alike in their names and the order of them */
export function flatOf(rows: readonly Row[]): FlatRows {
  const columns = rows.length === 0 ? [] : Object.keys(rows[0]);
  const values: unknown[] = [];
  for (const row of rows) for (const column of columns) values.push(row[column]);
  return { columns, values };
}

export function rowsOf({ columns, values }: FlatRows): Row[] {
  const rows: Row[] = [];
  for (let at = 0; at < values.length;) {
    const row: Row = {};
    for (const column of columns) {
      row[column] = values[at];
      at += 1;
    }
    rows.push(row);
  }
  return rows;
}

import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { openTable } from './open-table';
import type { Encoding, OpenTable } from './table';

export interface ReadWhole extends Omit<OpenTable, 'rows'> {
  rows: string[][];
  /** Row numbers as the file counts them, 0-based. */
  numbers: number[];
}

/** Everything of a file's bytes, as openTable reads them from disk. */
export async function readWhole(
  bytes: Uint8Array | string,
  options: { encoding?: Encoding; sheet?: string } = {},
): Promise<ReadWhole> {
  const folder = mkdtempSync(join(tmpdir(), 'bell-file-'));
  try {
    const path = join(folder, 'file');
    writeFileSync(path, bytes);
    const table = await openTable(path, options);
    const rows: string[][] = [];
    const numbers: number[] = [];
    for await (const batch of table.rows())
      for (const row of batch) {
        rows.push(row.cells);
        numbers.push(row.no);
      }
    return { ...table, rows, numbers };
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** The one sentence a file is refused with, or `read`. */
export async function refusal(bytes: Uint8Array | string): Promise<string> {
  try {
    await readWhole(bytes);
    return 'read';
  } catch (error) {
    return (error as Error).message;
  }
}

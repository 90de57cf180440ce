import { sizeOf, type Entry } from '../../../core/line/entries';
import type { Tx } from '../../db/db';
import { fence } from './owner';

/** Writes entries, in their order; empty ones are left out. Returns how many parts they speak of. The caller has fenced. */
export async function writeEntries(tx: Tx, epoch: number, entries: readonly Entry[]): Promise<number> {
  const written = entries.filter((entry) => sizeOf(entry) > 0);
  if (written.length === 0) return 0;
  await tx.query(`INSERT INTO line_journal (epoch, entry) VALUES ${written.map((_, i) => `($1, $${i + 2}::json)`).join(', ')}`, [
    epoch,
    ...written.map((entry) => JSON.stringify(entry)),
  ]);
  return written.reduce((sum, entry) => sum + sizeOf(entry), 0);
}

/**
 * Journals one entry in a transaction of its own.
 * @throws Fenced
 */
export async function keepEntry(
  db: { transaction<T>(work: (tx: Tx) => Promise<T>): Promise<T> },
  epoch: number,
  entry: Entry,
): Promise<number> {
  return db.transaction(async (tx) => {
    await fence(tx, epoch);
    return writeEntries(tx, epoch, [entry]);
  });
}

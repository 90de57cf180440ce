import { sizeOf, type Entry } from '../../../core/line/entries';
import type { Queryable, Tx } from '../../db/db';
import { Fenced } from './fenced';

/**
 * Writes the entries of a window, in their order, and when the senders' lines are free after it; empty entries are left out.
 * Returns how many parts they speak of. The caller has fenced.
 */
export function writeEntries(tx: Tx, epoch: number, entries: readonly Entry[], freeAt: ReadonlyMap<number, number>): number {
  const written = entries.filter((entry) => sizeOf(entry) > 0);
  if (written.length === 0 && freeAt.size === 0) return 0;
  // nothing comes after it: it goes with the COMMIT
  tx.send(`SELECT line_write($1, $2::json[], $3::bigint[], $4::bigint[])`, [
    epoch,
    written.map((entry) => JSON.stringify(entry)),
    [...freeAt.keys()],
    [...freeAt.values()].map(Math.ceil),
  ]);
  return written.reduce((sum, entry) => sum + sizeOf(entry), 0);
}

/**
 * Journals entries, fenced and committed in one statement.
 * @throws Fenced
 */
export async function keepEntries(db: Queryable, epoch: number, entries: readonly Entry[]): Promise<number> {
  const written = entries.filter((entry) => sizeOf(entry) > 0);
  if (written.length === 0) return 0;
  const { rowCount } = await db.query(
    `WITH own AS (SELECT epoch FROM line_owner WHERE epoch = $1 AND ended_at IS NULL FOR SHARE)
     INSERT INTO line_journal (epoch, entry) SELECT own.epoch, new.entry FROM own, unnest($2::json[]) WITH ORDINALITY AS new (entry, n) ORDER BY n`,
    [epoch, written.map((entry) => JSON.stringify(entry))],
  );
  if (rowCount === 0) throw new Fenced();
  return written.reduce((sum, entry) => sum + sizeOf(entry), 0);
}

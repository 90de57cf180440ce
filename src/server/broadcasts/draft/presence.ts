import { iso } from '../../../core/clock';
import type { Queryable } from '../../db/db';

/** An open sheet that has not been heard of for so long is closed, ms. */
const GONE = 20_000;

/** Says that somebody has a draft open, and where on it; tells who else has. */
export async function beHere(
  db: Queryable,
  here: { tab: string; broadcast: number; account: number; place: string; now: number },
): Promise<{ name: string; place: string }[]> {
  await db.query(
    `INSERT INTO draft_presence (tab, broadcast_id, account_id, place, seen_at) SELECT $1, id, $3, $4, $5::timestamptz FROM broadcast WHERE id = $2
     ON CONFLICT (tab) DO UPDATE SET broadcast_id = excluded.broadcast_id, account_id = excluded.account_id, place = excluded.place, seen_at = excluded.seen_at`,
    [here.tab, here.broadcast, here.account, here.place, iso(here.now)],
  );
  await db.query(`DELETE FROM draft_presence WHERE seen_at < $1::timestamptz`, [iso(here.now - GONE)]);
  // somebody's own other sheets are nobody else; of another with two, where they were last
  const { rows } = await db.query<{ name: string; place: string }>(
    `SELECT name, place FROM (SELECT DISTINCT ON (p.account_id) account.name, p.place, p.account_id FROM draft_presence p JOIN account ON account.id = p.account_id
       WHERE p.broadcast_id = $1 AND p.tab <> $2 AND p.account_id <> $3 ORDER BY p.account_id, p.seen_at DESC) AS others ORDER BY name LIMIT 20`,
    [here.broadcast, here.tab, here.account],
  );
  return rows;
}

export async function leave(db: Queryable, tab: string): Promise<void> {
  await db.query(`DELETE FROM draft_presence WHERE tab = $1`, [tab]);
}

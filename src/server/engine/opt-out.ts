import type { Queryable } from '../db/db';
import { removeByNumber } from './removals';

/** How someone said stop. */
export interface OptOut {
  number: string;
  /** `texted`, `told us`, `wrong number`, `link`. */
  how: string;
  /** Their words. */
  words: string;
}

/**
 * The one road into the do-not-text register: every sender and purpose, at once, whatever is planned. Idempotent; the first
 * entry stays. Returns whether it is new, and the runs that lost a text.
 */
export async function optOut(db: Queryable, said: OptOut, at: string): Promise<{ added: boolean; runs: number[] }> {
  const { rowCount } = await db.query(
    `INSERT INTO suppression (number, at, how, words) VALUES ($1, $2::timestamptz, $3, $4) ON CONFLICT (number) DO NOTHING`,
    [said.number, at, said.how, said.words],
  );
  // whatever they wrote before is decided by this
  await db.query(`DELETE FROM hold_number WHERE number = $1`, [said.number]);
  return { added: rowCount > 0, runs: await removeByNumber(db, [said.number], 'opted out', at) };
}

/** A person has decided what a reply meant: unless another still waits, runs may text the number again. */
export async function decided(db: Queryable, number: string): Promise<void> {
  await db.query(
    `DELETE FROM hold_number WHERE number = $1 AND NOT EXISTS (SELECT 1 FROM inbound WHERE inbound.number = $1 AND kind = 'maybe_stop' AND done_at IS NULL)`,
    [number],
  );
}

/** Lifts the register for a number whose holder said so themselves. Returns whether it was there. */
export async function optIn(db: Queryable, number: string): Promise<boolean> {
  await db.query(`DELETE FROM hold_number WHERE number = $1`, [number]);
  return (await db.query(`DELETE FROM suppression WHERE number = $1`, [number])).rowCount > 0;
}

import { isNumber } from '../../core/phone/number';
import { sealed, sealedAmong } from '../db/sealed';
import type { Queryable } from '../db/db';
import { notSent } from './runs/not-sent';

/** How someone said stop. */
export interface OptOut {
  number: string;
  /** `texted`, `told us`, `wrong number`, `link`. */
  how: string;
  /** Their words. */
  words: string;
  /** The reply that said so: by it the confirmation knows that it is the first. */
  inbound?: number;
}

/**
 * Whoever registers a stop waits for the transactions of the line that have read the register already, and those that come after read what
 * this wrote: when a stop is acknowledged, nothing that was decided without it is still to be written. The line holds the same lock
 * shared (`line_opens`). First of all locks (docs/engine.md, *Locks*).
 */
export const REGISTER_LOCK = `SELECT pg_advisory_xact_lock(7301)`;

/**
 * The one road into the do-not-text register: every sender and purpose, at once, whatever is planned. Idempotent; the first
 * entry stays. What is no number cannot be texted, and needs none. Returns the runs that lost a text.
 */
export async function optOutAll(db: Queryable, all: readonly OptOut[], at: string): Promise<{ added: number; runs: number[] }> {
  const said = all.filter(({ number }) => isNumber(number));
  if (said.length === 0) return { added: 0, runs: [] };
  await db.query(REGISTER_LOCK);
  const { rowCount } = await db.query(
    `INSERT INTO suppression (number, at, how, words, inbound_id)
     SELECT DISTINCT ON (number) number, $1::timestamptz, how, words, nullif(inbound_id, 0)
     FROM unnest($2::text[], $3::text[], $4::text[], $5::bigint[]) WITH ORDINALITY AS said (number, how, words, inbound_id, n) ORDER BY number, n
     ON CONFLICT (number) DO NOTHING`,
    [at, said.map((s) => s.number), said.map((s) => s.how), said.map((s) => s.words), said.map((s) => s.inbound ?? 0)],
  );
  const numbers = [...new Set(said.map((s) => s.number))].sort();
  // whoever was asked whether they want to be signed up has answered now
  await db.query(`UPDATE sign_up SET state = 'ended' WHERE number = ANY ($1::text[]) AND state = 'asked'`, [numbers]);
  return { added: rowCount, runs: await notSent(db, { numbers }, 'opted out', at) };
}

/** The same for one. Returns whether it is new. */
export async function optOut(db: Queryable, said: OptOut, at: string): Promise<{ added: boolean; runs: number[] }> {
  const { added, runs } = await optOutAll(db, [said], at);
  return { added: added > 0, runs };
}

/** Lifts the register for a number whose holder said so themselves. Returns whether it was there. */
export async function optIn(db: Queryable, number: string): Promise<boolean> {
  await db.query(REGISTER_LOCK);
  const open = await db.query(`DELETE FROM suppression WHERE number = $1`, [number]);
  const closed = await db.query(`DELETE FROM register_sealed WHERE hash = $1`, [sealed(number)]);
  return open.rowCount + closed.rowCount > 0;
}

export async function isRegistered(db: Queryable, number: string): Promise<boolean> {
  if ((await db.query(`SELECT 1 FROM suppression WHERE number = $1`, [number])).rowCount > 0) return true;
  return (await sealedAmong(db, [number])).size > 0;
}

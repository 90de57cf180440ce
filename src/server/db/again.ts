import type { Db, Tx } from './db';
import { isPassing } from './db-error';

/** Between two tries, ms. */
const WAITS = [20, 80, 250];

/**
 * A transaction that is tried again when its trouble passes by itself. Only for bodies that may run twice: one whose answer was lost
 * may have happened, so what it does is found by a key of its own, or is the same when it is done again.
 */
export async function transactionAgain<T>(db: Db, work: (tx: Tx) => Promise<T>, waits: readonly number[] = WAITS): Promise<T> {
  for (let tries = 0; ; tries += 1)
    try {
      return await db.transaction(work);
    } catch (error) {
      if (tries >= waits.length || !isPassing(error)) throw error;
      await new Promise((resolve) => setTimeout(resolve, waits[tries]));
    }
}

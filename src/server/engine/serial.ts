import { DbError } from '../db/db-error';

/**
 * Acceptances and receipts update the same rows in different orders. Within one process they take turns;
 * between processes the database may still pick a victim (SQLSTATE 40P01), which simply tries again.
 */
export class Serial {
  private tail: Promise<unknown> = Promise.resolve();

  run<T>(work: () => Promise<T>): Promise<T> {
    const result = this.tail.then(() => again(work));
    this.tail = result.catch(() => undefined);
    return result;
  }
}

async function again<T>(work: () => Promise<T>): Promise<T> {
  for (let attempt = 1; ; attempt += 1) {
    try {
      return await work();
    } catch (error) {
      if (!(error instanceof DbError) || error.code !== '40P01' || attempt >= 20) throw error;
    }
  }
}

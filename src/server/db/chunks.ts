import type { Db } from './db';

/** How long a bulk transaction may hold the embedded engine's one connection: each statement of others waits that long at most, ms. */
const TARGET_MS = 170;

/**
 * How many rows the next chunk of long work takes. The embedded engine has one connection, so chunks are made as large
 * as fit into a short while on this machine; a server has many, and takes the largest.
 */
export class Chunks {
  private size: number;
  constructor(
    private readonly db: Pick<Db, 'engine'>,
    private readonly least = 200,
    private readonly most = 4000,
    private readonly target = TARGET_MS,
  ) {
    this.size = db.engine === 'embedded' ? 500 : most;
  }

  get rows(): number {
    return Math.round(this.size);
  }

  /** Runs one chunk and learns from how long it took. */
  async take<T>(work: (rows: number) => Promise<T>): Promise<T> {
    const began = performance.now();
    const result = await work(this.rows);
    const took = Math.max(1, performance.now() - began);
    // half of the way each time, so that one slow chunk does not make the next ones tiny
    if (this.db.engine === 'embedded')
      this.size = Math.min(this.most, Math.max(this.least, (this.size + this.size * Math.min(3, this.target / took)) / 2));
    return result;
  }
}

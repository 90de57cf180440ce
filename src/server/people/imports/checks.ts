import type { Logger } from 'pino';
import type { ImportSettings } from '../../../core/api/people/import-settings';
import type { ImportCounts } from '../../../core/api/people/imports';
import type { Db } from '../../db/db';
import { isPassing } from '../../db/db-error';
import type { Bus } from '../../desk/bus';
import { dryRun } from './dry-run';
import type { RowReading } from './row-thread';

/** What is said of a bench whose rows could not be checked; its next change checks them anew. */
export const NOT_CHECKED =
  'The rows could not be checked; something went wrong on our side. Change a choice to check them again, or choose the file once more.';

/** The dry runs of benches: one at a time for an import, in pieces, each for the version of the bench that it was begun with. */
export class Checks {
  /** Before rows that could not be checked are checked again, ms. */
  retryAfter = 2000;
  private readonly going = new Map<number, { stop: boolean; done: Promise<void> }>();

  constructor(
    private readonly app: { db: Db; bus: Bus; log: Logger },
    private readonly reading: RowReading,
  ) {}

  /** The dry run that is going on for an import, if any, comes to its end first. */
  async settled(id: number): Promise<void> {
    await this.going.get(id)?.done;
  }

  async stop(id: number): Promise<void> {
    const before = this.going.get(id);
    if (!before) return;
    before.stop = true;
    await before.done;
  }

  /** Checks the bench as it is now; a newer dry run stops the one before, whose answer nobody wants. */
  async run(id: number): Promise<void> {
    const mine: { stop: boolean; done: Promise<void> } = { stop: false, done: Promise.resolve() };
    const before = this.going.get(id);
    if (before) before.stop = true;
    const running = (async () => {
      await before?.done;
      if (!mine.stop) await this.check(id, () => mine.stop);
    })();
    mine.done = running.catch(() => undefined);
    this.going.set(id, mine);
    try {
      await running;
    } finally {
      if (this.going.get(id) === mine) this.going.delete(id);
    }
  }

  /** Where the database is away it is tried again, later and later: a bench does not stay "checking" until a restart. */
  private async check(id: number, stopped: () => boolean): Promise<void> {
    const { bus, log } = this.app;
    for (let wait = this.retryAfter; !stopped(); wait = Math.min(60_000, wait * 2)) {
      try {
        await this.checkOnce(id, stopped);
        break;
      } catch (error) {
        if (!isPassing(error)) throw error;
        log.error({ err: error, import: id }, 'the rows of a file are checked again in a while');
        await new Promise((resolve) => setTimeout(resolve, wait).unref());
      }
    }
    bus.changed('import', id);
  }

  private async checkOnce(id: number, stopped: () => boolean): Promise<void> {
    const { db, bus, log } = this.app;
    // what has been decided is not checked again; what is checked is the bench as it is now
    const { rows } = await db.query<{ settings: ImportSettings; version: number }>(
      `UPDATE import SET at_row = 1 WHERE id = $1 AND state = 'open' RETURNING settings, version`,
      [id],
    );
    if (rows.length === 0) return;
    const [{ settings, version }] = rows;
    const at = async (row: number) => {
      const { rowCount } = await db.query(`UPDATE import SET at_row = $2 WHERE id = $1 AND state = 'open' AND version = $3`, [
        id,
        Math.max(1, row),
        version,
      ]);
      bus.changed('import', id);
      return rowCount > 0 && !stopped();
    };
    try {
      const counts: ImportCounts | undefined = await dryRun(db, id, settings, at, this.reading);
      // counts belong to the version they were made of; of an older one nobody wants them
      if (counts)
        await db.query(
          `UPDATE import SET counts = $2::jsonb, at_row = 0, checked_version = $3, facts = facts - 'failure' WHERE id = $1 AND state = 'open' AND version = $3`,
          [id, JSON.stringify(counts), version],
        );
    } catch (error) {
      if (isPassing(error)) throw error;
      // nothing can be decided meanwhile: the counts are of no version
      log.error({ err: error, import: id }, 'the rows of a file could not be checked');
      await db.query(
        `UPDATE import SET at_row = 0, checked_version = 0, facts = facts || $2::jsonb WHERE id = $1 AND state = 'open' AND version = $3`,
        [id, JSON.stringify({ failure: NOT_CHECKED }), version],
      );
    }
  }
}

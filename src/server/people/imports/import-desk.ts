import { rm } from 'node:fs/promises';
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import type { Logger } from 'pino';
import type { ImportSettings } from '../../../core/api/people/import-settings';
import { UNDO_DAYS, type ImportFacts, type SourceChoice } from '../../../core/api/people/imports';
import { iso, type Clock } from '../../../core/clock';
import type { Db } from '../../db/db';
import type { Bus } from '../../desk/bus';
import { GivenUp, Reading, type FileReading, type ReadingAsked } from '../../files/reading-thread';
import { UnreadableFile, type NumberedRow } from '../../files/table';
import { rollForward, unfinishedImports } from './bring-in';
import { Checks } from './checks';
import { firstSettings } from './first-settings';
import { WORTH_COUNTING } from './dry-run';
import { correctedRows } from './correct-cell';
import { clearRows, keepRows } from './file-rows';
import { RowThread, type RowReading } from './row-thread';
import { undoForward, unfinishedUndos } from './undo-import';

/** A reading that failed with the whole server so often is not begun again. */
const MOST_TRIES = 2;

const PRUNED = 5000;

/** Rows, and characters of a cell, that the first look at a file goes by. */
const HEAD = 400;
const HEAD_CELL = 300;
const shortened = ({ no, cells }: NumberedRow): NumberedRow => ({ no, cells: cells.map((cell) => cell.slice(0, HEAD_CELL)) });

/** What is said of an import that cannot go on for the moment. */
const STUCK = {
  writing: 'It cannot go on just now and is tried again by itself. What was written is kept.',
  undoing: 'It cannot be taken back further just now, and is tried again by itself.',
} as const;

/** How long an answer waits for a file or a dry run before it says "still working". */
const PATIENCE = 5000;

/**
 * The long jobs of importing: reading a file onto the bench, the dry run, bringing in, undoing. Each shows where it is
 * and goes on after a restart.
 */
export class ImportDesk {
  private readonly readings = new Map<number, FileReading>();
  private readonly checks: Checks;
  /** Before what failed is tried again, ms. */
  set retryAfter(ms: number) {
    this.checks.retryAfter = ms;
    this.waits = ms;
  }
  private waits = 2000;
  constructor(
    private readonly app: { db: Db; clock: Clock; bus: Bus; log: Logger },
    /** Uploads wait here, under their import's id, until the import is decided. */
    readonly uploads: string,
    private readonly begin: (asked: ReadingAsked) => FileReading = (asked) => new Reading(asked),
    private readonly rowReading: RowReading = new RowThread(),
  ) {
    this.checks = new Checks(app, rowReading);
  }

  /** What a stopped server left unfinished goes on; uploads that belong to nothing are removed. */
  async resume(): Promise<void> {
    const { db } = this.app;
    const { rows } = await db.query<{ id: number; state: string; at_row: number; facts: ImportFacts; settings: ImportSettings }>(
      `SELECT id, state, at_row, facts, settings FROM import WHERE state IN ('reading', 'open')`,
    );
    const wanted = new Set(rows.map((row) => String(row.id)));
    for (const name of safeList(this.uploads)) if (!wanted.has(name)) await rm(join(this.uploads, name), { force: true });
    for (const row of rows) {
      if (row.state === 'reading') this.background(row.id, this.readAgain(row));
      else if (row.at_row > 0) this.background(row.id, this.checks.run(row.id));
    }
    this.background(0, this.prune());
    for (const id of await unfinishedImports(db)) this.bringIn(id);
    for (const id of await unfinishedUndos(db)) this.undo(id);
  }

  /**
   * Rows of files go when their import can no longer be undone, and when nobody will ever read them; those of a file that a broadcast
   * uses stay with it.
   */
  async prune(): Promise<void> {
    const bulk = this.app.db.lane('bulk');
    const until = iso(this.app.clock.now() - UNDO_DAYS * 86_400_000);
    for (const table of ['import_row', 'import_verdict', 'import_refusal'])
      for (let gone = PRUNED; gone === PRUNED;)
        gone = (
          await bulk.query(
            `DELETE FROM ${table} WHERE ctid IN (SELECT r.ctid FROM ${table} r LEFT JOIN import ON import.id = r.import_id
               WHERE import.id IS NULL OR import.state IN ('failed', 'given_up') OR (import.state IN ('done', 'undone') AND import.created_at < $1::timestamptz)
               LIMIT ${PRUNED})`,
            [until],
          )
        ).rowCount;
  }

  /** A reading that a restart cut short begins anew; when it fails, that is said, and the import does not stay "reading". */
  private async readAgain(row: { id: number; facts: ImportFacts; settings: ImportSettings }): Promise<void> {
    try {
      await this.read(row.id, choicesOf(row.facts));
    } catch (error) {
      if (error instanceof GivenUp) return;
      if (!(error instanceof UnreadableFile)) this.app.log.error({ err: error, import: row.id }, 'reading a file again failed');
      const sentence =
        error instanceof UnreadableFile
          ? error.message
          : 'It could not be read again after a restart. Choose the file once more.';
      await this.app.db.query(
        `UPDATE import SET state = 'failed', facts = facts || $2::jsonb WHERE id = $1 AND state = 'reading'`,
        [row.id, JSON.stringify({ failure: sentence })],
      );
      await this.forget(row.id);
      this.app.bus.changed('import', row.id);
    }
  }

  bringIn(id: number): void {
    const { db, clock, bus } = this.app;
    this.background(
      id,
      this.toItsEnd(id, 'writing', () => rollForward(db, clock, bus, id, this.rowReading)),
    );
  }

  /**
   * What was decided is written to its end, and what is undone undone: a chunk that fails (a full disk, a database that was away) is tried
   * again, later and later, and the import says so meanwhile; its list is not locked until somebody restarts the server.
   */
  private async toItsEnd(id: number, state: 'writing' | 'undoing', work: () => Promise<void>): Promise<void> {
    const { db, bus, log } = this.app;
    for (let wait = this.waits; ; wait = Math.min(60_000, wait * 2)) {
      try {
        await work();
        await db.query(`UPDATE import SET facts = facts - 'failure' WHERE id = $1 AND facts ? 'failure'`, [id]);
        return;
      } catch (error) {
        log.error({ err: error, import: id }, 'an import could not go on; it is tried again');
        await db
          .query(`UPDATE import SET facts = facts || $2::jsonb WHERE id = $1 AND state = $3`, [
            id,
            JSON.stringify({ failure: STUCK[state] }),
            state,
          ])
          .catch(() => undefined);
        bus.changed('import', id);
        await new Promise((resolve) => setTimeout(resolve, wait).unref());
      }
    }
  }

  undo(id: number): void {
    const { db, clock, bus } = this.app;
    this.background(
      id,
      this.toItsEnd(id, 'undoing', () => undoForward(db, clock, bus, id)),
    );
  }

  private background(id: number, job: Promise<unknown>): void {
    job.catch((error: unknown) =>
      this.app.log.error({ err: error, import: id }, 'an import stopped; it goes on at the next start'),
    );
  }

  pathOf(id: number): string {
    return join(this.uploads, String(id));
  }

  /** The upload is no longer needed. */
  async forget(id: number): Promise<void> {
    await rm(this.pathOf(id), { force: true });
  }

  /**
   * Reads the import's file onto the bench and checks it. Waits for the end of it a few seconds; a file that cannot be
   * read within them leaves nothing behind, later the import says why.
   * @throws UnreadableFile
   */
  async take(id: number): Promise<void> {
    const job = this.read(id, {});
    let late = false;
    const settled = job.catch(async (error: unknown) => {
      if (error instanceof GivenUp) return this.cleared(id);
      if (!(error instanceof UnreadableFile)) this.app.log.error({ err: error, import: id }, 'reading a file failed');
      const sentence =
        error instanceof UnreadableFile ? error.message : 'It could not be read; something went wrong on our side.';
      if (late) {
        await this.app.db.query(
          `UPDATE import SET state = 'failed', facts = facts || $2::jsonb WHERE id = $1 AND state = 'reading'`,
          [id, JSON.stringify({ failure: sentence })],
        );
        this.app.bus.changed('import', id);
      } else await this.app.db.query(`DELETE FROM import WHERE id = $1`, [id]);
      // whoever waits for the answer does not wait for this
      this.background(id, this.cleared(id));
      if (!late) throw error;
    });
    await Promise.race([settled, patience().then(() => (late = true))]);
  }

  /** What a reading that came to nothing has put down goes, with its file. */
  private async cleared(id: number): Promise<void> {
    await clearRows(this.app.db, id, ['import_row', 'import_verdict']);
    await this.app.db.query(`DELETE FROM import_refusal WHERE import_id = $1`, [id]);
    await this.forget(id);
  }

  /** Reads the file again: another sheet, encoding or delimiter. False when it was decided or given up in the meantime. */
  async reread(id: number, options: SourceChoice): Promise<boolean> {
    await this.checks.stop(id);
    const begun = await this.app.db.query<{ facts: ImportFacts }>(
      `UPDATE import SET state = 'reading', row_count = 0, version = version + 1 WHERE id = $1 AND state = 'open' RETURNING facts`,
      [id],
    );
    if (begun.rowCount === 0) return false;
    const job = this.read(id, { ...choicesOf(begun.rows[0].facts), ...options }).catch(async (error: unknown) => {
      if (error instanceof GivenUp) return this.cleared(id);
      // what was read before is gone from the bench; the file is still here, and another choice may suit
      await this.app.db.query(
        `UPDATE import SET state = 'open', facts = facts || $2::jsonb, counts = '{}', tries = 0 WHERE id = $1 AND state = 'reading'`,
        [id, JSON.stringify({ headings: [], notes: [(error as Error).message] })],
      );
      throw error;
    });
    await Promise.race([job, patience()]);
    return true;
  }

  private async read(id: number, options: SourceChoice): Promise<void> {
    const { db, bus } = this.app;
    const bulk = db.lane('bulk');
    const { rows: begun } = await db.query<{ facts: ImportFacts; tries: number }>(
      `UPDATE import SET tries = tries + 1 WHERE id = $1 AND state = 'reading' RETURNING facts, tries`,
      [id],
    );
    if (begun.length === 0) throw new GivenUp();
    const [{ facts: before, tries }] = begun;
    if (tries > MOST_TRIES) throw new UnreadableFile('The server stopped twice while it read this file; it is not tried again.');
    const reading = this.begin({ path: this.pathOf(id), pasted: before.pasted ?? false, options });
    this.readings.set(id, reading);
    try {
      const table = await reading.facts();
      const corrected = await correctedRows(bulk, id);
      await clearRows(db, id, ['import_row']);
      const head: NumberedRow[] = [];
      let width = 0;
      let count = 0;
      let last = 0;
      for await (const batch of reading.rows(table.notes)) {
        if (head.length < HEAD) head.push(...batch.slice(0, HEAD - head.length).map(shortened));
        for (const row of batch) width = Math.max(width, row.cells.length);
        await keepRows(bulk, id, batch);
        count += batch.length;
        last = batch[batch.length - 1].no;
        const going = await bulk.query(`UPDATE import SET row_count = $2 WHERE id = $1 AND state = 'reading'`, [id, count]);
        if (going.rowCount === 0) throw new GivenUp();
        bus.changed('import', id);
      }
      if (count > WORTH_COUNTING) await bulk.exec('ANALYZE import_row');
      const facts: ImportFacts = { headings: [], ...table, last, ...(before.pasted ? { pasted: true } : {}) };
      if (options.delimiter !== undefined) facts.chosen_delimiter = options.delimiter;
      if (corrected > 0)
        facts.notes.push(
          `The file was read again as it is: what you had corrected in ${corrected === 1 ? 'one row' : `${corrected} rows`} is as the file has it.`,
        );
      const settings = await firstSettings(db, head, width, facts, this.app.clock.now());
      // a reading that came to its end does not count: the next one is not the second that failed
      const read = await db.query(
        `UPDATE import SET state = 'open', facts = $2::jsonb, settings = $3::jsonb, tries = 0, version = version + 1 WHERE id = $1 AND state = 'reading'`,
        [id, JSON.stringify(facts), JSON.stringify(settings)],
      );
      if (read.rowCount === 0) throw new GivenUp();
    } finally {
      this.readings.delete(id);
      await reading.end();
    }
    await this.checks.run(id);
  }

  /** Ends what is going on with an import that was given up; what it has put down goes in the background, a piece at a time. */
  async abandon(id: number): Promise<void> {
    await this.readings.get(id)?.end();
    await this.checks.stop(id);
    this.background(id, this.cleared(id));
  }

  /** Waits a few seconds for the dry run of the bench as it is; true when it has ended. */
  async checkFor(id: number): Promise<boolean> {
    const job = this.checks.run(id);
    this.background(id, job);
    return Promise.race([job.then(() => true), patience().then(() => false)]);
  }

  /** The dry run that is going on for an import, if any, comes to its end first. */
  settled(id: number): Promise<void> {
    return this.checks.settled(id);
  }
}

/** What has been chosen of a file so far stays chosen when something else is. */
function choicesOf({ sheet, encoding, chosen_delimiter }: ImportFacts): SourceChoice {
  return { sheet, encoding, ...(chosen_delimiter === undefined ? {} : { delimiter: chosen_delimiter }) };
}

function patience(): Promise<void> {
  return new Promise((resolve) => setTimeout(resolve, PATIENCE).unref());
}

function safeList(folder: string): string[] {
  try {
    return readdirSync(folder);
  } catch {
    return [];
  }
}

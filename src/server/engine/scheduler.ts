import { iso, type Clock } from '../../core/clock';
import type { Resolved } from '../../core/line/entries';
import type { Db } from '../db/db';
import { AlarmWatch } from './alarms';
import { runById } from '../broadcasts/run-queries';
import type { Bus } from './bus';
import { cleanLists } from './clean-lists';
import type { Inbound } from './inbound';
import type { LineDriver } from './line/driver';
import { settleRun, settleTexts } from './money';
import { Rounds } from './rounds';
import { returnUnsentCodes } from './return-codes';
import { clearCalledOff, endWithoutNext, sweepEnded } from './sweep';

const TICK = 1000;
const MINUTE = 60_000;
/** The longest validity, and an hour for the last receipt. */
const FORGOTTEN_AFTER = 25 * 3_600_000;
const QUIET_CARE = 10 * MINUTE;

/** Starts runs at their time, ends them, clears away what goes no more, and keeps small tables small. */
export class Scheduler {
  private readonly db: Db;
  private readonly alarms: AlarmWatch;
  private readonly rounds: Rounds;
  private minuteAt = -Infinity;
  private careAt: number;

  constructor(
    db: Db,
    private readonly clock: Clock,
    private readonly bus: Bus,
    private readonly line: LineDriver,
    private readonly inbound: Inbound,
    failed: (error: unknown) => void,
  ) {
    this.db = db.lane('dispatch');
    this.rounds = new Rounds(clock, TICK, () => this.tick(), failed);
    this.careAt = clock.now() + QUIET_CARE;
    this.alarms = new AlarmWatch(db, clock, bus);
  }

  start(): void {
    this.rounds.start();
  }

  end(): Promise<void> {
    return this.rounds.end();
  }

  private readonly alive = () => !this.rounds.over;

  /** One look at everything that time brings about. Asks only small tables. Called by the loop, and by tests. */
  async tick(): Promise<void> {
    const now = this.clock.now();
    await this.startDue(now);
    if (await clearCalledOff(this.db, iso(now), this.alive)) this.bus.changed('runs');
    for (const run of await sweepEnded(this.db, now, this.alive)) this.bus.changed('run', run);
    await this.endFinished(iso(now));
    await this.alarms.tick();
    if (now - this.minuteAt < MINUTE) return;
    this.minuteAt = now;
    await this.inbound.closeIncomplete();
    await this.closeForgotten(now);
    await this.care(now);
  }

  private async startDue(now: number): Promise<void> {
    const { rows } = await this.db.query<{
      id: number;
      due_at: string;
      not_after: string;
      late_limit_minutes: number;
      asks: string | null;
    }>(
      `SELECT run.id, run.due_at, run.not_after, run.asks, workspace.late_limit_minutes FROM run, workspace
       WHERE run.state = 'waiting' AND run.due_at <= $1::timestamptz AND run.takeback_until <= $1::timestamptz ORDER BY run.due_at, run.id`,
      [iso(now)],
    );
    for (const run of rows) {
      // read again: between the statement and here the machine may have slept
      const moment = this.clock.now();
      const late = moment - Date.parse(run.due_at);
      const missed =
        moment >= Date.parse(run.not_after)
          ? 'past its no use after'
          : late > run.late_limit_minutes * MINUTE
            ? `${Math.round(late / MINUTE)} minutes late`
            : undefined;
      // it waits for a person, as long as it may be late
      if (run.asks !== null && !missed) continue;
      const why = run.asks === null ? 'The server could not start it in time' : `Nobody agreed to it in time (${run.asks})`;
      await this.db.query(
        missed
          ? `UPDATE run SET state = 'missed', note = $2 WHERE id = $1 AND state = 'waiting'`
          : `UPDATE run SET state = 'sending', started_at = $2::timestamptz WHERE id = $1 AND state = 'waiting' AND asks IS NULL`,
        [run.id, missed ? `${why}: ${missed}. Nothing was sent.` : iso(moment)],
      );
      this.bus.changed('runs');
      this.bus.changed('run', run.id);
      this.bus.work();
    }
  }

  /** Runs of which every part has its answer end, and pay for what was taken. */
  private async endFinished(at: string): Promise<void> {
    const { rows } = await this.db.query<{ id: number }>(
      `SELECT id FROM run WHERE NOT called_off AND (state IN ('sending', 'paused') OR (state IN ('stopped', 'missed') AND ended_at IS NULL))
         AND NOT EXISTS (SELECT 1 FROM run_tally t WHERE t.run_id = run.id AND t.open_texts > 0)`,
    );
    for (const { id } of rows) {
      await this.db.transaction(async (tx) => {
        const { rowCount } = await tx.query(
          `UPDATE run SET state = CASE WHEN state IN ('sending', 'paused') THEN 'finished' ELSE state END, ended_at = $2::timestamptz
           WHERE id = $1 AND ended_at IS NULL AND state IN ('sending', 'paused', 'stopped', 'missed')`,
          [id, at],
        );
        if (rowCount === 0) return;
        await settleRun(tx, id, at);
        await returnUnsentCodes(tx, id);
        await cleanLists(tx, id, at);

        const { broadcast_id } = (await tx.query<{ broadcast_id: number }>(`SELECT broadcast_id FROM run WHERE id = $1`, [id]))
          .rows[0];
        await endWithoutNext(tx, broadcast_id, at);
      });
      // what is dear to count is counted before anybody opens it
      await runById(this.db, id, at);
      this.bus.changed('run', id);
      this.bus.changed('runs');
      this.bus.changed('balance');
    }
  }

  /** An hour after its validity, a text of which the carrier never said what became is uncertain for good. */
  private async closeForgotten(now: number): Promise<void> {
    const { rows } = await this.db.query<{ outbound_id: number; part_no: number }>(
      `SELECT p.outbound_id, p.part_no FROM outbound o JOIN outbound_part p ON p.outbound_id = o.id
       WHERE (o.run_id IN (SELECT t.run_id FROM run_tally t JOIN run ON run.id = t.run_id WHERE t.state = 'with_carrier' AND t.people > 0 AND run.due_at < $1::timestamptz)
              OR o.run_id IS NULL)
         AND o.state = 'with_carrier' AND p.state = 'with_carrier' AND p.written_at < $1::timestamptz ORDER BY p.outbound_id LIMIT 2000`,
      [iso(now - FORGOTTEN_AFTER)],
    );
    await this.line.resolved(rows.map((row): Resolved => ({ text: row.outbound_id, no: row.part_no, kind: 'forgotten' })));
  }

  /**
   * The embedded engine has no autovacuum. Small tables that live fast are kept small every minute; the large ones are looked
   * after when nothing is going out, since a statement there makes everyone wait.
   */
  private async care(now: number): Promise<void> {
    if (this.db.engine !== 'embedded') return;
    const bulk = this.db.lane('bulk');
    for (const table of ['line_queue', 'line_journal', 'line_pace', 'line_owner', 'run_tally'])
      await bulk.exec(`VACUUM (ANALYZE) ${table}`);
    if (now < this.careAt) return;
    this.careAt = now + QUIET_CARE;
    const busy = await this.db.query(
      `SELECT 1 FROM run WHERE state IN ('planning', 'sending') OR (state = 'waiting' AND due_at < $1::timestamptz) LIMIT 1`,
      [iso(now + QUIET_CARE)],
    );
    if (busy.rowCount > 0) return;
    for (const table of ['outbound_part', 'outbound', 'inbound']) if (this.alive()) await bulk.exec(`VACUUM (ANALYZE) ${table}`);
  }

  /** Pays for single texts and runs that were left unpaid by an earlier version or a crash; at the start. */
  async settleAll(at: string): Promise<void> {
    await this.db.transaction(async (tx) => {
      const { rows } = await tx.query<{ outbound_id: number }>(
        `SELECT outbound_id FROM balance_entry WHERE outbound_id IS NOT NULL AND kind = 'hold'
           AND NOT EXISTS (SELECT 1 FROM balance_entry later WHERE later.outbound_id = balance_entry.outbound_id AND later.id > balance_entry.id)`,
      );
      await settleTexts(
        tx,
        rows.map((row) => row.outbound_id),
        at,
      );
    });
  }
}

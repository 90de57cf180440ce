import { iso, type Clock } from '../../../core/clock';
import type { Db } from '../../db/db';
import type { Bus } from '../../desk/bus';
import { settleTexts } from '../money';
import { Rounds } from '../rounds';
import { clearCalledOff } from './call-off';
import { sweepEnded } from './sweep';

const TICK = 1000;
const MINUTE = 60_000;

/** Starts runs at their time, and clears away what goes no more. What ends them, and all else that goes on by itself, is a job. */
export class Scheduler {
  private readonly db: Db;
  private readonly rounds: Rounds;

  constructor(
    db: Db,
    private readonly clock: Clock,
    private readonly bus: Bus,
    failed: (error: unknown) => void,
  ) {
    this.db = db.lane('dispatch');
    this.rounds = new Rounds(clock, TICK, () => this.tick(), failed);
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

import { iso, type Clock } from '../../core/clock';
import type { Db, Tx } from '../db/db';
import type { Bus } from './bus';
import { rollUpTexts } from './queue-queries';
import { sweepRun } from './removals';

const TICK = 1000;
const DAY = 86_400_000;

/** Starts runs at their time, ends them, drops what is of no more use, and keeps the queue's statistics fresh. */
export class Scheduler {
  private readonly db: Db;
  private readonly stop = new AbortController();
  private loop: Promise<void> | undefined;
  private lastCare = 0;

  constructor(
    db: Db,
    private readonly clock: Clock,
    private readonly bus: Bus,
    private readonly failed: (error: unknown) => void,
  ) {
    this.db = db.lane('dispatch');
  }

  start(): void {
    this.loop = (async () => {
      while (!this.stop.signal.aborted) {
        await this.tick().catch(this.failed);
        await this.clock.sleep(TICK, this.stop.signal);
      }
    })();
  }

  async end(): Promise<void> {
    this.stop.abort();
    await this.loop;
  }

  /** One look at everything that time brings about. Called by the loop, and by tests. */
  async tick(): Promise<void> {
    const now = this.clock.now();
    const at = iso(now);
    await this.startDue(now);
    await this.dropUseless(at);
    await this.closeForgotten(now);
    await this.endFinished(at);
    if (now - this.lastCare > 60_000) {
      this.lastCare = now;
      // there is no autovacuum in the embedded engine, and an unanalyzed queue is ten times slower to claim from
      for (const table of ['outbound', 'outbound_part', 'receipt']) await this.db.lane('bulk').exec(`VACUUM (ANALYZE) ${table}`);
    }
  }

  private async startDue(now: number): Promise<void> {
    const at = iso(now);
    const { rows } = await this.db.query<{ id: number; due_at: string; not_after: string; late_limit_minutes: number }>(
      `SELECT run.id, run.due_at, run.not_after, workspace.late_limit_minutes FROM run, workspace
       WHERE run.state = 'waiting' AND run.due_at <= $1::timestamptz ORDER BY run.due_at, run.id`,
      [at],
    );
    for (const run of rows) {
      // read again: between the statement and here the machine may have slept
      const moment = this.clock.now();
      const late = moment - Date.parse(run.due_at);
      const missed =
        moment >= Date.parse(run.not_after)
          ? 'past its no use after'
          : late > run.late_limit_minutes * 60_000
            ? `${Math.round(late / 60_000)} minutes late`
            : undefined;
      await this.db.transaction(async (tx) => {
        const locked = await tx.query(`SELECT id FROM run WHERE id = $1 AND state = 'waiting' FOR UPDATE`, [run.id]);
        if (locked.rowCount === 0) return;
        if (missed) {
          await tx.query(`UPDATE run SET state = 'missed', note = $2 WHERE id = $1`, [
            run.id,
            `The server could not start it in time: ${missed}. Nothing was sent.`,
          ]);
          await cancelPlanned(tx, run.id, 'missed its time', at);
          await settleMoney(tx, run.id, at);
          await tx.query(`UPDATE run SET ended_at = $2::timestamptz WHERE id = $1`, [run.id, at]);
        } else {
          await sweepRun(tx, run.id, at);
          await tx.query(`UPDATE run SET state = 'sending', started_at = $2::timestamptz WHERE id = $1`, [run.id, at]);
        }
      });
      this.bus.changed('runs');
      this.bus.changed('run', run.id);
      this.bus.work();
    }
  }

  private async dropUseless(at: string): Promise<void> {
    const { rows } = await this.db.query<{ run_id: number | null; id: number; cost_micro: number }>(
      `UPDATE outbound SET state = 'not_sent', reason = 'of no more use by then', final_at = $1::timestamptz
       WHERE state = 'planned' AND not_after <= $1::timestamptz AND (run_id IS NULL OR run_id IN (SELECT id FROM run WHERE state IN ('sending', 'paused')))
       RETURNING run_id, id, cost_micro`,
      [at],
    );
    for (const { id, cost_micro } of rows.filter((row) => row.run_id === null)) {
      await this.db.query(
        `INSERT INTO balance_entry (at, kind, amount_micro, outbound_id, note) VALUES ($1::timestamptz, 'release', $2, $3, 'not sent')`,
        [at, cost_micro, id],
      );
    }
    const parts = await this.db.query<{ outbound_id: number }>(
      `UPDATE outbound_part part SET state = 'not_sent', reason = 'of no more use by then', final_at = $1::timestamptz, retry_at = NULL
       FROM outbound WHERE outbound.id = part.outbound_id AND part.state = 'planned' AND outbound.not_after <= $1::timestamptz RETURNING part.outbound_id`,
      [at],
    );
    await rollUpTexts(this.db, [...new Set(parts.rows.map((row) => row.outbound_id))]);
    for (const run of new Set(rows.map((row) => row.run_id))) if (run !== null) this.bus.changed('run', run);
  }

  /** An hour after its validity, a text of which the carrier never said what became is uncertain for good. */
  private async closeForgotten(now: number): Promise<void> {
    const before = iso(now - DAY - 3_600_000);
    const { rows } = await this.db.query<{ outbound_id: number }>(
      `UPDATE outbound_part SET state = 'uncertain', reason = 'the carrier never said what became of it'
       WHERE state = 'with_carrier' AND written_at < $1::timestamptz AND outbound_id IN (SELECT id FROM outbound WHERE state = 'with_carrier') RETURNING outbound_id`,
      [before],
    );
    await rollUpTexts(this.db, [...new Set(rows.map((row) => row.outbound_id))]);
  }

  private async endFinished(at: string): Promise<void> {
    const { rows } = await this.db.query<{ id: number }>(
      `SELECT id FROM run WHERE state = 'sending' AND NOT EXISTS (SELECT 1 FROM outbound WHERE outbound.run_id = run.id AND outbound.state IN ('planned', 'handing_over'))`,
    );
    for (const { id } of rows) {
      await this.db.transaction(async (tx) => {
        const locked = await tx.query(`SELECT id FROM run WHERE id = $1 AND state = 'sending' FOR UPDATE`, [id]);
        if (locked.rowCount === 0) return;
        await tx.query(`UPDATE run SET state = 'finished', ended_at = $2::timestamptz WHERE id = $1`, [id, at]);
        await settleMoney(tx, id, at);
      });
      this.bus.changed('run', id);
      this.bus.changed('runs');
      this.bus.changed('balance');
    }
  }
}

/** Nothing of the run goes any more: planned texts and parts that wait for another try become not sent. */
export async function cancelPlanned(tx: Tx, runId: number, reason: string, at: string): Promise<number> {
  const texts = await tx.query(
    `UPDATE outbound SET state = 'not_sent', reason = $2, final_at = $3::timestamptz WHERE run_id = $1 AND state = 'planned'`,
    [runId, reason, at],
  );
  const parts = await tx.query<{ outbound_id: number }>(
    `UPDATE outbound_part part SET state = 'not_sent', reason = $2, final_at = $3::timestamptz, retry_at = NULL
     FROM outbound WHERE outbound.id = part.outbound_id AND outbound.run_id = $1 AND part.state = 'planned' RETURNING part.outbound_id`,
    [runId, reason, at],
  );
  await rollUpTexts(tx, [...new Set(parts.rows.map((row) => row.outbound_id))]);
  return texts.rowCount;
}

/**
 * Turns a run's hold into what it really cost: the hold is released and the parts the carrier took (and those of which
 * it is not known, since it may have) are spent. Also ends the broadcast.
 */
export async function settleMoney(tx: Tx, runId: number, at: string): Promise<void> {
  const held = (
    await tx.query<{ held: number }>(
      `SELECT coalesce(-sum(amount_micro), 0)::bigint AS held FROM balance_entry WHERE run_id = $1`,
      [runId],
    )
  ).rows[0].held;
  const { spent } = (
    await tx.query<{ spent: number }>(
      `SELECT coalesce(sum(outbound.cost_micro / outbound.parts), 0)::bigint AS spent FROM outbound JOIN outbound_part part ON part.outbound_id = outbound.id
       WHERE outbound.run_id = $1 AND (part.accepted_at IS NOT NULL OR part.state = 'uncertain')`,
      [runId],
    )
  ).rows[0];
  if (held !== 0)
    await tx.query(`INSERT INTO balance_entry (at, kind, amount_micro, run_id) VALUES ($1::timestamptz, 'release', $2, $3)`, [
      at,
      held,
      runId,
    ]);
  if (spent !== 0)
    await tx.query(`INSERT INTO balance_entry (at, kind, amount_micro, run_id) VALUES ($1::timestamptz, 'spend', $2, $3)`, [
      at,
      -spent,
      runId,
    ]);
  await tx.query(
    `UPDATE broadcast SET state = 'ended', updated_at = $2::timestamptz WHERE id = (SELECT broadcast_id FROM run WHERE id = $1) AND state = 'scheduled'`,
    [runId, at],
  );
}

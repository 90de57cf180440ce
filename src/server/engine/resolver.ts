import { iso, type Clock } from '../../core/clock';
import type { Db } from '../db/db';
import type { Bus } from './bus';
import type { Gateway } from './gateway';
import { rollUpTexts } from './queue-queries';

const DAY = 86_400_000;
/** Beyond this a text is not handed over again without a person: it may have turned wrong. */
const STILL_FRESH = 30 * 60_000;

/**
 * After the line is back, asks the carrier about every uncertain part. Only its own word moves one: it has it (then
 * receipts decide), or it never got it (then, and only then, the part may be handed over again). A carrier that cannot
 * say leaves it uncertain, and it is never sent again by itself.
 */
export class Resolver {
  private readonly db: Db;
  private running: Promise<void> = Promise.resolve();
  private ended = false;

  constructor(
    db: Db,
    private readonly clock: Clock,
    private readonly gateway: Gateway,
    private readonly bus: Bus,
    private readonly failed: (error: unknown) => void,
  ) {
    this.db = db.lane('dispatch');
    gateway.on('state', (state) => {
      if (state.state === 'connected') this.running = this.running.then(() => this.resolve()).catch(this.failed);
    });
  }

  async end(): Promise<void> {
    this.ended = true;
    await this.running;
  }

  private async resolve(): Promise<void> {
    const { rows } = await this.db.query<{ id: number; number: string; reference: number; written_at: string }>(
      `SELECT id, number, reference, written_at FROM outbound_part WHERE state = 'uncertain' AND message_id IS NULL AND written_at > $1::timestamptz ORDER BY id`,
      [iso(this.clock.now() - DAY)],
    );
    for (const part of rows) {
      if (this.ended) return;
      const answer = await this.gateway.lookUp(part.number, part.reference);
      if (answer === 'unknown') return;
      const at = iso(this.clock.now());
      const runs = await this.db.transaction(async (tx) => {
        const changed =
          answer === 'never' && this.clock.now() - Date.parse(part.written_at) > STILL_FRESH
            ? await tx.query<{ outbound_id: number }>(
                `UPDATE outbound_part SET state = 'not_sent', final_at = $2::timestamptz, reason = 'the line broke and the carrier never got it' WHERE id = $1 AND state = 'uncertain' RETURNING outbound_id`,
                [part.id, at],
              )
            : answer === 'never'
              ? await tx.query<{ outbound_id: number }>(
                  `UPDATE outbound_part SET state = 'planned', retry_at = $2::timestamptz, reason = NULL WHERE id = $1 AND state = 'uncertain' RETURNING outbound_id`,
                  [part.id, at],
                )
              : // an id that another part of ours already has is an older text with the same reference: it proves nothing
                await tx.query<{ outbound_id: number }>(
                  `UPDATE outbound_part SET state = 'with_carrier', message_id = $3, accepted_at = $2::timestamptz, reason = NULL
                 WHERE id = $1 AND state = 'uncertain' AND NOT EXISTS (SELECT 1 FROM outbound_part other WHERE other.message_id = $3) RETURNING outbound_id`,
                  [part.id, at, answer.messageId],
                );
        if (answer !== 'never')
          await tx.query(`UPDATE receipt SET applied = false, parked = NULL WHERE parked = 'unknown' AND message_id = $1`, [
            answer.messageId,
          ]);
        return rollUpTexts(
          tx,
          changed.rows.map((row) => row.outbound_id),
        );
      });
      for (const run of runs) this.bus.changed('run', run);
    }
    if (rows.length > 0) this.bus.work();
  }
}

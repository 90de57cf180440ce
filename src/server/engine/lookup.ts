import { iso, type Clock } from '../../core/clock';
import type { Resolved } from '../../core/line/entries';
import type { Db } from '../db/db';
import type { Gateway } from './gateway';
import type { LineDriver } from './line/driver';

const DAY = 86_400_000;
/** Beyond this a text is not handed over again without a person: it may have turned wrong. */
const STILL_FRESH = 30 * 60_000;
/** Nothing of a broken line is still on its way after so long. */
const SETTLED = 3000;

/**
 * Asks the carrier about every part whose answer was lost. Only its own word moves one: it has it (then receipts decide), or it
 * never got it (then, and only then, the part may be handed over again). A carrier that cannot say leaves it uncertain, and
 * it is never sent again by itself.
 */
export class Lookup {
  private readonly db: Db;
  private running: Promise<void> = Promise.resolve();
  private timer: NodeJS.Timeout | undefined;
  private ended = false;
  private cannotSay = false;

  constructor(
    db: Db,
    private readonly clock: Clock,
    private readonly gateway: Gateway,
    private readonly line: LineDriver,
    private readonly failed: (error: unknown) => void,
  ) {
    this.db = db.lane('dispatch');
    line.onUncertain = () => this.soon(SETTLED);
    gateway.on('state', ({ state }) => {
      if (state !== 'connected') return;
      this.cannotSay = false;
      this.soon(0);
    });
  }

  async end(): Promise<void> {
    this.ended = true;
    clearTimeout(this.timer);
    await this.running;
  }

  private soon(ms: number): void {
    if (this.ended || this.cannotSay) return;
    clearTimeout(this.timer);
    this.timer = setTimeout(() => {
      this.running = this.running.then(() => this.askAll()).catch(this.failed);
    }, ms);
  }

  private async askAll(): Promise<void> {
    if (this.ended || this.gateway.state.state !== 'connected') return;
    const now = this.clock.now();
    // by the counters of the runs first: only runs that have such texts are looked through
    const { rows } = await this.db.query<{
      outbound_id: number;
      part_no: number;
      number: string;
      reference: number;
      written_at: string;
    }>(
      `SELECT p.outbound_id, p.part_no, p.number, p.reference, p.written_at FROM outbound o JOIN outbound_part p ON p.outbound_id = o.id
       WHERE (o.run_id IN (SELECT run_id FROM run_tally WHERE state IN ('uncertain', 'handing_over', 'not_delivered', 'expired') AND people > 0) OR o.run_id IS NULL)
         AND o.handed_at > $1::timestamptz AND o.state IN ('uncertain', 'handing_over', 'not_delivered', 'expired')
         AND p.state = 'uncertain' AND p.message_id IS NULL AND p.written_at > $1::timestamptz ORDER BY p.outbound_id, p.part_no LIMIT 2000`,
      [iso(now - DAY)],
    );
    const resolved: Resolved[] = [];
    let later = false;
    for (const part of rows) {
      if (this.ended) return;
      const key = { text: part.outbound_id, no: part.part_no };
      const age = now - Date.parse(part.written_at);
      if (age < SETTLED) {
        later = true;
        continue;
      }
      const answer = await this.gateway.lookUp(part.number, part.reference);
      if (answer === 'unknown') {
        this.cannotSay = true;
        break;
      }
      resolved.push(
        answer === 'never'
          ? { ...key, kind: 'never', again: age <= STILL_FRESH }
          : { ...key, kind: 'taken', messageId: answer.messageId },
      );
    }
    await this.line.resolved(resolved);
    if (later) this.soon(SETTLED);
  }
}

import type { Answered, Receipt } from '../entries';
import type { Outgoing } from '../effects';
import type { Dice } from './dice';

/** How a carrier of one history behaves: shares of 0…1. */
export interface Temper {
  throttles: number;
  refuses: number;
  silent: number;
  early: number;
  doubled: number;
  missing: number;
  unknown: number;
  echoes: boolean;
  /** Can say what became of a lost part. */
  looksUp: boolean;
  /** A part that fails for good. */
  fails: number;
  /** Says ENROUTE after the final word. */
  babbles: number;
  /** The line breaks just after something was written, and what was on it may arrive a while later. */
  breaks: number;
}

export interface Taken {
  id: string;
  text: number;
  no: number;
  number: string;
  reference: number;
  at: number;
  outcome: 'DELIVRD' | 'UNDELIV';
}

/** The other end of the line, with a journal of what it took on; slow, silent, lying, as its temper is. */
export class SimCarrier {
  readonly taken: Taken[] = [];
  private readonly unacknowledged = new Map<string, Receipt[]>();

  constructor(
    private readonly dice: Dice,
    readonly temper: Temper,
  ) {}

  /** What becomes of a submit that arrives: the answer, or none; and receipts that come before or after it. */
  submit(
    part: Outgoing,
    number: string,
    now: number,
  ): { answer: Answered | undefined; receipts: { receipt: Receipt; early: boolean }[] } {
    const { dice, temper } = this;
    const key = { text: part.text, no: part.no };
    if (dice.chance(temper.throttles)) return { answer: { ...key, kind: 'again', reason: 'slow down' }, receipts: [] };
    if (dice.chance(temper.refuses)) return { answer: { ...key, kind: 'refused', reason: 'refused' }, receipts: [] };
    const id = `m${this.taken.length + 1}`;
    const outcome = dice.chance(temper.fails) ? 'UNDELIV' : 'DELIVRD';
    this.taken.push({ id, text: part.text, no: part.no, number, reference: part.reference, at: now, outcome });
    const answer: Answered | undefined = dice.chance(temper.silent) ? undefined : { ...key, kind: 'accepted', messageId: id };
    const receipts: { receipt: Receipt; early: boolean }[] = [];
    if (!dice.chance(temper.missing)) {
      const receipt: Receipt = {
        messageId: id,
        reference: temper.echoes ? part.reference : null,
        number,
        state: outcome,
        error: outcome === 'DELIVRD' ? '000' : '001',
      };
      const early = dice.chance(temper.early);
      receipts.push({ receipt, early });
      if (dice.chance(temper.doubled)) receipts.push({ receipt, early: false });
      if (dice.chance(temper.babbles)) receipts.push({ receipt: { ...receipt, state: 'ENROUTE' }, early: false });
      if (dice.chance(temper.unknown))
        receipts.push({
          receipt: { ...receipt, messageId: `x${this.taken.length}`, reference: null, state: 'UNDELIV' },
          early: false,
        });
    }
    return { answer, receipts };
  }

  /** Held until it is acknowledged, and offered again at each new connection. */
  hold(receipt: Receipt): void {
    this.unacknowledged.set(receipt.messageId + receipt.state, [receipt]);
  }
  acknowledged(receipt: Receipt): void {
    this.unacknowledged.delete(receipt.messageId + receipt.state);
  }
  offers(): Receipt[] {
    return [...this.unacknowledged.values()].flat();
  }

  lookUp(number: string, reference: number): string | 'never' | 'unknown' {
    if (!this.temper.looksUp) return 'unknown';
    for (let i = this.taken.length - 1; i >= 0; i -= 1)
      if (this.taken[i].number === number && this.taken[i].reference === reference) return this.taken[i].id;
    return 'never';
  }
}

import { SIM_DAY, type SimStore, type SimText } from '../../line/simulator/store';
import { SENDER } from '../../line/simulator/world';
import type { DeskRules } from './desk-rules';
import type { SimDeskRun } from './desk-tables';

/** Texts of the desk and their money: how they come into the line's tables, and how they leave them without having gone. */
export class DeskTexts {
  readonly ledger: { run: number | null; text: number | null; amount: number }[] = [];
  readonly kinds = new Map<number, 'confirmation' | 'own'>();
  private nextText = 1;

  constructor(
    readonly line: SimStore,
    readonly rules: DeskRules,
    readonly now: () => number,
  ) {}

  protected addText(
    number: string,
    run: number | null,
    kind: 'run' | 'confirmation' | 'own',
    due: number,
    notAfter: number,
  ): number {
    const id = this.nextText;
    this.nextText += 1;
    const text: SimText = {
      id,
      number,
      parts: 1,
      run,
      sender: SENDER,
      due,
      notAfter,
      queue: null,
      state: 'planned',
      reason: null,
      finalAt: null,
      billed: 0,
      open: 1,
    };
    this.line.texts.set(id, text);
    if (kind !== 'run') this.kinds.set(id, kind);
    return id;
  }

  /** One text of no run, with its money. */
  queueText(number: string, kind: 'confirmation' | 'own'): number {
    const now = this.now();
    const id = this.addText(number, null, kind, now, now + SIM_DAY);
    this.line.enqueue(null, SENDER, 0, now, [id]);
    this.ledger.push({ run: null, text: id, amount: -1 });
    return id;
  }

  /** The one road to *not sent* outside the line. */
  notSent(which: (text: SimText) => boolean, reason: string): void {
    for (const text of this.line.texts.values()) {
      if (text.state !== 'planned' || !which(text)) continue;
      if (this.line.parts.has(text.id * 16 + 1)) continue;
      const row = text.queue === null ? undefined : this.line.rows.get(text.queue);
      if (row && row.leasedBy !== null && !this.rules.sweepsLeased) continue;
      Object.assign(text, { state: 'not_sent', reason, finalAt: this.now(), open: 0, queue: null });
      if (text.run === null) this.settleText(text);
    }
  }

  settleText(text: SimText): void {
    const entered = this.ledger.reduce((sum, entry) => sum + (entry.text === text.id ? entry.amount : 0), 0);
    if (text.open === 0 && entered !== -text.billed)
      this.ledger.push({ run: null, text: text.id, amount: -text.billed - entered });
  }

  /** A row or so of a run's queue becomes not sent; the last row looked at, or undefined when there is none. */
  sweepSome(run: number, reason: string, after: number): number | undefined {
    const row = [...this.line.rows.values()]
      .filter((each) => each.run === run && each.id > after && (each.leasedBy === null || this.rules.sweepsLeased))
      .sort((a, b) => a.id - b.id)
      .at(0);
    if (!row) return undefined;
    this.notSent((text) => text.queue === row.id, reason);
    if (!row.ids.some((id) => this.line.text(id).queue === row.id && this.line.text(id).open > 0)) this.line.rows.delete(row.id);
    return row.id;
  }

  openOf(run: number): { texts: number; queued: number; lostAt: number | null } {
    let texts = 0;
    let lostAt: number | null = null;
    for (const text of this.line.texts.values()) {
      if (text.run !== run) continue;
      if (text.open > 0) texts += 1;
      if (text.state !== 'uncertain') continue;
      const part = this.line.parts.get(text.id * 16 + 1);
      if (part) lostAt = Math.max(lostAt ?? 0, part.writtenAt);
    }
    return { texts, queued: [...this.line.rows.values()].filter((row) => row.run === run).length, lostAt };
  }

  sumOf(run: number): number {
    return this.ledger.reduce((sum, entry) => sum + (entry.run === run ? entry.amount : 0), 0);
  }

  /** What stands in the ledger of a run that has ended is what the carrier took. */
  settleRun(run: SimDeskRun): void {
    let billed = 0;
    for (const text of this.line.texts.values()) if (text.run === run.id) billed += text.billed;
    const owed = -billed - this.sumOf(run.id);
    if (owed !== 0) this.ledger.push({ run: run.id, text: null, amount: owed });
  }
}

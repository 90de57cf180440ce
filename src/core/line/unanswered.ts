import type { Answered, Entry } from './entries';

/** A part that an owner meant to hand over, and in which of its commits. */
export interface Meant {
  text: number;
  no: number;
  commit: number;
}

/** Nothing of a broken line is still on its way after so long, ms. */
export const SETTLED = 3000;

/**
 * What an owner has intended and not recorded an answer for, followed through its journal in order. It is what a take-over makes
 * uncertain, and what a commit whose outcome was not heard of is told by: nobody wrote its parts.
 */
export class Unanswered {
  private readonly parts: Map<number, Meant>;

  constructor(parts: Iterable<Meant>) {
    this.parts = new Map([...parts].map((part) => [part.text * 16 + part.no, part]));
  }

  get size(): number {
    return this.parts.size;
  }

  values(): Meant[] {
    return [...this.parts.values()];
  }

  /** Follows an entry; gives the answers that it amounts to beside its own: of a voided commit, each part as unwritten. */
  take(entry: Entry): Answered[] {
    switch (entry.kind) {
      case 'intent':
        for (const { text, no } of entry.parts) this.parts.set(text * 16 + no, { text, no, commit: entry.commit });
        return [];
      case 'answers':
        for (const { text, no } of entry.answers) this.parts.delete(text * 16 + no);
        return [];
      case 'voided': {
        const unwritten = this.values().filter((part) => entry.commits.includes(part.commit));
        for (const { text, no } of unwritten) this.parts.delete(text * 16 + no);
        return unwritten.map(({ text, no }) => ({ text, no, kind: 'unwritten' }));
      }
      default:
        return [];
    }
  }
}

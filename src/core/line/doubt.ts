import type { LeasedText } from './effects';

interface Doubtful {
  lane: number;
  text: LeasedText;
}

/**
 * Texts of commits whose answer was lost. Such a commit may have happened: a text may have been intended (and nobody wrote it), put
 * back, dropped, or nothing. Asked again at once, it could be put back into the queue beside the unposted intent, be handed over by
 * another owner from there, and once more when the void of its intent is posted. So they wait until it is journaled that the commit
 * is void, and a posting that began after that is done; from then on the tables tell.
 */
export class Doubt {
  private lost: Doubtful[] = [];
  private voided: Doubtful[] = [];
  private inPosting: Doubtful[] = [];

  add(texts: readonly Doubtful[]): void {
    this.lost.push(...texts);
  }

  /** It is committed that every lost commit so far is void. */
  journaled(): void {
    this.voided.push(...this.lost);
    this.lost = [];
  }

  /** A posting begins: it takes what is journaled. */
  posting(): void {
    this.inPosting = this.voided;
    this.voided = [];
  }

  /** The posting has ended, not with everything if `more`; gives what can be asked about again. */
  posted(more: boolean): Doubtful[] {
    const settled = more ? [] : this.inPosting;
    if (more) this.voided = [...this.inPosting, ...this.voided];
    this.inPosting = [];
    return settled;
  }
}

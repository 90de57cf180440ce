import { failureWords, isFinal, onReceipt, rollUp, type TextState } from '../outcome/states';
import { backoff } from './backoff';
import type { Answered, Entry, Receipt, Resolved } from './entries';

export interface PostedPart {
  text: number;
  no: number;
  number: string;
  state: TextState;
  reference: number;
  messageId: string | null;
  reason: string | null;
  attempts: number;
  writtenAt: number;
  /** When it was handed over: where its answer is lost, still then, though it may be written again only long after that. */
  handedAt: number;
  acceptedAt: number | null;
  finalAt: number | null;
}

export interface PostedText {
  id: number;
  number: string;
  parts: number;
  state: TextState;
  reason: string | null;
  handedAt: number | null;
  finalAt: number | null;
  /** In a row of the queue; also while it is intended from there and that is not posted yet. */
  queued: boolean;
}

/** A receipt that belongs to no part we know (yet), or that changes nothing. */
export interface Parked {
  receipt: Receipt;
  at: number;
  why: 'unknown' | 'changes nothing';
}

export interface Posted {
  /** Parts seen for the first time. */
  fresh: PostedPart[];
  changed: PostedPart[];
  texts: (PostedText & {
    /** Parts the carrier took, or may have taken. */
    billed: number;
    /** Parts of which it is not yet known whether they were taken. */
    open: number;
  })[];
  /** Texts with parts to be tried again, and when. */
  again: { text: number; at: number }[];
  parked: Parked[];
  /** Message ids whose parked receipts have found their part. */
  claimed: string[];
}

const key = (text: number, no: number) => text * 16 + no;

/**
 * Brings the tables up to date with the journal. Pure: the caller loads what the entries speak of (`wants`), and stores what
 * comes out. One posting takes the entries of one owner, in their order.
 */
export class Posting {
  private readonly parts = new Map<number, PostedPart>();
  private readonly texts = new Map<number, PostedText>();
  private readonly ofText = new Map<number, PostedPart[]>();
  private readonly byMessage = new Map<string, PostedPart>();
  private readonly byReference = new Map<string, PostedPart[]>();
  private readonly stored: ReadonlySet<PostedPart>;
  private readonly touched = new Set<number>();
  private readonly dropped = new Map<number, string>();
  private readonly changed = new Set<PostedPart>();
  private readonly fresh = new Set<PostedPart>();
  private readonly again = new Map<number, number>();
  private last = 0;
  private parked: Parked[] = [];
  private readonly claimed = new Set<string>();
  private readonly waiting = new Map<string, Parked[]>();

  /**
   * @param parked receipts of before that no part was known for
   * @param move how a receipt moves a part; replaced only by the simulator's mutations
   */
  constructor(
    texts: Iterable<PostedText>,
    parts: Iterable<PostedPart>,
    parked: Iterable<Parked> = [],
    private readonly move: typeof onReceipt = onReceipt,
  ) {
    for (const text of texts) this.texts.set(text.id, text);
    const stored = new Set<PostedPart>();
    for (const part of parts) {
      stored.add(part);
      this.know(part);
    }
    this.stored = stored;
    for (const each of parked)
      this.waiting.set(each.receipt.messageId, [...(this.waiting.get(each.receipt.messageId) ?? []), each]);
  }

  take(entry: Entry): void {
    this.last = entry.at;
    switch (entry.kind) {
      case 'intent':
        for (const part of entry.parts) this.intend(part.text, part.no, part.reference, entry.at);
        return;
      case 'voided':
        return; // told as answers by who follows what is unanswered
      case 'answers':
        for (const answer of entry.answers) this.answer(answer, entry.at);
        return;
      case 'receipts':
        for (const receipt of entry.receipts) this.receive(receipt, entry.at);
        return;
      case 'dropped':
        for (const { text, reason } of entry.texts) this.drop(text, reason, entry.at);
        return;
      case 'resolved':
        for (const part of entry.parts) this.resolve(part, entry.at);
    }
  }

  /** The owner is gone: what it meant to hand over and never recorded an answer for may or may not have left. */
  interrupted(open: Iterable<{ text: number; no: number }>, at: number): void {
    this.last = at;
    for (const { text, no } of open) {
      const part = this.parts.get(key(text, no));
      if (part?.state === 'handing_over') this.lose(part, 'the server stopped before the carrier answered', at);
    }
  }

  finish(): Posted {
    const texts: Posted['texts'] = [];
    const again: Posted['again'] = [];
    for (const id of this.touched) {
      const text = this.texts.get(id);
      if (!text) continue;
      const own = this.ofText.get(id) ?? [];
      if (this.goesAgain(text, own)) again.push({ text: id, at: this.again.get(id) ?? this.last });
      const reason = this.dropped.get(id);
      // a part that has no row yet has not gone; when the text was dropped, it never will
      const missing: TextState = reason === undefined ? 'planned' : 'not_sent';
      const states = Array.from({ length: text.parts }, (_, i) => own.find((part) => part.no === i + 1)?.state ?? missing);
      const state = rollUp(states);
      const finals = own.flatMap((part) => (part.finalAt === null ? [] : [part.finalAt]));
      texts.push({
        ...text,
        state,
        reason:
          own.find((part) => part.state === state && part.reason)?.reason ??
          own.find((part) => part.reason)?.reason ??
          reason ??
          null,
        handedAt: own.length > 0 ? Math.min(...own.map((part) => part.handedAt)) : null,
        finalAt: isFinal(state)
          ? (text.finalAt ?? (finals.length > 0 ? Math.max(...finals) : (this.droppedAt.get(id) ?? null)))
          : null,
        billed: own.filter((part) => part.acceptedAt !== null || part.state === 'uncertain').length,
        open: states.filter((each) => each === 'planned' || each === 'handing_over').length,
      });
    }
    return {
      fresh: [...this.fresh],
      changed: [...this.changed].filter((part) => !this.fresh.has(part)),
      texts,
      again,
      parked: this.parked,
      claimed: [...this.claimed],
    };
  }

  /**
   * Back into the queue goes a text of which something has not gone, once nothing of it is on its way. While a part still is, the
   * text would be handed over from there beside it; and while it is in the queue, or intended by an owner whose journal is not
   * posted, it must not be in a second row: whoever has it takes what there is to do, or the posting of that intent comes here.
   */
  private goesAgain(text: PostedText, own: readonly PostedPart[]): boolean {
    if (text.queued || this.dropped.has(text.id)) return false;
    return own.some((part) => part.state === 'planned') && !own.some((part) => part.state === 'handing_over');
  }

  private readonly droppedAt = new Map<number, number>();

  private know(part: PostedPart): void {
    this.parts.set(key(part.text, part.no), part);
    const own = this.ofText.get(part.text);
    if (own) own.push(part);
    else this.ofText.set(part.text, [part]);
    if (part.messageId !== null) this.byMessage.set(part.messageId, part);
    this.refer(part);
  }

  private refer(part: PostedPart): void {
    const reference = `${part.number}|${part.reference}`;
    const same = this.byReference.get(reference);
    if (!same) this.byReference.set(reference, [part]);
    else if (!same.includes(part)) same.push(part);
  }

  private set(part: PostedPart, state: TextState, reason: string | null, at: number): void {
    part.state = state;
    part.reason = reason;
    part.finalAt = isFinal(state) ? at : null;
    this.mark(part);
  }

  /**
   * Its answer is lost: from then on nobody writes it, and not before it was. Between intent and write a process may have slept, so what is
   * said of how long nothing can be on its way any more counts from here.
   */
  private lose(part: PostedPart, reason: string, at: number): void {
    this.set(part, 'uncertain', reason, at);
    part.writtenAt = Math.max(part.writtenAt, at);
  }

  private mark(part: PostedPart): void {
    this.touched.add(part.text);
    if (this.stored.has(part)) this.changed.add(part);
  }

  private intend(text: number, no: number, reference: number, at: number): void {
    this.unqueue(text);
    const known = this.parts.get(key(text, no));
    if (known) {
      known.attempts += 1;
      known.reference = reference;
      known.writtenAt = at;
      known.handedAt = at;
      this.refer(known);
      return this.set(known, 'handing_over', null, at);
    }
    const part: PostedPart = {
      text,
      no,
      number: this.texts.get(text)?.number ?? '',
      state: 'handing_over',
      reference,
      messageId: null,
      reason: null,
      attempts: 1,
      writtenAt: at,
      handedAt: at,
      acceptedAt: null,
      finalAt: null,
    };
    this.know(part);
    this.fresh.add(part);
    this.touched.add(text);
  }

  private unqueue(id: number): void {
    const text = this.texts.get(id);
    if (text) text.queued = false;
  }

  private answer(answer: Answered, at: number): void {
    const part = this.parts.get(key(answer.text, answer.no));
    if (!part) return;
    if (answer.kind === 'accepted') return this.accept(part, answer.messageId, at, true);
    // a receipt has overtaken the answer, and says more
    if (part.state !== 'handing_over') return;
    if (answer.kind === 'refused') this.set(part, 'not_delivered', answer.reason, at);
    else if (answer.kind === 'lost') this.lose(part, answer.reason, at);
    else {
      // what never left may go as soon as there is a line
      const wait = answer.kind === 'again' ? backoff(part.attempts) : 0;
      this.tryAgain(part, answer.kind === 'again' ? answer.reason : null, at, at + wait);
    }
  }

  /** Back to what has not gone, unless its text was dropped while it was on its way: then it never goes. */
  private tryAgain(part: PostedPart, reason: string | null, at: number, due: number): void {
    const dropped = this.dropped.get(part.text);
    if (dropped !== undefined) return this.set(part, 'not_sent', dropped, at);
    this.set(part, 'planned', reason, at);
    this.again.set(part.text, Math.max(due, this.again.get(part.text) ?? 0));
  }

  /** `answered`: the carrier said so in its answer to this very part, not to a question about a number and a reference. */
  private accept(part: PostedPart, messageId: string, at: number, answered = false): void {
    const other = this.byMessage.get(messageId);
    const doubled = other !== undefined && other !== part;
    // found by asking, an id that another part of ours has is an older text with the same reference: it proves nothing
    if (doubled && !answered) return;
    part.acceptedAt ??= at;
    if (part.state === 'handing_over' || part.state === 'uncertain') this.set(part, 'with_carrier', null, at);
    else this.mark(part);
    // an id given twice names neither
    if (!doubled) this.learn(part, messageId, at);
  }

  /** A part gets to know its id; receipts that overtook that are applied now. */
  private learn(part: PostedPart, messageId: string, at: number): void {
    if (part.messageId !== null) return;
    part.messageId = messageId;
    this.byMessage.set(messageId, part);
    const early = this.parked.filter((each) => each.why === 'unknown' && each.receipt.messageId === messageId);
    this.parked = this.parked.filter((each) => !early.includes(each));
    for (const each of [...(this.waiting.get(messageId) ?? []), ...early]) {
      this.claimed.add(messageId);
      this.apply(part, each.receipt, at);
    }
    this.waiting.delete(messageId);
  }

  private receive(receipt: Receipt, at: number): void {
    let part = this.byMessage.get(receipt.messageId);
    if (!part && receipt.reference !== null) {
      const open = (this.byReference.get(`${receipt.number}|${receipt.reference}`) ?? []).filter(
        (each) =>
          each.messageId === null &&
          each.reference === receipt.reference &&
          (each.state === 'handing_over' || each.state === 'uncertain' || each.state === 'with_carrier'),
      );
      if (open.length === 1) [part] = open; // two open parts with one reference would be a guess
    }
    if (!part) {
      this.parked.push({ receipt, at, why: 'unknown' });
      return;
    }
    this.learn(part, receipt.messageId, at);
    if (!this.apply(part, receipt, at)) this.parked.push({ receipt, at, why: 'changes nothing' });
  }

  private apply(part: PostedPart, receipt: Receipt, at: number): boolean {
    const next = this.move(part.state, receipt.state);
    if (!next) return false;
    part.acceptedAt ??= at;
    this.set(part, next, next === 'not_delivered' || next === 'expired' ? failureWords(receipt.state, receipt.error) : null, at);
    return true;
  }

  private drop(text: number, reason: string, at: number): void {
    this.unqueue(text);
    this.dropped.set(text, reason);
    this.droppedAt.set(text, at);
    this.touched.add(text);
    for (const part of this.ofText.get(text) ?? []) if (part.state === 'planned') this.set(part, 'not_sent', reason, at);
  }

  private resolve(resolved: Resolved, at: number): void {
    const part = this.parts.get(key(resolved.text, resolved.no));
    if (!part) return;
    if (resolved.kind === 'forgotten') {
      if (part.state === 'with_carrier') this.set(part, 'uncertain', 'the carrier never said what became of it', at);
      return;
    }
    if (part.state !== 'uncertain') return;
    if (resolved.kind === 'taken') return this.accept(part, resolved.messageId, at);
    // a part with an id was taken, whatever is said later
    if (part.messageId !== null) return;
    // asked about an earlier try: it has gone round since
    if (resolved.attempt !== undefined && resolved.attempt !== part.attempts) return;
    if (!resolved.again) return this.set(part, 'not_sent', 'the line broke and the carrier never got it', at);
    this.tryAgain(part, null, at, at);
  }
}

/** What a posting must be given: the texts it speaks of (with all their parts), and parts by message id or number and reference. */
export interface Wants {
  texts: Set<number>;
  /** For parts, and for receipts that were parked. */
  messageIds: Set<string>;
  references: Map<string, { number: string; reference: number }>;
}

export function wants(entries: Iterable<Entry>): Wants {
  const found: Wants = { texts: new Set(), messageIds: new Set(), references: new Map() };
  for (const entry of entries) {
    if (entry.kind === 'intent' || entry.kind === 'resolved') for (const { text } of entry.parts) found.texts.add(text);
    if (entry.kind === 'resolved')
      for (const part of entry.parts) if (part.kind === 'taken') found.messageIds.add(part.messageId);
    if (entry.kind === 'dropped') for (const { text } of entry.texts) found.texts.add(text);
    if (entry.kind === 'answers')
      for (const answer of entry.answers) {
        found.texts.add(answer.text);
        if (answer.kind === 'accepted') found.messageIds.add(answer.messageId);
      }
    if (entry.kind === 'receipts')
      for (const { messageId, number, reference } of entry.receipts) {
        found.messageIds.add(messageId);
        if (reference !== null) found.references.set(`${number}|${reference}`, { number, reference });
      }
  }
  return found;
}

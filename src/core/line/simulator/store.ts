import type { gate, GateFacts } from '../../gate/gate';
import type { Hours, HoursRule, Stretch } from '../../gate/hours';
import type { onReceipt, RunState, TextState } from '../../outcome/states';
import { decideClaim, referencesOf, type ClaimText } from '../claim';
import { sizeOf, type Answered, type Entry, type Receipt } from '../entries';
import { Unanswered, type Meant } from '../unanswered';
import { Posting, wants, type PostedPart, type PostedText, type Parked } from '../posting';
import type { Committed, LeasedRow, LeasedText } from '../effects';

/**
 * The database of the simulator: the same transactions as the server's, in memory. Each method is one transaction; a crash
 * comes between them, never inside.
 */

/** Days of 100 s; the last 30 s of each are quiet, shifted by the zone. */
export const SIM_DAY = 100_000;
export const SIM_QUIET = 30_000;
const OFFSETS: Record<string, number> = { near: 0, far: 40_000 };

export function quietIn(zone: string, at: number): boolean {
  return (at + OFFSETS[zone]) % SIM_DAY >= SIM_DAY - SIM_QUIET;
}

export const SIM_HOURS: Hours = {
  next(rule: HoursRule, at: number): Stretch | undefined {
    let from = at;
    for (let round = 0; round < 8; round += 1) {
      const shut = rule.zones.find((zone) => quietIn(zone, from));
      if (shut === undefined) {
        const until = Math.min(...rule.zones.map((zone) => from + SIM_DAY - SIM_QUIET - ((from + OFFSETS[zone]) % SIM_DAY)));
        return { from, until };
      }
      from += SIM_DAY - ((from + OFFSETS[shut]) % SIM_DAY);
    }
    return undefined;
  },
};

export interface SimText {
  id: number;
  number: string;
  parts: number;
  run: number | null;
  sender: number;
  due: number;
  notAfter: number;
  queue: number | null;
  state: TextState;
  reason: string | null;
  finalAt: number | null;
  billed: number;
  open: number;
}
interface SimRow {
  id: number;
  run: number | null;
  sender: number;
  lane: 0 | 1 | 2;
  due: number;
  ids: number[];
  leasedBy: number | null;
}
export interface SimPerson {
  zones: string[];
  registered: boolean;
  withdrawn: boolean;
  state: 'here' | 'erased' | 'changed';
}
interface SimOwner {
  ended: boolean;
  posted: number;
  open: Meant[];
}
export interface SimRun {
  state: RunState;
  note: string;
}

/** What the mutations of the simulator replace. */
export interface StoreRules {
  ask?: typeof gate;
  move?: typeof onReceipt;
  /** Does not look whether the owner has been taken over. */
  unfenced?: boolean;
}

export class SimStore {
  readonly texts = new Map<number, SimText>();
  readonly people = new Map<string, SimPerson>();
  readonly runs = new Map<number, SimRun>();
  readonly senders = new Map<number, { rate: number; freeAt: number }>();
  readonly rows = new Map<number, SimRow>();
  readonly owners = new Map<number, SimOwner>();
  readonly parts = new Map<number, PostedPart>();
  readonly journal: { epoch: number; entry: Entry }[] = [];
  parked: Parked[] = [];
  private nextRow = 1;
  private nextEpoch = 1;
  /** Told of every intent, for the checks. */
  intended: (text: SimText, now: number) => void = () => undefined;
  backwards: string[] = [];
  /** Whether a reply of theirs is, or may be, a stop that nobody has acted on. */
  undecided: (number: string) => 'stop' | 'maybe' | null = () => null;
  /** What a text is, where it is of no run. */
  kindOf: (text: SimText) => GateFacts['kind'] = (text) => (text.run === null ? 'reply' : 'run');

  constructor(private readonly rules: StoreRules = {}) {}

  enqueue(run: number | null, sender: number, lane: 0 | 1 | 2, due: number, ids: number[]): number {
    const id = this.nextRow;
    this.nextRow += 1;
    this.rows.set(id, { id, run, sender, lane, due, ids, leasedBy: null });
    for (const text of ids) this.text(text).queue = id;
    return id;
  }

  text(id: number): SimText {
    const text = this.texts.get(id);
    if (!text) throw new Error(`no text ${id}`);
    return text;
  }

  /** A new owner; owners that are known to be dead are taken over first. */
  start(dead: (epoch: number) => boolean, now: number): number {
    for (const [epoch, owner] of this.owners) if (!owner.ended && dead(epoch)) this.takeOver(epoch, now);
    const epoch = this.nextEpoch;
    this.nextEpoch += 1;
    this.owners.set(epoch, { ended: false, posted: 0, open: [] });
    return epoch;
  }

  takeOver(epoch: number, now: number): void {
    const owner = this.owners.get(epoch);
    if (!owner || owner.ended) return;
    owner.ended = true;
    this.postUpTo(epoch, now, true);
    for (const row of this.rows.values()) if (row.leasedBy === epoch) row.leasedBy = null;
  }

  lease(
    epoch: number,
    parts: number,
    except: number[],
    now: number,
    known?: number[],
  ): { rows: LeasedRow[]; next: number | null } | 'fenced' {
    if (this.owners.get(epoch)?.ended && !this.rules.unfenced) return 'fenced';
    if (known) for (const row of this.rows.values()) if (row.leasedBy === epoch && !known.includes(row.id)) row.leasedBy = null;
    const rows: LeasedRow[] = [];
    let taken = 0;
    const free = [...this.rows.values()].filter((row) => row.leasedBy === null && row.due <= now);
    for (const row of free.sort((a, b) => a.lane - b.lane || a.due - b.due)) {
      if (except.includes(row.sender)) continue;
      const run = row.run === null ? undefined : this.runs.get(row.run);
      if (run && !['sending', 'stopped', 'missed', 'finished'].includes(run.state)) continue;
      if (taken >= parts) return { rows, next: now };
      row.leasedBy = epoch;
      const texts = row.ids.flatMap((id) => this.texts.get(id) ?? []).filter((text) => text.queue === row.id && text.open > 0);
      rows.push({
        row: row.id,
        sender: row.sender,
        lane: row.lane,
        texts: texts.map((text) => ({ id: text.id, due: text.due, parts: text.open })),
      });
      taken += texts.reduce((sum, text) => sum + text.open, 0);
    }
    const left = [...this.rows.values()].filter((row) => row.leasedBy === null && row.due > now).map((row) => row.due);
    return { rows, next: left.length > 0 ? Math.min(...left) : null };
  }

  commit(
    epoch: number,
    asked: { commit: number; voided: number[]; answers: Answered[]; texts: LeasedText[]; room: number },
    now: number,
  ): Committed | 'fenced' {
    const { answers, room } = asked;
    if (this.owners.get(epoch)?.ended && !this.rules.unfenced) return 'fenced';
    const committed: Committed = { at: now, journaled: 0, intended: [], left: [], putBack: false, askAgain: new Map() };
    const write = (entry: Entry) => {
      if (sizeOf(entry) === 0) return;
      this.journal.push({ epoch, entry });
      committed.journaled += sizeOf(entry);
    };
    write({ kind: 'voided', at: now, commits: asked.voided });
    write({ kind: 'answers', at: now, answers });
    const texts: (ClaimText & { leased: LeasedText })[] = [];
    for (const each of asked.texts) {
      const text = this.texts.get(each.id);
      // of a run that was called off, and is being cleared away
      if (!text) {
        committed.left.push(each);
        continue;
      }
      const todo = this.todo(text);
      if (text.queue !== each.row || text.state === 'not_sent' || todo.length === 0) committed.left.push(each);
      else texts.push({ leased: each, id: text.id, sender: text.sender, due: text.due, todo, facts: this.facts(text) });
    }
    const claimed = decideClaim({ now, texts, room, lines: this.senders, book: SIM_HOURS, ask: this.rules.ask });
    for (const { text, until } of claimed.go) {
      const stored = this.text(text.id);
      this.intended(stored, now);
      committed.left.push(text.leased);
      const taken = [...this.parts.values()].some(
        (part) => part.number === stored.number && part.state !== 'delivered' && part.text !== text.id,
      );
      const references = referencesOf(text.id, text.todo, taken);
      committed.intended.push(...text.todo.map((no, i) => ({ text: text.id, no, reference: references[i], until })));
    }
    write({
      kind: 'intent',
      at: now,
      commit: asked.commit,
      parts: committed.intended.map(({ text, no, reference }) => ({ text, no, reference })),
    });
    write({ kind: 'dropped', at: now, texts: claimed.never.map(({ text, reason }) => ({ text: text.id, reason })) });
    for (const { text } of claimed.never) committed.left.push(text.leased);
    for (const { text, at } of [...claimed.later, ...claimed.hold.map((each) => ({ text: each, at: this.text(each.id).due }))]) {
      const stored = this.text(text.id);
      stored.due = at;
      this.enqueue(stored.run, stored.sender, 1, at, [text.id]);
      committed.left.push(text.leased);
      committed.putBack = true;
    }
    for (const [sender, freeAt] of claimed.freeAt)
      this.senders.set(sender, { rate: this.senders.get(sender)?.rate ?? 1, freeAt });
    committed.askAgain = claimed.askAgain;
    return committed;
  }

  keep(epoch: number, receipts: Receipt[], now: number): 'kept' | 'fenced' {
    if (this.owners.get(epoch)?.ended && !this.rules.unfenced) return 'fenced';
    this.journal.push({ epoch, entry: { kind: 'receipts', at: now, receipts } });
    return 'kept';
  }

  /** Journals what was found out about parts, in the name of an owner. */
  resolve(epoch: number, entry: Entry): void {
    if (this.owners.get(epoch)?.ended === false) this.journal.push({ epoch, entry });
  }

  post(epoch: number, emptied: number[], now: number): { more: boolean; dropped: number[]; again: boolean } | 'fenced' {
    if (this.owners.get(epoch)?.ended) return 'fenced';
    const rowsBefore = this.nextRow;
    this.postUpTo(epoch, now, false);
    const dropped = emptied.filter((id) => {
      const row = this.rows.get(id);
      return !row?.ids.some((text) => this.texts.get(text)?.queue === id && (this.texts.get(text)?.open ?? 0) > 0);
    });
    for (const id of dropped) this.rows.delete(id);
    return { more: false, dropped, again: this.nextRow > rowsBefore };
  }

  private postUpTo(epoch: number, now: number, ended: boolean): void {
    const owner = this.owners.get(epoch);
    if (!owner) return;
    const entries: Entry[] = [];
    for (let i = owner.posted; i < this.journal.length; i += 1)
      if (this.journal[i].epoch === epoch) entries.push(this.journal[i].entry);
    owner.posted = this.journal.length;
    if (entries.length === 0 && !(ended && owner.open.length > 0)) return;
    const wanted = wants(entries);
    const voids = entries.some((entry) => entry.kind === 'voided');
    for (const part of owner.open) if (ended || voids) wanted.texts.add(part.text);
    for (const part of this.parts.values())
      if (
        (part.messageId !== null && wanted.messageIds.has(part.messageId)) ||
        wanted.references.has(`${part.number}|${part.reference}`)
      )
        wanted.texts.add(part.text);
    const texts: PostedText[] = [];
    const copies: PostedPart[] = [];
    for (const id of wanted.texts) {
      const text = this.texts.get(id);
      if (!text) continue;
      texts.push({ ...text, handedAt: null, queued: text.queue !== null });
      for (let no = 1; no <= text.parts; no += 1) {
        const part = this.parts.get(id * 16 + no);
        if (part) copies.push({ ...part });
      }
    }
    const posting = new Posting(
      texts,
      copies,
      this.parked.filter((each) => each.why === 'unknown' && wanted.messageIds.has(each.receipt.messageId)),
      this.rules.move,
    );
    const unanswered = new Unanswered(owner.open);
    for (const entry of entries) {
      posting.take({ kind: 'answers', at: entry.at, answers: unanswered.take(entry) });
      posting.take(entry);
    }
    if (ended) posting.interrupted(unanswered.values(), now);
    owner.open = ended ? [] : unanswered.values();
    const posted = posting.finish();
    for (const part of [...posted.fresh, ...posted.changed]) {
      const key = part.text * 16 + part.no;
      const was = this.parts.get(key)?.state;
      if (was && ['delivered', 'not_delivered', 'expired'].includes(was) && was !== part.state)
        this.backwards.push(`text ${part.text} part ${part.no}: ${was} → ${part.state}`);
      this.parts.set(key, part);
    }
    for (const text of posted.texts)
      Object.assign(this.text(text.id), {
        state: text.state,
        reason: text.reason,
        finalAt: text.finalAt,
        billed: text.billed,
        open: text.open,
        queue: text.queued ? this.text(text.id).queue : null,
      });
    for (const { text, at } of posted.again) {
      const stored = this.text(text);
      stored.due = at;
      this.enqueue(stored.run, stored.sender, 1, at, [text]);
    }
    if (posted.claimed.length > 0) this.parked = this.parked.filter((each) => !posted.claimed.includes(each.receipt.messageId));
    this.parked.push(...posted.parked);
  }

  private todo(text: SimText): number[] {
    const todo: number[] = [];
    for (let no = 1; no <= text.parts; no += 1) {
      const part = this.parts.get(text.id * 16 + no);
      if (!part || part.state === 'planned') todo.push(no);
    }
    return todo;
  }

  private facts(text: SimText): GateFacts {
    const person = this.people.get(text.number);
    const run = text.run === null ? undefined : this.runs.get(text.run);
    return {
      kind: this.kindOf(text),
      purpose: 'service',
      registered: person?.registered ?? false,
      person: person?.state ?? 'none',
      consent: person?.withdrawn ? 'withdrawn' : null,
      needsYes: false,
      mustNot: false,
      undecided: this.undecided(text.number),
      number: true,
      minor: false,
      notAfter: text.notAfter,
      run: run ? { state: run.state, note: run.note } : null,
      day: null,
      hours: { zones: person?.zones ?? ['near'], quiet: { from: '', to: '' }, own: null, allowed: null },
      override: false,
      asked: this.kindOf(text) === 'confirmation',
    };
  }
}

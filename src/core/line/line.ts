import { Doubt } from './doubt';
import {
  LINE_SETTINGS,
  type Circuit,
  type Committed,
  type Effect,
  type LeasedRow,
  type LeasedText,
  type LineEvent,
  type LineSettings,
} from './effects';
import type { Answered, Receipt } from './entries';
import {
  ANSWERS_WAIT,
  CIRCUIT_AFTER,
  FAILED_AGAIN,
  MOST_SENDERS,
  RECEIPTS_MOST,
  RECEIPTS_WAIT,
  REFILL,
  SIFTED_AT_ONCE,
  SIFT_APART,
  SLOW_DOWN,
  WRITE_WITHIN,
} from './waits';

const inOrder = (a: LeasedText, b: LeasedText) => a.due - b.due || a.id - b.id;

/**
 * The line as a machine without I/O: events in, effects out. It decides in which order things are done (lease, intent before
 * write, answers and receipts before acknowledging, post), how much is under way at once, and when to slow down. It decides
 * nothing about who may be texted: that is the gate's, asked in the commit.
 */
export class Line<H = unknown> {
  private readonly rows = new Map<number, number>();
  private readonly emptied = new Set<number>();
  private readonly lanes: LeasedText[][] = [[], [], []];
  private readonly held = new Map<number, number>();
  /** Parts intended whose answer is not in the journal yet. */
  private readonly outstanding = new Set<number>();
  private answers: Answered[] = [];
  private answersSince = 0;
  private receipts: { receipt: Receipt; handle: H; at: number }[] = [];
  private readonly blocked = new Map<number, number>();
  private committing: { commit: number; voided: number[]; texts: LeasedText[]; answers: Answered[] } | undefined;
  private commits = 0;
  private voided: number[] = [];
  private readonly doubt = new Doubt();
  private keeping: { receipt: Receipt; handle: H; at: number }[] | undefined;
  private leasing = false;
  private leaseLost = false;
  private posting = false;
  /** Parts journaled since the last posting began; what was journaled before is in that posting. */
  private unposted = 0;
  private inPosting = 0;
  private unpostedSince = Infinity;
  private postedAt = -Infinity;
  private connected = false;
  private fenced = false;
  private closing = false;
  private leaseAt = 0;
  private retryAt = 0;
  private poked = false;
  private siftAt = 0;
  private siftedAt = -Infinity;
  private slowUntil = 0;
  private slow = 0;
  /** Set while the carrier answers everyone with the same trouble. */
  circuit: Circuit | undefined;

  constructor(private readonly settings: LineSettings = LINE_SETTINGS) {}

  /** Parts on their way: intended and not answered in the journal. */
  get underway(): number {
    return this.outstanding.size;
  }
  /** Texts leased and not yet handed over. */
  get leased(): number {
    return this.lanes[0].length + this.lanes[1].length + this.lanes[2].length;
  }
  /** Nothing is waiting to be written down. */
  get quiet(): boolean {
    return (
      this.outstanding.size === 0 &&
      this.answers.length === 0 &&
      this.voided.length === 0 &&
      this.receipts.length === 0 &&
      !this.committing &&
      !this.keeping &&
      !this.posting &&
      this.unposted === 0
    );
  }

  /** Takes an event and says what to do next. */
  on(event: LineEvent<H>, now: number): Effect<H>[] {
    const effects: Effect<H>[] = [];
    this.take(event, now, effects);
    if (!this.fenced) this.proceed(now, effects);
    return effects;
  }

  private take(event: LineEvent<H>, now: number, effects: Effect<H>[]): void {
    switch (event.is) {
      case 'tick':
        return;
      case 'connected':
        this.connected = true;
        return;
      case 'broken':
        this.connected = false;
        return;
      case 'poke':
        this.poked = true;
        this.leaseAt = 0;
        return;
      case 'leased':
        this.leasing = false;
        // what became due while it was under way, it may not have seen
        this.leaseAt = Math.min(this.leaseAt, event.next ?? Infinity, now + this.settings.lookEvery);
        for (const row of event.rows) this.lease(row);
        // rows come nearly in order; what is due first goes first
        for (const lane of new Set(event.rows.map((row) => row.lane))) this.lanes[lane].sort(inOrder);
        return;
      case 'committed':
        return this.committed(event.commit, now, effects);
      case 'failed':
        return this.failed(event.what, now, effects);
      case 'answered':
        return this.answered(event.answer, now);
      case 'receipt':
        if (this.fenced) effects.push({ do: 'refuse', handles: [event.handle] });
        else this.receipts.push({ receipt: event.receipt, handle: event.handle, at: now });
        return;
      case 'kept':
        if (!this.keeping) return;
        this.journaled(this.keeping.length, now);
        effects.push({ do: 'acknowledge', handles: this.keeping.map((each) => each.handle) });
        this.keeping = undefined;
        return;
      case 'noted':
        return this.journaled(event.size, now);
      case 'posted':
        this.posting = false;
        this.inPosting = 0;
        this.settled(this.doubt.posted(event.more));
        // more than one posting takes: go on at once
        if (event.more) this.journaled(1, -Infinity);
        for (const row of event.dropped) this.emptied.delete(row);
        // what is tried again is back in the queue
        this.leaseAt = Math.min(this.leaseAt, now + (event.again ? 0 : this.settings.lookEvery));
        return;
      case 'close':
        this.closing = true;
        return;
      case 'fenced':
        this.fenced = true;
        effects.push({ do: 'refuse', handles: [...this.receipts, ...(this.keeping ?? [])].map((each) => each.handle) });
        this.receipts = [];
        this.keeping = undefined;
    }
  }

  private lease(row: LeasedRow): void {
    const lane = this.lanes[row.lane];
    this.rows.set(row.row, row.texts.length);
    if (row.texts.length === 0) this.empty(row.row);
    for (const text of row.texts) {
      lane.push({ ...text, row: row.row, sender: row.sender });
      this.held.set(row.sender, (this.held.get(row.sender) ?? 0) + text.parts);
    }
  }

  private empty(row: number): void {
    this.rows.delete(row);
    this.emptied.add(row);
  }

  private committed(commit: Committed, now: number, effects: Effect<H>[]): void {
    if (!this.committing) return;
    for (const answer of this.committing.answers) this.outstanding.delete(answer.text * 16 + answer.no);
    this.journaled(commit.journaled, now);
    for (const part of commit.intended) this.outstanding.add(part.text * 16 + part.no);
    // by the leased text itself, not by its id: a text that is tried again may be here twice for a moment, under two rows
    for (const text of commit.left) this.leave(text);
    this.forget(new Set(commit.left));
    if (this.committing.voided.length > 0) this.doubt.journaled();
    // what was put back for later is looked at in time
    if (commit.putBack) this.leaseAt = Math.min(this.leaseAt, now);
    for (const [sender, at] of commit.askAgain) this.blocked.set(sender, at);
    this.committing = undefined;
    for (const part of commit.intended)
      if (now <= commit.at + WRITE_WITHIN) effects.push({ do: 'write', part });
      // the machine has slept in between: what was allowed then may be forbidden now, and the gate is asked again
      else this.answered({ text: part.text, no: part.no, kind: 'unwritten' }, now);
  }

  private leave(text: LeasedText): void {
    const before = this.held.get(text.sender) ?? 0;
    const after = before - text.parts;
    this.held.set(text.sender, after);
    // time to fetch more for this sender, before it has nothing left
    const low = this.settings.ahead / 2;
    if (before >= low && after < low) this.leaseAt = 0;
    const left = (this.rows.get(text.row) ?? 1) - 1;
    if (left <= 0) this.empty(text.row);
    else this.rows.set(text.row, left);
  }

  private forget(gone: ReadonlySet<LeasedText>): void {
    if (gone.size === 0) return;
    for (const [i, lane] of this.lanes.entries()) this.lanes[i] = lane.filter((text) => !gone.has(text));
  }

  private failed(what: 'lease' | 'commit' | 'keep' | 'post', now: number, effects: Effect<H>[]): void {
    this.retryAt = now + FAILED_AGAIN;
    if (what === 'lease') {
      this.leasing = false;
      this.leaseAt = 0;
      this.leaseLost = true;
    } else if (what === 'post') {
      this.posting = false;
      this.doubt.posted(true);
      this.journaled(this.inPosting, now);
      this.inPosting = 0;
    } else if (what === 'keep') {
      // not committed: the carrier keeps them
      effects.push({ do: 'refuse', handles: (this.keeping ?? []).map((each) => each.handle) });
      this.keeping = undefined;
    } else if (this.committing) {
      // the answers must not be forgotten. If it has happened all the same, there are intents that nobody will write, and the next
      // commit says so; what it was about is not asked again before that is posted
      this.voided.push(...this.committing.voided, this.committing.commit);
      this.answers = [...this.committing.answers, ...this.answers];
      this.answersSince = now;
      const doubtful = new Set(this.committing.texts);
      for (const [i, lane] of this.lanes.entries())
        this.doubt.add(lane.filter((text) => doubtful.has(text)).map((text) => ({ lane: i, text })));
      this.forget(doubtful);
      this.committing = undefined;
    }
  }

  /** Texts of lost commits that can be asked about again: what the commit has done to them is in the tables now. */
  private settled(texts: readonly { lane: number; text: LeasedText }[]): void {
    for (const { lane, text } of texts) this.lanes[lane].push(text);
    if (texts.length > 0) for (const lane of this.lanes) lane.sort(inOrder);
  }

  private answered(answer: Answered, now: number): void {
    if (this.answers.length === 0) this.answersSince = now;
    this.answers.push(answer);
    if (answer.kind === 'accepted' || answer.kind === 'refused') {
      this.slow = 0;
      this.circuit = undefined;
    } else if (answer.kind === 'again' && now >= this.slowUntil) {
      const wait = SLOW_DOWN[Math.min(this.slow, SLOW_DOWN.length - 1)];
      this.slowUntil = now + wait;
      this.slow += 1;
      if (this.slow > CIRCUIT_AFTER)
        this.circuit = { since: this.circuit?.since ?? now, reason: answer.reason, until: this.slowUntil };
    }
  }

  private journaled(size: number, now: number): void {
    this.unposted += size;
    if (size > 0) this.unpostedSince = Math.min(this.unpostedSince, now);
  }

  /** Everything that can be begun now, and when to look again if nothing happens. */
  private proceed(now: number, effects: Effect<H>[]): void {
    let wake = Infinity;
    const later = (at: number) => (wake = Math.min(wake, at));
    if (now < this.retryAt) later(this.retryAt);
    else {
      this.keep(now, effects, later);
      this.commit(now, effects, later);
      this.post(now, effects, later);
      this.leaseMore(now, effects, later);
    }
    if (wake < Infinity) effects.push({ do: 'wake', at: Math.max(wake, now + 1) });
  }

  private keep(now: number, effects: Effect<H>[], later: (at: number) => void): void {
    if (this.keeping || this.receipts.length === 0) return;
    const ready = this.receipts[0].at + RECEIPTS_WAIT;
    // let a burst gather: a statement costs the same for one as for a hundred
    if (now < ready && this.receipts.length < RECEIPTS_MOST) return later(ready);
    this.keeping = this.receipts.splice(0, RECEIPTS_MOST);
    effects.push({ do: 'keep', receipts: this.keeping.map(({ receipt, handle }) => ({ receipt, handle })) });
  }

  private commit(now: number, effects: Effect<H>[], later: (at: number) => void): void {
    if (this.committing) return;
    const { window } = this.settings;
    // the answers of this commit make room for its intents
    let room = this.connected && !this.closing ? window - (this.outstanding.size - this.answers.length) : 0;
    if (now < this.slowUntil) {
      later(this.slowUntil);
      room = 0;
    } else if (this.slow > 0) room = Math.min(room, 1 + Math.floor(window / 2 ** this.slow)); // carefully at first
    // a nearly full window is left to empty a little: a transaction costs the same for one part as for many
    if (room > 0 && room < window * REFILL && this.outstanding.size > this.answers.length) room = 0;
    const texts = room > 0 ? this.pick(now, room, later) : [];
    // a text of many parts goes whole, also when the line is taken up carefully
    if (texts.length > 0 && this.outstanding.size === this.answers.length) room = Math.max(room, texts[0].parts);
    if (this.leased > 0 && now >= this.siftAt) this.poked = true;
    if (this.leased > 0) later(this.siftAt);
    // in a storm somebody pokes all the time: a few are asked about each time, many once a second
    const apart = this.leased > SIFTED_AT_ONCE ? this.siftedAt + SIFT_APART : -Infinity;
    if (this.poked && now < apart) later(apart);
    else if (this.poked && !this.closing) {
      // who may not go any more is let go of, due or not; now and then also while nothing can be handed over
      this.poked = false;
      this.siftedAt = now;
      this.siftAt = now + this.settings.siftEvery;
      const chosen = new Set(texts);
      for (const lane of this.lanes) for (const text of lane) if (!chosen.has(text)) texts.push(text);
    }
    const ready = this.answersSince + ANSWERS_WAIT;
    const answersDue =
      this.answers.length > 0 &&
      (this.answers.length >= window * REFILL || this.answers.length >= this.outstanding.size || now >= ready);
    if (texts.length === 0 && !answersDue && this.voided.length === 0) {
      if (this.answers.length > 0) later(ready);
      return;
    }
    const answers = this.answers;
    this.answers = [];
    const voided = this.voided;
    this.voided = [];
    this.commits += 1;
    this.committing = { commit: this.commits, voided, texts, answers };
    effects.push({ do: 'commit', commit: this.commits, voided, answers, texts, room });
  }
  /** Due texts in the order of going, for about so many parts; senders out of rate are passed over. */
  private pick(now: number, room: number, later: (at: number) => void): LeasedText[] {
    const picked: LeasedText[] = [];
    let parts = 0;
    for (const lane of this.lanes)
      for (const text of lane) {
        if (text.due > now) {
          later(text.due);
          break;
        }
        const free = this.blocked.get(text.sender);
        if (free !== undefined) {
          if (free > now) {
            later(free);
            continue;
          }
          this.blocked.delete(text.sender);
        }
        picked.push(text);
        parts += text.parts;
        if (parts >= room) return picked;
      }
    return picked;
  }

  private post(now: number, effects: Effect<H>[], later: (at: number) => void): void {
    if (this.posting) return;
    const { postSize, postWait } = this.settings;
    if (this.unposted === 0 && this.emptied.size === 0) return;
    const since = Math.min(this.unpostedSince, this.emptied.size > 0 ? now : Infinity);
    if (this.unposted > 0 && this.unposted < postSize && now < since + postWait) return later(since + postWait);
    if (this.unposted === 0 && now < this.postedAt + postWait) return later(this.postedAt + postWait);
    this.posting = true;
    this.inPosting = this.unposted;
    this.unposted = 0;
    this.unpostedSince = Infinity;
    this.postedAt = now;
    this.doubt.posting();
    effects.push({ do: 'post', emptied: [...this.emptied] });
  }

  private leaseMore(now: number, effects: Effect<H>[], later: (at: number) => void): void {
    if (this.leasing || this.closing) return;
    const { ahead } = this.settings;
    let parts = 0;
    const except: number[] = [];
    for (const [sender, held] of this.held) {
      parts += held;
      // a slow sender's share must not fill what is leased ahead
      if (held >= ahead / 2) except.push(sender);
    }
    if (parts >= MOST_SENDERS * ahead) return;
    if (now < this.leaseAt) return later(this.leaseAt);
    this.leasing = true;
    this.leaseAt = Infinity;
    effects.push({
      do: 'lease',
      parts: ahead,
      except,
      ...(this.leaseLost ? { known: [...this.rows.keys(), ...this.emptied] } : {}),
    });
    this.leaseLost = false;
  }
}

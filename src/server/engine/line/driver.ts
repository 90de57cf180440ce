import type { Clock } from '../../../core/clock';
import { HoursBook } from '../../../core/gate/hours';
import type { Answered, Receipt, Resolved } from '../../../core/line/entries';
import { LINE_SETTINGS, type Effect, type LineEvent, type LineSettings, type Outgoing } from '../../../core/line/effects';
import { Line } from '../../../core/line/line';
import type { Db } from '../../db/db';
import type { Bus } from '../../desk/bus';
import type { Gateway } from '../gateway';
import { commitWindow, type Words } from './claim-texts';
import { postJournal, type PostResult } from './post-journal';
import { keepEntries } from './journal';
import { Fenced } from './fenced';
import { beat, beginOwner, endOwner, takeOverDead } from './owner';
import { dropEmptied, lease } from './queue';
import { submitFields } from './submit-fields';

interface Handle {
  resolve(): void;
  reject(error: Error): void;
}

/** How often an owner says that it lives, ms. On the embedded engine nobody asks: its folder's lock says that all others are dead. */
const BEAT = { postgres: 4000, embedded: 60_000 };
const POKE_EVERY = 150;
const STOP_WITHIN = 20_000;
const BEGIN_AGAIN = 2000;
/** No epoch: this process does not own the line (yet, or any more). */
const NOBODY = 0;

/**
 * Carries out what the line's machine wants done: commits, socket writes, postings, sleep. Decides nothing itself; the order of
 * things and what may be under way at once are the machine's, who may be texted is the gate's.
 */
export class LineDriver {
  line: Line<Handle>;
  private readonly db: Db;
  private readonly settings: LineSettings;
  private readonly book = new HoursBook();
  private epoch = NOBODY;
  /** Answers that came while this process owned no line. */
  private readonly late: Answered[] = [];
  private ended = false;
  private connected = false;
  private wakeAt = Infinity;
  private waker: AbortController | undefined;
  private pokeTimer: NodeJS.Timeout | undefined;
  private beats: NodeJS.Timeout | undefined;
  private trouble: string | undefined;
  private readonly busy = new Set<Promise<void>>();
  /** Called each time another process has taken over. */
  onFenced: () => void = () => undefined;

  constructor(
    db: Db,
    private readonly clock: Clock,
    private readonly gateway: Pick<Gateway, 'submit' | 'on'>,
    private readonly bus: Bus,
    private readonly failed: (error: unknown) => void,
    settings: Partial<LineSettings> = {},
  ) {
    this.db = db.lane('dispatch');
    this.settings = { ...LINE_SETTINGS, ...settings };
    this.line = new Line<Handle>(this.settings);
    bus.on('work', () => this.poke());
    gateway.on('state', ({ state }) => {
      this.connected = state === 'connected';
      this.tell({ is: this.connected ? 'connected' : 'broken' });
    });
  }

  /** Becomes an owner and settles what dead ones left; then the line may begin. */
  async start(): Promise<void> {
    const epoch = await beginOwner(this.db, `${process.pid}`, Date.now());
    await takeOverDead(this.db, epoch, this.clock.now(), Date.now());
    this.epoch = epoch;
    this.beats = setInterval(() => this.background(this.beat()), BEAT[this.db.engine]);
    this.beats.unref();
    this.tell({ is: 'tick' });
  }

  /** Lets what is under way come to its end, writes it down, and gives everything else back. */
  async stop(): Promise<void> {
    this.tell({ is: 'close' });
    clearInterval(this.beats);
    clearTimeout(this.pokeTimer);
    // what cannot be written down by then is found in the journal by the next owner
    for (const latest = Date.now() + STOP_WITHIN; !this.ended && !this.line.quiet && Date.now() < latest;) {
      this.tell({ is: 'tick' });
      await new Promise((resolve) => setTimeout(resolve, 10));
    }
    this.ended = true;
    this.waker?.abort();
    while (this.busy.size > 0) await Promise.all([...this.busy]);
    if (this.epoch !== NOBODY) await endOwner(this.db, this.epoch, this.clock.now());
  }

  /** This process's epoch as an owner of the line. */
  get owner(): number {
    return this.epoch;
  }

  /** Resolves once the receipt is committed. */
  receipt(receipt: Receipt): Promise<void> {
    return new Promise((resolve, reject) => this.tell({ is: 'receipt', receipt, handle: { resolve, reject } }));
  }

  /** Journals what was found out about parts. */
  async resolved(parts: Resolved[]): Promise<void> {
    if (parts.length === 0 || this.ended || this.epoch === NOBODY) return;
    const size = await keepEntries(this.db, this.epoch, [{ kind: 'resolved', at: this.clock.now(), parts }]);
    this.tell({ is: 'noted', size });
  }

  /** Looks at everything that is due now, and resolves when it is handed over and written down. For tests with a clock of their own. */
  async look(): Promise<void> {
    this.tell({ is: 'poke' });
    for (let quiet = 0, turns = 0; quiet < 3 && turns < 2000 && !this.ended; turns += 1) {
      this.tell({ is: 'tick' });
      await new Promise((resolve) => setTimeout(resolve, 3));
      quiet = this.busy.size === 0 && this.line.quiet ? quiet + 1 : 0;
    }
  }

  private async beat(): Promise<void> {
    const { epoch } = this;
    if (epoch === NOBODY) return;
    if (!(await beat(this.db, epoch, Date.now()))) return this.fenced(epoch);
    const { runs, taken } = await takeOverDead(this.db, epoch, this.clock.now(), Date.now());
    if (taken === 0) return;
    for (const run of runs) this.bus.changed('run', run);
    this.bus.changed('replies');
    this.tell({ is: 'poke' });
  }

  /** Something has changed; many such words in a moment are one. */
  private poke(): void {
    this.pokeTimer ??= setTimeout(
      () => {
        this.pokeTimer = undefined;
        this.tell({ is: 'poke' });
      },
      this.line.leased === 0 ? 0 : POKE_EVERY,
    );
  }

  private tell(event: LineEvent<Handle>): void {
    if (this.ended || this.epoch === NOBODY) {
      if (event.is === 'receipt') event.handle.reject(new Error('The line is not open.'));
      // the carrier's word is not lost because nobody owns the line for a moment
      else if (event.is === 'answered' && !this.ended) this.late.push(event.answer);
      return;
    }
    for (const effect of this.line.on(event, this.clock.now())) this.carryOut(effect);
    const trouble = this.line.circuit?.reason;
    if (trouble === this.trouble) return;
    this.trouble = trouble;
    this.bus.changed('carrier'); // every page says it
  }

  private carryOut(effect: Effect<Handle>): void {
    switch (effect.do) {
      case 'wake':
        return this.wake(effect.at);
      case 'acknowledge':
        for (const { resolve } of effect.handles) resolve();
        return;
      case 'refuse':
        for (const { reject } of effect.handles) reject(new Error('It could not be written down just now.'));
        return;
      case 'write':
        throw new Error('Parts are written with the words of their commit.');
      case 'lease':
        return this.background(this.lease(effect));
      case 'commit':
        return this.background(this.commit(effect));
      case 'keep':
        return this.background(this.keep(effect));
      case 'post':
        return this.background(this.post(effect));
    }
  }

  private background(work: Promise<void>): void {
    const watched = work.catch(this.failed).finally(() => this.busy.delete(watched));
    this.busy.add(watched);
  }

  private wake(at: number): void {
    if (at >= this.wakeAt && this.waker) return;
    this.waker?.abort();
    const waker = new AbortController();
    this.waker = waker;
    this.wakeAt = at;
    void this.clock.sleep(at - this.clock.now(), waker.signal).then(() => {
      if (this.waker !== waker) return;
      this.waker = undefined;
      this.wakeAt = Infinity;
      this.tell({ is: 'tick' });
    });
  }

  /** Runs one transaction; when it fails nothing has been written, and the machine tries again. */
  private async attempt(what: 'lease' | 'keep' | 'post', work: (epoch: number) => Promise<LineEvent<Handle>>): Promise<void> {
    const { epoch } = this;
    let event: LineEvent<Handle>;
    try {
      event = await work(epoch);
    } catch (error) {
      if (error instanceof Fenced) return this.fenced(epoch);
      this.failed(error);
      event = { is: 'failed', what };
    }
    // what was begun under an epoch that is over is no news to the line of now
    if (epoch === this.epoch) this.tell(event);
  }

  /**
   * Another process has taken this line over (this one was silent for too long): nothing more goes under the old epoch, and the
   * process becomes a new owner. Answers that still come are journaled by it: they are the carrier's word all the same.
   */
  private fenced(epoch: number): void {
    if (this.ended || epoch !== this.epoch) return;
    this.tell({ is: 'fenced' });
    clearInterval(this.beats);
    this.epoch = NOBODY;
    this.line = new Line<Handle>(this.settings);
    this.onFenced();
    this.background(this.begin());
  }

  private async begin(): Promise<void> {
    while (!this.ended && this.epoch === NOBODY) {
      try {
        await this.start();
      } catch (error) {
        this.failed(error);
        await new Promise((resolve) => setTimeout(resolve, BEGIN_AGAIN).unref());
      }
    }
    if (this.connected) this.tell({ is: 'connected' });
    for (const answer of this.late.splice(0)) this.tell({ is: 'answered', answer });
  }

  private lease(effect: Extract<Effect, { do: 'lease' }>): Promise<void> {
    return this.attempt('lease', async (epoch) => ({
      is: 'leased',
      ...(await lease(this.db, epoch, { ...effect, now: this.clock.now() })),
    }));
  }

  private async commit(effect: Extract<Effect, { do: 'commit' }>): Promise<void> {
    const { epoch } = this;
    let words = new Map<number, Words>();
    let event: LineEvent<Handle>;
    try {
      const done = await commitWindow(this.db, epoch, { ...effect, now: () => this.clock.now() }, this.book);
      words = done.words;
      event = { is: 'committed', commit: done.commit };
    } catch (error) {
      if (error instanceof Fenced) return this.fenced(epoch);
      this.failed(error);
      event = { is: 'failed', what: 'commit' };
    }
    if (this.ended || epoch !== this.epoch) return;
    for (const next of this.line.on(event, this.clock.now()))
      if (next.do === 'write') this.write(next.part, words.get(next.part.text));
      else this.carryOut(next);
  }

  private keep(effect: Extract<Effect<Handle>, { do: 'keep' }>): Promise<void> {
    return this.attempt('keep', async (epoch) => {
      const receipts = effect.receipts.map((each) => each.receipt);
      await keepEntries(this.db, epoch, [{ kind: 'receipts', at: this.clock.now(), receipts }]);
      return { is: 'kept' };
    });
  }

  private post(effect: Extract<Effect, { do: 'post' }>): Promise<void> {
    return this.attempt('post', async (epoch) => {
      let dropped: number[] = [];
      const result: PostResult = await this.db.transaction(async (tx) => {
        const posted = await postJournal(tx, { epoch, ended: false, now: this.clock.now() });
        dropped = await dropEmptied(tx, epoch, effect.emptied);
        return posted;
      });
      for (const run of result.runs) this.bus.changed('run', run);
      if (result.singles) this.bus.changed('replies');
      return { is: 'posted', more: result.more, dropped, again: result.again };
    });
  }

  private write(part: Outgoing, words: Words | undefined): void {
    const answer = (answered: Answered) => this.tell({ is: 'answered', answer: answered });
    const key = { text: part.text, no: part.no };
    if (!words) return answer({ ...key, kind: 'unwritten' });
    let fields;
    try {
      fields = submitFields(part, words, this.clock.now());
    } catch (error) {
      this.failed(error);
      return answer({ ...key, kind: 'refused', reason: 'it could not be put on the air' });
    }
    this.gateway.submit(fields, part.reference).then(
      (handed) => answer({ ...key, ...handed }),
      (error: unknown) => {
        this.failed(error);
        answer({ ...key, kind: 'lost', reason: 'our own trouble while handing over' });
      },
    );
  }
}

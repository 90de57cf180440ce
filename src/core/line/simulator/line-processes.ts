import type { gate } from '../../gate/gate';
import type { onReceipt } from '../../outcome/states';
import type { Effect, LineEvent } from '../effects';
import type { Receipt } from '../entries';
import { Line } from '../line';
import { askAt, foundOut } from '../look-up';
import { Agenda } from './agenda';
import { wrongToSend } from './check';
import { Dice } from './dice';
import { SimCarrier } from './far-end';
import type { Plan } from './plan';
import { quietIn, SimStore } from './store';
import { transact, type Transaction } from './transact';

/** Rules that are broken on purpose, to see that the simulator finds it. */
export interface Mutation {
  /** Writes without having committed the intent. */
  writeFirst?: boolean;
  ask?: typeof gate;
  move?: typeof onReceipt;
  unfenced?: boolean;
}

const TIMEOUT = 10_000;
const DEAD_AFTER = 15_000;

export interface Process {
  line: Line<Receipt>;
  epoch: number;
  alive: boolean;
  stalledUntil: number;
  beatAt: number;
  session: number;
  /** Parts written on this session without an answer. */
  inFlight: Map<number, { text: number; no: number }>;
  wakeAt: number;
}

/** The processes of a history, each with its line: what its machine wants is carried out some time later, or not at all. */
export class LineProcesses {
  now: number;
  protected readonly dice: Dice;
  readonly store: SimStore;
  readonly carrier: SimCarrier;
  protected readonly agenda = new Agenda();
  protected readonly processes: Process[] = [];
  protected readonly problems: string[] = [];
  protected readonly story: string[] = [];
  readonly wrote: number[] = [];
  readonly acknowledged: Receipt[] = [];
  readonly removed = new Map<string, Set<string>>();
  protected ended = false;
  private sessions = 0;

  constructor(
    readonly plan: Plan,
    protected readonly mutation: Mutation,
    private readonly tell: boolean,
  ) {
    this.dice = new Dice(plan.seed * 31 + 7);
    this.now = plan.start;
    this.store = new SimStore({ ask: mutation.ask, move: mutation.move, unfenced: mutation.unfenced });
    this.carrier = new SimCarrier(this.dice, { ...plan.temper });
    this.store.intended = (text) => {
      const wrong = wrongToSend(this.store, text, this.now);
      if (wrong) this.problems.push(`text ${text.id} is handed over ${wrong}`);
    };
  }

  protected say(what: () => string): void {
    if (this.tell) this.story.push(`${String(this.now - this.plan.start).padStart(7)} ms  ${what()}`);
  }

  protected boot(): void {
    const process: Process = {
      line: new Line<Receipt>({ window: 4, ahead: 12, postSize: 6, postWait: 400, lookEvery: 200_000, siftEvery: 50_000 }),
      epoch: 0,
      alive: true,
      stalledUntil: 0,
      beatAt: this.now,
      session: 0,
      inFlight: new Map(),
      wakeAt: Infinity,
    };
    this.processes.push(process);
    process.epoch = this.store.start(
      (epoch) => !this.processes.some((each) => each.epoch === epoch && (each.alive || each.beatAt > this.now - DEAD_AFTER)),
      this.now,
    );
    this.say(() => `owner ${process.epoch} starts`);
    this.beat(process);
    this.tellLine(process, { is: 'tick' });
    this.connect(process);
    this.booted(process);
  }

  /** Of the line alone there is no more to it; what plays more with it looks here: a process has begun, and has its line. */
  protected booted: (process: Process) => void = () => undefined;
  protected connected: () => void = () => undefined;
  /** A transaction of the line has happened. */
  protected happened: () => void = () => undefined;
  /** Whether a text goes in quiet hours, too. */
  protected atAnyHour: (text: number) => boolean = () => false;

  /** Owners say that they live, and take over whoever has not said so for long. */
  private beat(process: Process): void {
    if (
      !process.alive ||
      (this.ended &&
        this.processes.filter((each) => each.alive).length === 1 &&
        ![...this.store.owners].some(([epoch, owner]) => epoch !== process.epoch && !owner.ended))
    )
      return;
    if (this.now >= process.stalledUntil) {
      process.beatAt = this.now;
      for (const other of this.processes)
        if (other !== process && !this.store.owners.get(other.epoch)?.ended && other.beatAt <= this.now - DEAD_AFTER) {
          this.say(() => `owner ${process.epoch} takes over owner ${other.epoch}`);
          this.store.takeOver(other.epoch, this.now);
          this.tellLine(process, { is: 'poke' });
          this.lookUp(process);
        }
    }
    this.agenda.add(this.now + 5000, () => this.beat(process));
  }

  private connect(process: Process): void {
    this.agenda.add(this.now + this.dice.between(5, 200), () => {
      if (!process.alive || process.session !== 0) return;
      process.session = this.sessions += 1;
      this.say(() => `owner ${process.epoch} is connected`);
      this.tellLine(process, { is: 'connected' });
      this.lookUp(process);
      for (const receipt of this.carrier.offers()) this.offer(receipt);
      this.connected();
    });
  }

  /** Asks about lost parts, once enough time has gone by that nothing of a broken line is still on its way. */
  protected lookUp(process: Process): void {
    if (!process.alive || process.session === 0 || !this.carrier.temper.looksUp) return;
    if (this.now < process.stalledUntil || this.store.owners.get(process.epoch)?.ended) return;
    for (const part of this.store.parts.values()) {
      const at = askAt(part, this.now);
      if (at === undefined) continue;
      if (at > this.now) {
        this.agenda.add(at, () => this.lookUp(process));
        continue;
      }
      const answer = this.carrier.lookUp(part.number, part.reference);
      if (answer === 'unknown') return;
      this.say(() => `lookup of text ${part.text} part ${part.no}: ${answer}`);
      const found = foundOut(part, answer === 'never' ? answer : { messageId: answer }, this.now);
      this.store.resolve(process.epoch, { kind: 'resolved', at: this.now, parts: [found] });
      this.tellLine(process, { is: 'noted', size: 1 });
    }
  }

  protected cut(process: Process): void {
    if (process.session === 0) return;
    process.session = 0;
    this.say(() => `the line of owner ${process.epoch} breaks`);
    const lost = [...process.inFlight.values()];
    process.inFlight.clear();
    this.tellLine(process, { is: 'broken' });
    for (const part of lost) this.tellLine(process, { is: 'answered', answer: { ...part, kind: 'lost', reason: 'line broke' } });
    this.connect(process);
  }

  protected tellLine(process: Process, event: LineEvent<Receipt>): void {
    if (!process.alive) return;
    if (this.now < process.stalledUntil) return this.agenda.add(process.stalledUntil, () => this.tellLine(process, event));
    for (const effect of process.line.on(event, this.now)) this.carryOut(process, effect);
  }

  private carryOut(process: Process, effect: Effect<Receipt>): void {
    switch (effect.do) {
      case 'wake':
        // an earlier wake-up that is already on the agenda does as well
        if (process.wakeAt <= effect.at && process.wakeAt > this.now) return;
        process.wakeAt = effect.at;
        return this.agenda.add(effect.at, () => {
          if (process.wakeAt > effect.at) return;
          process.wakeAt = Infinity;
          this.tellLine(process, { is: 'tick' });
        });
      case 'write':
        return this.write(process, effect.part);
      case 'acknowledge':
        for (const receipt of effect.handles) {
          this.carrier.acknowledged(receipt);
          this.acknowledged.push(receipt);
        }
        return;
      case 'refuse':
        for (const receipt of effect.handles) this.agenda.add(this.now + 500, () => this.offer(receipt));
        return;
      default:
        if (this.mutation.writeFirst && effect.do === 'commit' && process.session !== 0)
          for (const text of effect.texts.slice(0, effect.room)) {
            const stored = this.store.text(text.id);
            if (text.due <= this.now && stored.queue === text.row && stored.open > 0 && !this.mutatedWrites.has(text.id)) {
              this.mutatedWrites.add(text.id);
              for (let no = 1; no <= stored.parts; no += 1)
                this.write(process, { text: text.id, no, reference: text.id * 16 + no, until: this.now + 1000 });
            }
          }
        return this.begin(process, effect);
    }
  }
  private readonly mutatedWrites = new Set<number>();

  /** A transaction happens as a whole, some time later; its answer may be lost with the process. */
  private begin(process: Process, effect: Transaction): void {
    this.agenda.add(this.now + this.dice.between(1, 15), () => {
      const diedBefore = !process.alive && this.dice.chance(0.5);
      if (diedBefore) return;
      if (process.alive && this.dice.chance(0.01)) return this.tellLine(process, { is: 'failed', what: effect.do });
      const event = transact(this.store, process.epoch, effect, this.now);
      this.happened();
      if (effect.do === 'post') this.agenda.add(this.now, () => this.lookUp(process));
      // it has happened, and its answer was lost
      if (process.alive && event.is !== 'fenced' && this.dice.chance(0.01))
        return this.tellLine(process, { is: 'failed', what: effect.do });
      this.agenda.add(this.now + this.dice.between(0, 3), () => this.tellLine(process, event));
    });
  }

  private write(process: Process, part: { text: number; no: number; reference: number; until: number }): void {
    const key = part.text * 16 + part.no;
    const { session } = process;
    // a moment may lie between the gate's word and the write, no more
    const person = this.store.people.get(this.store.text(part.text).number);
    if (
      !this.mutation.writeFirst &&
      !this.atAnyHour(part.text) &&
      person?.zones.some((zone) => quietIn(zone, this.now) && quietIn(zone, this.now - 5000))
    )
      this.problems.push(`text ${part.text} is written in quiet hours`);
    if (session === 0) {
      const answer = { text: part.text, no: part.no, kind: 'unwritten' as const };
      return this.agenda.add(this.now, () => this.tellLine(process, { is: 'answered', answer }));
    }
    this.wrote.push(this.now);
    process.inFlight.set(key, { text: part.text, no: part.no });
    this.say(() => `owner ${process.epoch} writes text ${part.text} part ${part.no}`);
    const { breaks } = this.carrier.temper;
    const broken = breaks > 0 && this.dice.chance(breaks);
    if (broken) this.agenda.add(this.now + this.dice.between(1, 20), () => process.session === session && this.cut(process));
    this.agenda.add(this.now + (broken ? this.dice.between(1, 1500) : this.dice.between(1, 25)), () => {
      // what was on a line that broke may have arrived, or not
      if (process.session !== session && this.dice.chance(0.5)) return;
      this.arrive(process, session, part);
    });
    this.agenda.add(this.now + TIMEOUT, () => {
      if (process.session === session && process.inFlight.has(key)) this.cut(process);
    });
  }

  private arrive(process: Process, session: number, part: { text: number; no: number; reference: number; until: number }): void {
    const { answer, receipts } = this.carrier.submit(part, this.store.text(part.text).number, this.now);
    this.say(() => `the carrier ${answer ? answer.kind : 'is silent about'} text ${part.text} part ${part.no}`);
    const wait = this.dice.between(1, 60);
    for (const { receipt, early } of receipts) {
      this.carrier.hold(receipt);
      this.agenda.add(this.now + (early ? 0 : wait + this.dice.between(1, this.dice.chance(0.8) ? 500 : 20_000)), () =>
        this.offer(receipt),
      );
    }
    if (!answer) return;
    this.agenda.add(this.now + wait, () => {
      if (process.session !== session || !process.inFlight.delete(part.text * 16 + part.no)) return;
      this.tellLine(process, { is: 'answered', answer });
    });
  }

  /** A receipt comes in over some owner's line. */
  private offer(receipt: Receipt): void {
    const bound = this.processes.filter((each) => each.alive && each.session !== 0);
    if (bound.length === 0) return; // offered again at the next connection
    this.tellLine(bound[this.dice.between(0, bound.length - 1)], { is: 'receipt', receipt, handle: receipt });
  }

  protected poke(): void {
    // an owner that stalls hears of it only later
    for (const process of this.processes) this.tellLine(process, { is: 'poke' });
  }
}

import { check } from './check';
import { LineProcesses, type Mutation } from './line-processes';
import type { Happening, Plan } from './plan';
import { SIM_DAY } from './store';
import { RUN, settle } from './world';

export interface Verdict {
  problems: string[];
  /** What happened, in words; only kept when asked for. */
  story: string[];
  events: number;
}

/** Plays one history to its end and says what is wrong with it. Deterministic: the same plan gives the same verdict. */
export function play(plan: Plan, mutation: Mutation = {}, tell = false): Verdict {
  return new History(plan, mutation, tell).play();
}

export class History extends LineProcesses {
  private events = 0;

  play(): Verdict {
    this.begins();
    for (let i = 0; i < this.plan.owners; i += 1) this.boot();
    for (const each of this.plan.happenings) this.agenda.add(this.plan.start + each.at, () => this.happen(each));
    this.agenda.add(this.plan.start + this.stormy, () => this.calm());
    const end = this.plan.start + this.stormy + this.quietAfter;
    for (let next = this.agenda.take(); next; next = this.agenda.take()) {
      this.now = Math.max(this.now, next.at);
      this.events += 1;
      if (this.now > end || (this.ended && this.rests())) break;
      next.act();
      if (this.events > this.most) {
        this.problems.push('does not come to an end');
        break;
      }
    }
    this.problems.push(...this.wrong());
    return { problems: this.problems, story: this.story, events: this.events };
  }

  /** How long things happen, and how long it may take after that until all is well, ms. */
  protected readonly stormy: number = 70_000;
  protected readonly quietAfter: number = SIM_DAY * 7;
  protected readonly most: number = 40_000;

  /** The world before anything is sent. */
  protected begins(): void {
    settle(this.store, this.plan, this.dice);
  }

  /** What is wrong at the end. */
  protected wrong(): string[] {
    return check(this);
  }

  private happen({ what, which, ms }: Happening): void {
    const { store } = this;
    const number = `n${(which % this.plan.texts) + 1}`;
    const person = store.people.get(number);
    const run = store.runs.get(RUN);
    const living = this.processes.filter((each) => each.alive);
    this.say(() => `${what} ${which} ${ms}`);
    switch (what) {
      case 'kill': {
        const process = living[which % Math.max(1, living.length)];
        if (!process) return;
        process.alive = false;
        process.session = 0;
        this.agenda.add(this.now + ms, () => this.boot());
        return;
      }
      case 'stall': {
        const process = living[which % Math.max(1, living.length)];
        if (process) process.stalledUntil = this.now + ms;
        return;
      }
      case 'cut':
        if (living.length > 0) this.cut(living[which % living.length]);
        return;
      case 'pause':
        if (run?.state === 'sending') run.state = 'paused';
        return this.poke();
      case 'resume':
        if (run?.state === 'paused') run.state = 'sending';
        return this.poke();
      case 'cancel':
        if (run && (run.state === 'sending' || run.state === 'paused'))
          Object.assign(run, { state: 'stopped', note: 'canceled' });
        return this.poke();
      case 'stop':
        if (person) person.registered = true;
        this.remove(number, 'opted out');
        return this.poke();
      case 'erase':
        if (person) person.state = 'erased';
        this.remove(number, 'erased');
        return this.poke();
      case 'change':
        if (person) person.state = 'changed';
        this.remove(number, 'number changed');
        return this.poke();
      case 'withdraw':
        if (person) person.withdrawn = true;
        this.remove(number, 'consent withdrawn');
        return this.poke();
      case 'jump':
        this.now += ms;
    }
  }

  protected remove(number: string, reason: string): void {
    this.removed.set(number, (this.removed.get(number) ?? new Set()).add(reason));
  }

  /** Everything is well again, so that what can go goes: what remains is the promise, not the weather. */
  protected calm(): void {
    this.ended = true;
    this.say(() => 'calm');
    Object.assign(this.carrier.temper, { throttles: 0, silent: 0, missing: 0, breaks: 0 });
    const run = this.store.runs.get(RUN);
    if (run?.state === 'paused') run.state = 'sending';
    for (const process of this.processes) process.stalledUntil = 0;
    if (!this.processes.some((each) => each.alive)) this.boot();
    // whoever died is taken over
    const [living] = this.processes.filter((each) => each.alive && !this.store.owners.get(each.epoch)?.ended);
    if (!living) this.boot();
    for (const process of this.processes) if (!process.alive) this.store.takeOver(process.epoch, this.now);
    this.poke();
    for (const process of this.processes) this.lookUp(process);
  }

  protected rests(): boolean {
    for (const text of this.store.texts.values()) if (text.open > 0) return false;
    const { echoes, looksUp } = this.carrier.temper;
    // what can still be found out is waited for
    if (echoes && looksUp) for (const part of this.store.parts.values()) if (part.state === 'uncertain') return false;
    return (
      this.processes.every((each) => !each.alive || this.store.owners.get(each.epoch)?.ended || each.line.quiet) &&
      this.carrier.offers().length === 0
    );
  }
}

import { checkParts, checkRate, wrongToSend } from '../../line/simulator/check';
import type { Verdict } from '../../line/simulator/history';
import { SIM_DAY } from '../../line/simulator/store';
import { SENDER } from '../../line/simulator/world';
import { LAST_WORD_WITHIN, type RunEvent } from '../../runs/life';
import { one, pressing, settingAside } from './desk-acts';
import { deskWrong } from './desk-oracles';
import { STORMY, type DeskHappening, type DeskPlan } from './desk-plan';
import { DeskProcesses } from './desk-processes';
import type { DeskRules } from './desk-rules';
import type { FromPhone, Pressed, SimBroadcast, SimInbound } from './desk-tables';
import { Trouble } from './works';

/** Plays one history of the whole desk to its end and says what is wrong with it. The same plan gives the same verdict. */
export function playDesk(plan: DeskPlan, rules: DeskRules = {}, tell = false): Verdict {
  return new DeskHistory(plan, rules, tell).play();
}

export class DeskHistory extends DeskProcesses {
  readonly presses: Pressed[] = [];
  readonly phones: FromPhone[] = [];
  protected override readonly stormy = STORMY;
  protected override readonly quietAfter = LAST_WORD_WITHIN + SIM_DAY * 20;
  protected override readonly most = 60_000;

  constructor(script: DeskPlan, rules: DeskRules, tell: boolean) {
    super(script, rules, tell);
    this.store.intended = (text) => {
      if (this.desk.kinds.get(text.id) === 'confirmation') return;
      const wrong = text.number === 'desk' ? undefined : wrongToSend(this.store, text, this.now);
      if (wrong) this.problems.push(`text ${text.id} is handed over ${wrong}`);
      const stop = this.phones.find(
        (each) => each.number === text.number && each.kind === 'stop' && each.acknowledgedAt !== null,
      );
      if (stop) this.problems.push(`text ${text.id} is handed over after its stop was acknowledged`);
      const run = text.run === null ? undefined : this.desk.runs.get(text.run);
      // a run of a series that is going goes on, when what comes after it is written anew
      const written = run && this.desk.broadcast(run.broadcast);
      if (written && written.words !== run.words && written.writtenAt < (run.startedAt ?? Infinity))
        this.problems.push(`text ${text.id} says what was written anew since`);
      if (run && run.endedAt !== null) this.problems.push(`text ${text.id} goes round after its run was settled`);
    };
  }

  protected override begins(): void {
    const { store, desk, dice, plan, script } = this;
    store.senders.set(SENDER, { rate: plan.rate, freeAt: 0 });
    for (let id = 1; id <= plan.texts; id += 1)
      store.people.set(`n${id}`, {
        zones: dice.chance(0.5) ? ['near'] : dice.chance(0.5) ? ['far'] : ['near', 'far'],
        registered: false,
        withdrawn: false,
        state: 'here',
      });
    script.broadcasts.forEach(({ kind, after, every, times }, i) => {
      desk.broadcasts.set(i + 1, {
        id: i + 1,
        kind,
        state: 'draft',
        version: 1,
        words: 1,
        at: plan.start + after,
        every,
        times,
        nextDate: null,
        nextAt: null,
        planAt: null,
        goesOn: false,
        importsHad: new Set(),
        series: '',
        writtenAt: plan.start,
      });
    });
    for (const each of script.happenings) this.agenda.add(plan.start + each.at, () => this.deskHappens(each));
  }

  protected override connected = (): void => {
    this.desk.jobs.want('look up', '', this.now);
    for (const each of this.phones) if (each.acknowledgedAt === null) this.bring(each);
  };

  // ---- people of the desk, and phones

  private deskHappens({ what, which, ms }: DeskHappening): void {
    const { desk } = this;
    const broadcast = desk.broadcast((which % desk.broadcasts.size) + 1);
    const runs = [...desk.runs.values()].filter((run) => run.endedAt === null);
    const run = runs.at(which % Math.max(1, runs.length));
    const number = `n${(which % this.plan.texts) + 1}`;
    this.say(() => `${what} ${which} ${ms}`);
    switch (what) {
      case 'press':
        return this.press(broadcast, ms);
      case 'back':
        return this.setAside(broadcast, 'draft');
      case 'skip':
        return this.setAside(broadcast, 'skipped');
      case 'edit':
        return this.asked(() => {
          if (broadcast.state !== 'draft' && broadcast.state !== 'set_aside') return;
          broadcast.words += 1;
          broadcast.writtenAt = this.now;
          broadcast.version += 1;
        });
      case 'pause':
      case 'resume':
        return this.asked(() => run && this.moved(run.id, { is: what }));
      case 'agree':
        return this.asked(() => run && this.moved(run.id, { is: 'agreed' }));
      case 'cancel':
        return this.asked(() => run && this.moved(run.id, { is: 'cancel rest', by: 'Ana' }));
      case 'stop text':
        return this.texts(number, 'stop');
      case 'maybe text':
        return this.texts(number, 'maybe');
      case 'reply text':
        return this.texts(number, 'reply');
      case 'decide':
        return this.asked(() => {
          const open = desk.inbound.find((each) => each.kind === 'maybe' && !each.done);
          if (open && which % 2 === 0) {
            desk.stop(open);
            this.remove(open.number, 'opted out');
          } else if (open) open.done = true;
        });
      case 'import':
        return this.asked(() => {
          const imported = { id: desk.imports.length + 1, at: this.now, undoneAt: null as number | null };
          desk.imports.push(imported);
          // now and then it is taken back, as soon as it is seen
          if (ms % 2 === 0) this.agenda.add(this.now + (ms % 200), () => this.asked(() => (imported.undoneAt ??= this.now)));
          for (const each of desk.broadcasts.values())
            if (each.state === 'scheduled' && each.kind === 'import') desk.jobs.want('plan next', each.id, 0);
        });
      case 'sleep': {
        const process = this.living();
        if (process) process.stalledUntil = Math.max(process.stalledUntil, this.now + 11_000 + ms);
        return;
      }
      case 'away':
        this.awayUntil = this.now + ms;
    }
  }

  private moved(run: number, event: RunEvent): void {
    this.desk.move(run, event);
    this.poke();
  }

  /** Somebody asks for something once; where the answer is lost, they look whether it happened. */
  private asked(step: () => unknown): void {
    const process = this.living();
    if (process) this.perform(process, one(step), () => undefined);
  }

  private setAside(broadcast: SimBroadcast, as: 'draft' | 'skipped'): void {
    const process = this.living();
    if (process) this.perform(process, settingAside(this.desk, broadcast, as), () => undefined);
  }

  /** Looks, and presses what was seen; pressed again with the same id until it is known what came of it. */
  private press(broadcast: SimBroadcast, ms: number): void {
    const { desk } = this;
    if (broadcast.state !== 'draft' && broadcast.state !== 'set_aside') return;
    const { version } = broadcast;
    // a time that has passed is chosen anew
    if (broadcast.at < this.now + 4000) broadcast.at = this.now + 6000 + (broadcast.every % 5000);
    const pressed: Pressed = {
      id: `press-${this.presses.length + 1}`,
      broadcast: broadcast.id,
      version,
      digest: desk.plan(broadcast).digest,
      words: broadcast.words,
      came: undefined,
    };
    this.presses.push(pressed);
    this.agenda.add(this.now + ms, () => this.pressAgain(pressed));
  }

  private pressAgain(pressed: Pressed): void {
    const process = this.living();
    const again = () => this.agenda.add(this.now + this.dice.between(300, 6000), () => this.pressAgain(pressed));
    if (!process) return again();
    let answered = false;
    this.perform(process, pressing(this.desk, pressed, this.offices.get(process)?.around), (came) => {
      answered = true;
      if ('error' in came && came.error instanceof Trouble) again();
      else pressed.came = 'error' in came ? 'refused' : came.value;
      this.say(() => `${pressed.id}: ${JSON.stringify(pressed.came ?? 'no answer')}`);
    });
    // the process died with it: nobody answers
    this.agenda.add(this.now + 20_000, () => {
      if (!answered && pressed.came === undefined) {
        answered = true;
        again();
      }
    });
  }

  private texts(number: string, kind: SimInbound['kind']): void {
    const text: FromPhone = { id: `t${this.phones.length + 1}`, number, kind, acknowledgedAt: null };
    this.phones.push(text);
    if (kind === 'stop') this.remove(number, 'opted out');
    this.bring(text);
  }

  private bring(text: FromPhone): void {
    const bound = this.processes.filter((each) => each.alive && each.session !== 0);
    const process = bound.at(this.dice.between(0, Math.max(0, bound.length - 1)));
    if (text.acknowledgedAt !== null || !process) return;
    const acknowledge = () => {
      text.acknowledgedAt ??= this.now;
      this.say(() => `${text.id} (${text.kind} of ${text.number}) is acknowledged`);
    };
    if (this.rules.acknowledgesFirst) acknowledge();
    this.perform(
      process,
      one(() => this.desk.take(text)),
      (came) => ('error' in came ? this.agenda.add(this.now + 2000, () => this.bring(text)) : acknowledge()),
    );
  }

  // ---- the end

  protected override calm(): void {
    this.awayUntil = 0;
    for (const run of this.desk.runs.values()) if (run.state === 'paused') this.desk.move(run.id, { is: 'resume' });
    // one process is enough from now on, and what the others had in hand is taken over
    const [kept] = this.processes.filter((each) => this.has(each));
    for (const process of this.processes) {
      if (process === kept) continue;
      process.alive = false;
      process.session = 0;
    }
    super.calm();
    for (const each of this.phones) if (each.acknowledgedAt === null) this.bring(each);
  }

  protected override rests(): boolean {
    if (!super.rests()) return false;
    if (this.phones.some((each) => each.acknowledgedAt === null) || this.presses.some((each) => each.came === undefined))
      return false;
    for (const run of this.desk.runs.values()) if (run.endedAt === null || run.calledOff) return false;
    return this.desk.jobs.rows.size === 0;
  }

  protected override wrong(): string[] {
    this.desk.counted();
    const taken = new Map<number, number>();
    for (const each of this.carrier.taken) taken.set(each.text * 16 + each.no, (taken.get(each.text * 16 + each.no) ?? 0) + 1);
    const problems = [...taken]
      .filter(([, times]) => times > 1)
      .map(([key, times]) => `text ${key >> 4} was taken ${times} times`);
    problems.push(...this.store.backwards.map((each) => `a final state moved: ${each}`));
    for (const text of this.store.texts.values()) {
      if (text.open > 0) problems.push(`text ${text.id} never came to an end: ${text.state}`);
      problems.push(...checkParts(this, text, taken));
    }
    problems.push(...checkRate(this), ...this.desk.problems, ...deskWrong(this));
    return problems;
  }
}

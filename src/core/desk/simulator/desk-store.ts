import { SIM_DAY, type SimStore } from '../../line/simulator/store';
import { SENDER } from '../../line/simulator/world';
import { moveOf, type CalledOffAs, type RunEvent, type RunMove, type RunOrigin } from '../../runs/life';
import type { Course } from '../../runs/next';
import type { DeskRules } from './desk-rules';
import { LATE, SLACK, type SimBegun, type SimBroadcast, type SimDeskRun, type SimInbound, type SimPlan } from './desk-tables';
import { DeskTexts } from './desk-texts';
import { SimJobs } from './sim-jobs';

/** The tables of the desk beside those of the line: each method is one transaction of the server's, in memory. */
export class DeskStore extends DeskTexts {
  readonly broadcasts = new Map<number, SimBroadcast>();
  readonly runs = new Map<number, SimDeskRun>();
  readonly pressOver = new Map<string, 'called off' | 'undone' | 'refused'>();
  readonly inbound: SimInbound[] = [];
  readonly imports: { id: number; at: number; undoneAt: number | null }[] = [];
  /** What is passed on to the desk: one text each. */
  readonly passed: { id: number; state: 'waiting' | 'sent'; texts: number[] }[] = [];
  /** Runs that were cleared away, and what became of their money and dates. */
  readonly gone: SimDeskRun[] = [];
  /** Dates, by broadcast and date, that a person has skipped or taken back, and imports likewise. */
  readonly excused = new Set<string>();
  readonly jobs: SimJobs;
  readonly problems: string[] = [];
  private nextRun = 1;
  private opens = new Map<number, { open: number; uncertain: number }>();

  constructor(line: SimStore, rules: DeskRules, now: () => number) {
    super(line, rules, now);
    this.jobs = new SimJobs(rules.jobs ?? {});
    line.undecided = (number) => this.undecided(number);
    line.kindOf = (text) => this.kinds.get(text.id) ?? (text.run === null ? 'reply' : 'run');
  }

  private undecided(number: string): 'stop' | 'maybe' | null {
    if (this.rules.holdsNothing) return null;
    const open = this.inbound.filter((each) => each.number === number && !each.done && each.kind !== 'reply');
    return open.length === 0 ? null : open.some((each) => each.kind === 'stop') ? 'stop' : 'maybe';
  }

  broadcast(id: number): SimBroadcast {
    const found = this.broadcasts.get(id);
    if (!found) throw new Error(`no broadcast ${id}`);
    return found;
  }

  /** The plan of a broadcast as it is now. */
  plan(broadcast: SimBroadcast): SimPlan {
    const people = [...this.line.people]
      .filter(([number, person]) => {
        const held = this.inbound.some((each) => each.number === number && !each.done && each.kind !== 'reply');
        return person.state === 'here' && !person.registered && !person.withdrawn && !held;
      })
      .map(([number]) => number);
    return { digest: `${broadcast.words} ${people.join(' ')}`, words: broadcast.words, people };
  }

  /** A run begins: of a press, or planned by the server. */
  begin(
    broadcast: number,
    plan: SimPlan,
    how: {
      pressId: string;
      origin: RunOrigin;
      due: number;
      atOnce: boolean;
      asks: string | null;
      date?: string;
      dateAt?: number | null;
      import?: number;
      instead?: number;
    },
    claim: () => void,
  ): SimBegun {
    const again = [...this.runs.values()].find((run) => run.pressId === how.pressId);
    if (again) return { how: 'already', run: again.id };
    if (this.pressOver.has(how.pressId) && !this.rules.pressForgets) return { how: 'refused', why: 'over' };
    if (plan.people.length === 0) return { how: 'refused', why: 'nobody' };
    claim();
    const now = this.now();
    if (how.dateAt !== null && how.dateAt !== undefined && now - how.dateAt > LATE + SLACK)
      this.problems.push(`the run of ${how.date} is planned ${now - how.dateAt} ms after it was to go`);
    const run: SimDeskRun = {
      id: this.nextRun,
      broadcast,
      state: 'planning',
      origin: how.origin,
      calledOff: false,
      endedAt: null,
      asks: how.asks,
      dueAt: how.due,
      lastDueAt: how.due + 1000,
      takebackUntil: now,
      notAfter: how.due + SIM_DAY * 2,
      note: '',
      own: false,
      pressId: how.pressId,
      digest: plan.digest,
      words: plan.words,
      atOnce: how.atOnce,
      stored: 0,
      instead: how.instead ?? null,
      date: how.date ?? null,
      import: how.import ?? null,
      people: plan.people,
      at: now,
      cleaned: false,
      series: this.broadcast(broadcast).series,
      startedAt: null,
      dateAt: how.dateAt ?? null,
    };
    this.nextRun += 1;
    this.runs.set(run.id, run);
    this.line.runs.set(run.id, run);
    this.ledger.push({ run: run.id, text: null, amount: -plan.people.length });
    return { how: 'begun', run: run.id, job: this.jobs.wantLeased('store run', run.id, now) };
  }

  /** Since when a broadcast that waits for imports does. */
  readonly scheduled = new Map<number, number>();
  scheduledAt(id: number): number {
    return this.scheduled.get(id) ?? Infinity;
  }

  /** What does not go stands among the others with its reason; what has its run has it. */
  miss(broadcast: SimBroadcast, of: { pressId: string; date?: string; import?: number }, claim: () => void): void {
    claim();
    if (![...this.runs.values()].some((run) => run.pressId === of.pressId)) {
      const now = this.now();
      this.runs.set(this.nextRun, {
        id: this.nextRun,
        broadcast: broadcast.id,
        state: 'missed',
        origin: of.date === undefined ? 'import' : 'repeat',
        calledOff: false,
        endedAt: now,
        asks: null,
        dueAt: now,
        lastDueAt: now,
        takebackUntil: now,
        notAfter: now,
        note: 'missed',
        own: false,
        pressId: of.pressId,
        digest: '',
        words: broadcast.words,
        atOnce: false,
        stored: 0,
        instead: null,
        date: of.date ?? null,
        import: of.import ?? null,
        people: [],
        at: now,
        cleaned: true,
        series: broadcast.series,
        startedAt: null,
        dateAt: null,
      });
      this.nextRun += 1;
    }
    this.endWithoutNext(broadcast.id);
  }

  /** Something happens to a run: the machine says what comes of it. */
  move(id: number, event: RunEvent): RunMove | undefined {
    const run = this.runs.get(id);
    if (!run) return undefined;
    const now = this.now();
    const move = (this.rules.life ?? moveOf)(run, event, now);
    const { startedAt, ...to } = move.to;
    if (startedAt !== undefined) this.checkStart(run);
    run.startedAt = startedAt ?? run.startedAt;
    Object.assign(run, to);
    if (move.release && !this.rules.keepsMoney) this.ledger.push({ run: id, text: null, amount: -this.sumOf(id) });
    if (move.broadcast) this.calledOff(run, move.broadcast);
    if (move.settle) {
      this.settleRun(run);
      this.endWithoutNext(run.broadcast);
      if (!this.rules.cleansNothing) this.jobs.want('clean lists', id, now);
    }
    for (const { kind, at } of move.works) if (kind !== 'watch') this.jobs.want(kind, id, at);
    return move;
  }

  /** An oracle of its own, that knows nothing of the machine. */
  private checkStart(run: SimDeskRun): void {
    const now = this.now();
    if (run.asks !== null) this.problems.push(`run ${run.id} starts though it waits for a person`);
    if (now < run.takebackUntil) this.problems.push(`run ${run.id} starts while it can be taken back`);
    if (now < run.dueAt) this.problems.push(`run ${run.id} starts before its time`);
    if (now - run.dueAt > LATE) this.problems.push(`run ${run.id} starts ${now - run.dueAt} ms late`);
  }

  private calledOff(run: SimDeskRun, as: CalledOffAs): void {
    if (run.origin === 'press') this.pressOver.set(run.pressId, as === 'undone' ? 'undone' : 'called off');
    if (!this.rules.idStays) run.pressId = `${run.pressId}/off/${run.id}`;
    const broadcast = this.broadcast(run.broadcast);
    if (as !== 'undone' && run.date !== null) this.excused.add(`${run.series} ${run.date}`);
    if (as !== 'undone' && run.import !== null) this.excused.add(`${run.series} import ${run.import}`);
    if (as === 'skipped') return this.endWithoutNext(broadcast.id);
    if (broadcast.state !== 'scheduled') return;
    if (as !== 'undone' || run.origin === 'press') return this.unschedule(broadcast, as === 'undone' ? 'draft' : as);
    const now = this.now();
    if (run.origin === 'repeat' && run.date !== null) {
      // of two that are undone, the earlier date comes first; the others follow it
      const earlier = broadcast.nextDate !== null && broadcast.nextDate < run.date;
      Object.assign(broadcast, { goesOn: true, planAt: now + 3000 }, earlier ? {} : { nextDate: run.date, nextAt: run.dateAt });
    } else if (run.origin === 'import')
      broadcast.importsHad = new Set([...broadcast.importsHad].filter((id) => id !== run.import));
    // what it was to take the place of may have ended meanwhile
    else return this.endWithoutNext(broadcast.id);
    this.jobs.want('plan next', broadcast.id, now + 3000);
  }

  unschedule(broadcast: SimBroadcast, state: SimBroadcast['state']): void {
    Object.assign(broadcast, {
      state,
      version: broadcast.version + 1,
      goesOn: false,
      nextDate: null,
      nextAt: null,
      planAt: null,
    });
  }

  endWithoutNext(id: number): void {
    const broadcast = this.broadcast(id);
    if (broadcast.state !== 'scheduled' || broadcast.goesOn) return;
    if ([...this.runs.values()].some((run) => run.broadcast === id && run.endedAt === null)) return;
    broadcast.state = 'ended';
    broadcast.version += 1;
  }

  courseOf(broadcast: SimBroadcast): Course {
    const imported = this.imports.find(({ id, undoneAt }) => undoneAt === null && !broadcast.importsHad.has(id));
    return {
      scheduled: broadcast.state === 'scheduled',
      planAt: broadcast.planAt,
      nextDate: broadcast.nextDate,
      nextAt: broadcast.nextAt,
      own: false,
      imported: broadcast.kind === 'import' && imported ? { id: imported.id } : null,
    };
  }

  /** So many texts of a run, as far as it has come; false where it was called off. */
  storeSome(id: number, from: number, most: number): number | 'called off' | 'lost' {
    const run = this.runs.get(id);
    if (!run || (run.state !== 'planning' && !this.rules.storesOff)) return 'called off';
    if (run.stored !== from && !this.rules.storesBlindly) return 'lost';
    const some = run.people.slice(from, from + most);
    const ids = some.map((number) => this.addText(number, id, 'run', run.dueAt, run.notAfter));
    if (ids.length > 0) this.line.enqueue(id, SENDER, 2, run.dueAt, ids);
    run.stored = from + some.length;
    return some.length;
  }

  /** Takes some of a run that was called off away; false when nothing is left but its row. */
  clearSome(id: number): boolean {
    const texts = [...this.line.texts.values()].filter((text) => text.run === id).slice(0, 3);
    for (const text of texts) this.line.texts.delete(text.id);
    return texts.length > 0;
  }

  clearRun(id: number): void {
    const run = this.runs.get(id);
    if (!run?.calledOff) return;
    for (const row of [...this.line.rows.values()]) if (row.run === id) this.line.rows.delete(row.id);
    this.gone.push(run);
    this.runs.delete(id);
    this.line.runs.delete(id);
  }

  /** A reply is stored, once. */
  take(text: { id: string; number: string; kind: SimInbound['kind'] }): void {
    if (this.inbound.some((each) => each.id === text.id) && !this.rules.takesTwice) return;
    this.inbound.push({ ...text, at: this.now(), applied: false, done: false });
    this.jobs.want('replies', '', this.now());
  }

  /** Acts on a reply, once. */
  act(reply: SimInbound): void {
    if (reply.applied) return;
    reply.applied = true;
    if (reply.kind === 'stop') this.stop(reply);
    else if (reply.kind === 'reply') {
      reply.done = true;
      this.passed.push({ id: this.passed.length + 1, state: 'waiting', texts: [] });
      this.jobs.want('pass on', this.passed.length, this.now());
    }
  }

  stop(reply: SimInbound): void {
    reply.done = true;
    const person = this.line.people.get(reply.number);
    const first = person !== undefined && !person.registered;
    if (person) person.registered = true;
    this.notSent((text) => text.number === reply.number && this.kinds.get(text.id) !== 'confirmation', 'opted out');
    if (first) this.queueText(reply.number, 'confirmation');
  }

  passOn(id: number): void {
    const passed = this.passed[id - 1];
    if (passed.state === 'sent' && !this.rules.passesTwice) return;
    passed.state = 'sent';
    passed.texts.push(this.queueText('desk', 'own'));
  }

  /** What the counters' triggers do after each transaction: an end becomes due, and what is known late is paid for. */
  counted(): void {
    for (const run of this.runs.values()) {
      if (run.people.length === 0) continue;
      let open = 0;
      let uncertain = 0;
      for (const text of this.line.texts.values())
        if (text.run === run.id) {
          open += text.open;
          if (text.state === 'uncertain') uncertain += 1;
        }
      const before = this.opens.get(run.id) ?? { open: 0, uncertain: 0 };
      this.opens.set(run.id, { open, uncertain });
      if (open > 0 || (before.open === 0 && before.uncertain <= uncertain)) continue;
      if (run.endedAt === null && !run.calledOff && run.state !== 'planning' && run.state !== 'waiting')
        this.jobs.want('end run', run.id, 0);
      else if (run.endedAt !== null && !run.calledOff) this.settleRun(run);
    }
    for (const text of this.line.texts.values()) if (text.run === null) this.settleText(text);
  }
}

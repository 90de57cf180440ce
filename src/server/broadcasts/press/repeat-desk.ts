import { iso, type Clock } from '../../../core/clock';
import { differsMuch, type RunFigures } from '../../../core/plan/picture/differs';
import type { Draft } from '../../../core/plan/draft/draft';
import { runOn, upcomingAfter } from '../../../core/plan/times/upcoming';
import type { Tx } from '../../db/db';
import { Rounds, callOffIn, dismantle, endWithoutNext } from '../../engine/for-others';
import { workspaceOf } from '../../setup/for-others';
import { beginRun, openWithCodes, storeRun, type Beginning, type Origin } from './begin-run';
import type { Presser } from './presser';

const TICK = 1000;
const MINUTE = 60_000;
const HALF_HOUR = 30 * MINUTE;
/** What could not be planned yet is looked at again after so long. */
const AGAIN = MINUTE / 2;

interface Due {
  id: number;
  name: string;
  draft: Draft;
  account_id: number | null;
  next_date: string | null;
  next_at: string | null;
  agreed: RunFigures | null;
}

/** Someone who was quicker has changed, called off or planned it: nothing is to be done. */
class Overtaken extends Error {}

/**
 * Plans the runs that nobody presses for: the next date of a repeated broadcast, one for each import into its list, and the run
 * that goes to whoever is there then. Each is planned anew over the real audience, held against the run before, and stored like a
 * press; a date whose plan must be fixed first is missed, with its reason. What is claimed is claimed in one transaction, so of two
 * processes, or after a kill, each date has one run.
 */
export class RepeatDesk {
  private readonly notBefore = new Map<number, number>();
  private readonly rounds: Rounds;

  constructor(
    private readonly app: Presser & { clock: Clock },
    private readonly failed: (error: unknown) => void,
  ) {
    this.rounds = new Rounds(app.clock, TICK, () => this.tick(), failed);
  }

  start(): void {
    this.rounds.start();
  }

  end(): Promise<void> {
    return this.rounds.end();
  }

  /** Plans whatever is due, one after the other. Called by the loop, and by tests. */
  async tick(): Promise<void> {
    const { rows } = await this.app.db.query<Due>(
      `SELECT id, name, draft, account_id, next_date, next_at, agreed FROM broadcast
       WHERE plan_at <= $1::timestamptz AND state = 'scheduled' ORDER BY plan_at, id LIMIT 20`,
      [iso(this.app.clock.now())],
    );
    for (const due of rows) {
      if (this.rounds.over) return;
      if (this.waits(due)) continue;
      await this.one(due, () => (due.next_date === null ? this.planAnew(due) : this.planDate(due, due.next_date)));
    }
    const imports = await this.app.db.query<Due & { import_id: number; done_at: string }>(
      `SELECT DISTINCT ON (broadcast.id) broadcast.id, broadcast.name, draft, broadcast.account_id, next_date, next_at, agreed,
         import.id AS import_id, import.done_at
       FROM broadcast JOIN list ON list.id = (draft->'when'->>'list_id')::bigint
         JOIN import ON (import.facts->>'list_id')::bigint = list.id AND import.state = 'done' AND import.done_at > broadcast.imports_since
       WHERE broadcast.state = 'scheduled' AND draft->'when'->>'kind' = 'import' ORDER BY broadcast.id, import.done_at, import.id`,
    );
    for (const due of imports.rows) {
      if (this.rounds.over) return;
      if (this.waits(due)) continue;
      await this.one(due, () => this.planImport(due));
    }
  }

  private waits({ id }: Due): boolean {
    return (this.notBefore.get(id) ?? 0) > this.app.clock.now();
  }

  /** What goes wrong with one holds up no other: it is told, and tried again in a while. */
  private async one({ id }: Due, plan: () => Promise<void>): Promise<void> {
    try {
      await plan();
    } catch (error) {
      if (error instanceof Overtaken) return;
      this.notBefore.set(id, this.app.clock.now() + AGAIN);
      this.failed(error);
    }
  }

  /** The run of a date, and which date comes after it. */
  private async planDate(due: Due, date: string): Promise<void> {
    const { zone, late_limit_minutes } = await workspaceOf(this.app.db);
    const { when } = due.draft;
    if (when.kind !== 'at') throw new Overtaken();
    const now = this.app.clock.now();
    const next = upcomingAfter(when, date, zone);
    const advance = async (tx: Tx) => {
      const { rowCount } = await tx.query(
        `UPDATE broadcast SET goes_on = $3, next_date = $4::date, next_at = $5::timestamptz, plan_at = $6::timestamptz
         WHERE id = $1 AND state = 'scheduled' AND next_date = $2::date`,
        [due.id, date, next !== undefined, next?.date ?? null, next ? iso(next.at) : null, next ? iso(next.planAt) : null],
      );
      if (rowCount === 0) throw new Overtaken();
    };
    const origin: Origin = { kind: 'repeat', date };
    const late = now - Date.parse(due.next_at ?? '');
    if (when.own !== true && late > late_limit_minutes * MINUTE)
      return this.miss(due, origin, advance, 'The server could not plan it in time. Nothing was sent.');
    const { repeats } = when;
    const once = runOn({ ...due.draft, when: { ...when, repeats: undefined, current: undefined } }, date);
    // a little late is now
    const draft: Draft = when.own !== true && late >= 0 ? { ...once, when: { kind: 'now' } } : once;
    await this.plan(due, draft, origin, repeats?.wait, advance);
  }

  private async planImport(due: Due & { import_id: number; done_at: string }): Promise<void> {
    const { when } = due.draft;
    if (when.kind !== 'import') throw new Overtaken();
    await this.plan(
      due,
      { ...due.draft, when: { kind: 'now' } },
      { kind: 'import', id: due.import_id },
      when.wait,
      async (tx) => {
        const { rowCount } = await tx.query(
          `UPDATE broadcast SET imports_since = $2::timestamptz WHERE id = $1 AND state = 'scheduled' AND imports_since < $2::timestamptz`,
          [due.id, due.done_at],
        );
        if (rowCount === 0) throw new Overtaken();
      },
    );
  }

  private async plan(
    due: Due,
    draft: Draft,
    origin: Origin,
    wait: number | undefined,
    claim: (tx: Tx) => Promise<void>,
  ): Promise<void> {
    const plan = await openWithCodes(this.app, draft, due.id);
    const [wrong] = plan.summary.must_fix;
    if (wrong) {
      await this.app.plans.close(plan.token);
      // a list that is being filled is complete in a while; what has no such end is missed
      if (wrong.check === 'being filled' && this.mayWait(due)) return;
      return this.miss(due, origin, claim, `It could not be planned: ${wrong.message} Nothing was sent.`);
    }
    const before = await this.runBefore(due);
    const asks =
      wait === undefined || before === undefined ? undefined : differsMuch(before, plan.summary, wait, plan.summary.currency);
    await this.begin(due, { draft, plan, origin, asks, claim });
  }

  private async begin(
    due: Due,
    { draft, plan, origin, ...rest }: Pick<Beginning, 'draft' | 'plan' | 'origin' | 'asks' | 'claim' | 'ready' | 'credit'>,
  ): Promise<void> {
    const beginning: Beginning = {
      ...rest,
      broadcastId: due.id,
      pressId: idOf(due.id, origin),
      name: due.name,
      draft,
      plan,
      origin,
      asked: { account: due.account_id === null ? undefined : { id: due.account_id }, at: iso(this.app.clock.now()) },
      what: 'the server planned a run of',
    };
    let begun;
    try {
      begun = await beginRun(this.app, beginning);
    } catch (error) {
      await this.app.plans.close(plan.token);
      throw error;
    }
    if (begun.already) {
      // it has had its run: what comes next is all that is left to do
      await this.app.plans.close(plan.token);
      await this.app.db.transaction((tx) => beginning.claim(tx, begun.id));
      return;
    }
    this.app.bus.changed('runs');
    this.app.bus.changed('broadcasts');
    await storeRun(this.app, begun.id, beginning);
  }

  /**
   * The run that was agreed to, once more, for whoever is there now: it takes the place of the other when it is stored. Where it
   * cannot be planned, or more people would get it than were agreed to, the one that was agreed to goes.
   */
  private async planAnew(due: Due): Promise<void> {
    const { when } = due.draft;
    const old = (
      await this.app.db.query<{ id: number; people: number; cost_micro: number }>(
        `SELECT id, people, cost_micro FROM run WHERE broadcast_id = $1 AND state = 'waiting' AND origin = 'press' ORDER BY id DESC LIMIT 1`,
        [due.id],
      )
    ).rows[0];
    const stays = async (why: string) => {
      await this.app.db.transaction(async (tx) => {
        await clearPlanAt(tx, due.id);
        if (old)
          await tx.query(`INSERT INTO run_event (run_id, at, what) VALUES ($1, $2::timestamptz, $3)`, [
            old.id,
            iso(this.app.clock.now()),
            why,
          ]);
      });
      this.app.bus.changed('runs');
    };
    if (when.kind !== 'at' || !when.current || !old) return stays('');
    const { current, ...at } = when;
    const draft: Draft = { ...due.draft, when: at };
    const plan = await openWithCodes(this.app, draft, due.id, old.cost_micro);
    const [wrong] = plan.summary.must_fix;
    const why = wrong
      ? wrong.message
      : plan.summary.people > current.most
        ? `${plan.summary.people.toLocaleString('en-US')} people would get it now, more than the ${current.most.toLocaleString('en-US')} agreed to.`
        : undefined;
    if (why !== undefined) {
      await this.app.plans.close(plan.token);
      return stays(`goes to those who were agreed to: ${why}`);
    }
    await this.begin(due, {
      draft,
      plan,
      origin: { kind: 'current', instead: old.id },
      credit: old.cost_micro,
      claim: (tx) => clearPlanAt(tx, due.id),
      ready: (tx) => callOffIn(tx, old.id, 'skipped', iso(this.app.clock.now())),
    });
    await dismantleIfCalledOff(this.app, old.id);
  }

  /** A run that does not go stands among the others with its reason, so that nobody has to miss it by themselves. */
  private async miss(due: Due, origin: Origin, claim: (tx: Tx) => Promise<void>, note: string): Promise<void> {
    const at = iso(this.app.clock.now());
    await this.app.db.transaction(async (tx) => {
      await claim(tx);
      await tx.query(
        `INSERT INTO run (broadcast_id, state, press_id, digest, plan, name, sender_id, purpose, people, parts, cost_micro, takeback_until, due_at,
           last_due_at, not_after, pressed_at, account_id, ended_at, note, origin, on_date, import_id)
         SELECT $1, 'missed', $2, '', jsonb_build_object('words', $3::text), $4, sender.id, $5, 0, 0, 0, $6::timestamptz, $7::timestamptz,
           $7::timestamptz, $7::timestamptz, $6::timestamptz, $8, $6::timestamptz, $9, $10, $11::date, $12
         FROM sender ORDER BY (sender.id = $13) DESC, sender.id LIMIT 1`,
        [
          due.id,
          idOf(due.id, origin),
          due.draft.words,
          due.name,
          due.draft.purpose,
          at,
          due.next_at ?? at,
          due.account_id,
          note,
          origin.kind,
          origin.kind === 'repeat' ? origin.date : null,
          origin.kind === 'import' ? origin.id : null,
          due.draft.sender_id ?? 0,
        ],
      );
      await endWithoutNext(tx, due.id, at);
    });
    this.app.bus.changed('runs');
    this.app.bus.changed('broadcasts');
  }

  /** Looks again later, as long as it could still start in time. */
  private mayWait(due: Due): boolean {
    const now = this.app.clock.now();
    if (due.next_at !== null && now > Date.parse(due.next_at) + HALF_HOUR) return false;
    this.notBefore.set(due.id, now + AGAIN);
    return true;
  }

  private async runBefore(due: Due): Promise<RunFigures | undefined> {
    const { rows } = await this.app.db.query<RunFigures>(
      `SELECT people, cost_micro FROM run WHERE broadcast_id = $1 AND state <> 'missed' AND NOT called_off ORDER BY id DESC LIMIT 1`,
      [due.id],
    );
    return rows[0] ?? due.agreed ?? undefined;
  }
}

/** Of each date, each import and each agreed run there is one. */
function idOf(broadcast: number, origin: Origin): string {
  switch (origin.kind) {
    case 'repeat':
      return `repeat-${broadcast}-${origin.date}`;
    case 'import':
      return `import-${broadcast}-${origin.id}`;
    case 'current':
      return `current-${origin.instead}`;
    case 'press':
      throw new Error('A press brings its own id.');
  }
}

async function clearPlanAt(tx: Tx, broadcast: number): Promise<void> {
  const { rowCount } = await tx.query(
    `UPDATE broadcast SET plan_at = NULL WHERE id = $1 AND state = 'scheduled' AND plan_at IS NOT NULL`,
    [broadcast],
  );
  if (rowCount === 0) throw new Overtaken();
}

async function dismantleIfCalledOff(app: Presser, run: number): Promise<void> {
  const { rowCount } = await app.db.query(`SELECT 1 FROM run WHERE id = $1 AND called_off`, [run]);
  if (rowCount > 0) await dismantle(app.db, run);
}

import { calledOf } from '../../../core/plan/draft/called';
import { iso } from '../../../core/clock';
import { differsMuch, type RunFigures } from '../../../core/plan/picture/differs';
import type { Draft } from '../../../core/plan/draft/draft';
import { nextOf, type Course, type Next } from '../../../core/runs/next';
import { runOn, upcomingAfter } from '../../../core/plan/times/upcoming';
import type { Tx } from '../../db/db';
import { want } from '../../desk/job-queries';
import type { Came, Work } from '../../desk/job-runner';
import { workspaceOf } from '../../setup/for-others';
import { beginRun, openWithCodes, type Beginning, type Origin } from './begin-run';
import { idOf, missRun, type Due } from './miss-run';
import type { Presser } from './presser';

const MINUTE = 60_000;
const HALF_HOUR = 30 * MINUTE;
/** What could not be planned yet is looked at again after so long. */
const AGAIN = MINUTE / 2;
/** So often in a row somebody may be quicker, before it is looked at later. */
const MOST_OVERTAKEN = 3;

const instant = (at: string | null) => (at === null ? null : Date.parse(at));

const courseOf = (due: Due): Course => ({
  scheduled: true,
  planAt: instant(due.plan_at),
  nextDate: due.next_date,
  nextAt: instant(due.next_at),
  own: due.draft.when.kind === 'at' && due.draft.when.own === true,
  imported: due.import_id === null ? null : { id: due.import_id },
});

/** Someone who was quicker has changed, called off or planned it: nothing is to be done. */
class Overtaken extends Error {}

/**
 * Plans the runs that nobody presses for: the next date of a repeated broadcast, one for each import into its list, and the run
 * that goes to whoever is there then. Each is planned anew over the real audience, held against the run before, and stored like a
 * press; a date whose plan must be fixed first is missed, with its reason. What is claimed is claimed in one transaction, so of two
 * processes, or after a kill, each date has one run. The job of the kind `plan next`, by broadcast.
 */
export const planNextWork =
  (app: Presser): Work =>
  ({ job }) =>
    new NextRuns(app).plan(Number(job.key));

class NextRuns {
  /** What could not be planned yet is looked at again then, ms. */
  private later: number | undefined;

  constructor(private readonly app: Presser) {}

  /** Plans whatever of a broadcast is due, one after the other. */
  async plan(broadcast: number): Promise<Came> {
    for (let overtaken = 0; ;) {
      const due = await this.read(broadcast);
      const { late_limit_minutes } = await workspaceOf(this.app.db);
      const next = due ? nextOf(courseOf(due), this.app.clock.now(), late_limit_minutes * MINUTE) : undefined;
      if (!due || !next || next.do === 'nothing') return { done: true };
      if (next.do === 'wait') return { again: next.until };
      try {
        await this.carryOut(due, next);
      } catch (error) {
        // someone who was quicker has changed, called off or planned it: it is looked at anew
        if (!(error instanceof Overtaken)) throw error;
        overtaken += 1;
        if (overtaken > MOST_OVERTAKEN) return { again: this.app.clock.now() + AGAIN };
      }
      if (this.later !== undefined) return { again: this.later };
    }
  }

  private carryOut(due: Due, next: Exclude<Next, { do: 'nothing' } | { do: 'wait' }>): Promise<void> {
    switch (next.do) {
      case 'plan date':
        return this.planDate(due, next);
      case 'miss':
        return this.missDate(due, next);
      case 'plan anew':
        return this.planAnew(due);
      case 'plan import':
        return this.planImport(due);
    }
  }

  /** A broadcast as it stands, with the first import into its list that it has no run of. */
  private async read(id: number): Promise<Due | undefined> {
    const { rows } = await this.app.db.query<Due>(
      `SELECT broadcast.id, version, name, draft, broadcast.account_id, next_date, next_at, plan_at, agreed, imported.id AS import_id
       FROM broadcast LEFT JOIN LATERAL (SELECT import.id FROM import
         WHERE draft->'when'->>'kind' = 'import' AND (import.facts->>'list_id')::bigint = (draft->'when'->>'list_id')::bigint
           AND import.state = 'done'
           AND NOT EXISTS (SELECT 1 FROM broadcast_import had WHERE had.broadcast_id = broadcast.id AND had.import_id = import.id) ORDER BY import.done_at, import.id LIMIT 1) AS imported ON true
       WHERE broadcast.id = $1 AND broadcast.state = 'scheduled'`,
      [id],
    );
    return rows.at(0);
  }

  /** The run of a date, and which date comes after it. */
  private async planDate(due: Due, { date, atOnce }: { date: string; atOnce: boolean }): Promise<void> {
    const { late_limit_minutes } = await workspaceOf(this.app.db);
    const { when } = due.draft;
    if (when.kind !== 'at') throw new Overtaken();
    const once = runOn({ ...due.draft, when: { ...when, repeats: undefined, current: undefined } }, date);
    // a little late is now
    const draft: Draft = atOnce ? { ...once, when: { kind: 'now' } } : once;
    const lateBy = when.own === true ? late_limit_minutes * MINUTE : undefined;
    await this.make(
      due,
      draft,
      { kind: 'repeat', date },
      when.repeats?.wait,
      await this.advance(due, date, late_limit_minutes * MINUTE),
      lateBy,
    );
  }

  private async missDate(due: Due, { date, why }: { date: string; why: string }): Promise<void> {
    await missRun(this.app, due, { kind: 'repeat', date }, await this.advance(due, date), why);
  }

  /**
   * Takes a date, in the transaction in which it gets its run, or is missed: the next is to come. Whether it is too late is asked again
   * here: planning may have taken long, and the machine have slept.
   */
  private async advance(due: Due, date: string, lateLimit = Infinity): Promise<(tx: Tx) => Promise<void>> {
    const { zone } = await workspaceOf(this.app.db);
    const { when } = due.draft;
    if (when.kind !== 'at') throw new Overtaken();
    const next = upcomingAfter(when, date, zone);
    return async (tx) => {
      if (when.own !== true && this.app.clock.now() - Date.parse(due.next_at ?? '') > lateLimit) throw new Overtaken();
      const { rowCount } = await tx.query(
        `UPDATE broadcast SET goes_on = $3, next_date = $4::date, next_at = $5::timestamptz, plan_at = $6::timestamptz
         WHERE id = $1 AND state = 'scheduled' AND version = $7 AND next_date = $2::date`,
        [
          due.id,
          date,
          next !== undefined,
          next?.date ?? null,
          next ? iso(next.at) : null,
          next ? iso(next.planAt) : null,
          due.version,
        ],
      );
      if (rowCount === 0) throw new Overtaken();
      if (next) await want(tx, [{ kind: 'plan next', key: String(due.id), due: next.planAt }]);
    };
  }

  /** One run for each import into its list, to whoever is there then. */
  private async planImport(due: Due): Promise<void> {
    const { when } = due.draft;
    if (when.kind !== 'import' || due.import_id === null) throw new Overtaken();
    const claim = async (tx: Tx) => {
      const { rowCount } = await tx.query(
        // an import that was undone while its run was planned brings none
        `INSERT INTO broadcast_import (broadcast_id, import_id)
         SELECT broadcast.id, import.id FROM broadcast, import WHERE broadcast.id = $1 AND broadcast.state = 'scheduled' AND broadcast.version = $2
           AND import.id = $3 AND import.state = 'done' FOR UPDATE OF broadcast FOR SHARE OF import ON CONFLICT DO NOTHING`,
        [due.id, due.version, due.import_id],
      );
      if (rowCount === 0) throw new Overtaken();
    };
    await this.make(due, { ...due.draft, when: { kind: 'now' } }, { kind: 'import', id: due.import_id }, when.wait, claim);
  }

  private async make(
    due: Due,
    draft: Draft,
    origin: Origin,
    wait: number | undefined,
    claim: (tx: Tx) => Promise<void>,
    lateBy?: number,
  ): Promise<void> {
    const plan = await openWithCodes(this.app, draft, due.id, { lateBy });
    const [wrong] = plan.summary.must_fix;
    if (wrong) {
      await this.app.plans.close(plan.token);
      // a list that is being filled is complete in a while; what has no such end is missed
      if (wrong.check === 'being filled' && this.mayWait(due)) return;
      return missRun(this.app, due, origin, claim, `It could not be planned: ${wrong.message} Nothing was sent.`);
    }
    const before = await this.runBefore(due);
    const asks =
      wait === undefined || before === undefined ? undefined : differsMuch(before, plan.summary, wait, plan.summary.currency);
    await this.begin(due, { draft, plan, origin, asks, claim });
  }

  private async begin(
    due: Due,
    { draft, plan, origin, ...rest }: Pick<Beginning, 'draft' | 'plan' | 'origin' | 'asks' | 'claim' | 'credit'>,
  ): Promise<void> {
    const beginning: Beginning = {
      ...rest,
      broadcastId: due.id,
      pressId: idOf(due, origin),
      name: calledOf({ name: due.name, words: due.draft.words }),
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
    this.app.bus.changed('broadcasts');
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
        await clearPlanAt(tx, due);
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
    const plan = await openWithCodes(this.app, draft, due.id, { credit: old.cost_micro });
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
      claim: (tx) => clearPlanAt(tx, due),
    });
  }

  /** Looks again later, as long as it could still start in time. */
  private mayWait(due: Due): boolean {
    const now = this.app.clock.now();
    if (due.next_at !== null && now > Date.parse(due.next_at) + HALF_HOUR) return false;
    this.later = now + AGAIN;
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

async function clearPlanAt(tx: Tx, { id, version }: Due): Promise<void> {
  const { rowCount } = await tx.query(
    `UPDATE broadcast SET plan_at = NULL WHERE id = $1 AND state = 'scheduled' AND version = $2 AND plan_at IS NOT NULL`,
    [id, version],
  );
  if (rowCount === 0) throw new Overtaken();
}

import type { Clock } from '../../../core/clock';
import type { Db } from '../../db/db';
import type { Bus } from '../../desk/bus';
import type { LeasedJob } from '../../desk/job-queries';
import type { OpenedPlan } from '../planning/plan-desk';
import type { Plans } from '../planning/plan-thread';

/** What storing a run came to. */
export type Stored = 'stored' | 'called off' | 'failed';

/** Plans of this process that are being stored, by run: a job that finds its plan here need not make it anew. */
export class Storing {
  private readonly plans = new Map<number, { plan: OpenedPlan; ended: Promise<Stored>; end: (how: Stored) => void }>();

  begin(run: number, plan: OpenedPlan): Promise<Stored> {
    let end: (how: Stored) => void = () => undefined;
    const ended = new Promise<Stored>((resolve) => {
      end = resolve;
    });
    this.plans.set(run, { plan, ended, end });
    return ended;
  }

  planOf(run: number): OpenedPlan | undefined {
    return this.plans.get(run)?.plan;
  }

  /** Resolves when it is stored, or is not: undefined where another process, or nobody, has its plan. */
  endOf(run: number): Promise<Stored> | undefined {
    return this.plans.get(run)?.ended;
  }

  /** Tells whoever waits; gives back the plan that is needed no more. */
  end(run: number, how: Stored): OpenedPlan | undefined {
    const one = this.plans.get(run);
    this.plans.delete(run);
    one?.end(how);
    return one?.plan;
  }
}

/** What runs are begun with. */
export interface Presser {
  db: Db;
  bus: Bus;
  plans: Plans;
  clock: Pick<Clock, 'now'>;
  storing: Storing;
  /** Begins the job that stores a run, which was leased to this process with its press. */
  give(job: LeasedJob): void;
}

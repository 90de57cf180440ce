import type { Clock } from '../../../core/clock';
import type { Db } from '../../db/db';
import type { Bus } from '../../desk/bus';
import type { Plans } from '../planning/plan-thread';

/** What runs are begun with. */
export interface Presser {
  db: Db;
  bus: Bus;
  plans: Plans;
  clock: Pick<Clock, 'now'>;
  /** Of the line's owner that writes the plan: when it dies, the press is undone by whoever comes next. */
  epoch: number;
}

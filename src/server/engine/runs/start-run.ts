import type { Db } from '../../db/db';
import type { Bus } from '../../desk/bus';
import type { Work } from '../../desk/job-runner';
import { moveOf, type RunEvent } from '../../../core/runs/life';
import { sweepQueue } from './not-sent';
import { moveRun, runOf } from './run-life';

const MINUTE = 60_000;
/** In a run in each one's own time: of those whose hour had passed when it could start. */
export const HOUR_PAST = 'too late: its hour had passed';

/** Starts a run at its moment, or says that it was missed: the job of the kind `start run`, by run. */
export function startRunWork(db: Db, bus: Bus): Work {
  return async ({ job, now, over, stillMine, inOne }) => {
    const id = Number(job.key);
    const { rows } = await db.query<{ minutes: number }>(`SELECT late_limit_minutes AS minutes FROM workspace`);
    const event: RunEvent = { is: 'time to start', lateLimit: rows[0].minutes * MINUTE };
    const run = await runOf(db, id);
    const late = run && moveOf(run, event, now()).dropDueBefore;
    // before it starts: no line takes what is too late
    if (late !== undefined && !(await sweepQueue(db, id, HOUR_PAST, { now, over, stillMine }, late))) return { again: now() };
    // asked once more in the transaction: between there and here the machine may have slept
    const { moved } = await inOne(async (tx) => {
      const move = await moveRun(tx, id, event, now());
      return { moved: move !== undefined && move.to.state !== undefined };
    });
    if (!moved) return undefined;
    bus.changed('runs');
    bus.changed('run', id);
    bus.work();
    return undefined;
  };
}

import { runById } from '../../broadcasts/run/run-queries';
import type { Clock } from '../../../core/clock';
import type { Db } from '../../db/db';
import { endBeforeNext } from '../../db/testing/engines';
import { JobRunner } from '../../desk/job-runner';
import { worksOf, type LaterWorks } from '../kinds';
import { NOTHING_LATER } from './world';
import type { Bus } from '../../desk/bus';
import type { Gateway } from '../gateway';
import { Inbound } from '../replies/inbound';
import type { LineDriver } from '../line/driver';

/** What goes on by itself without a line to a carrier: for tests that `settle()` it, and `end()` it. */
export function jobsOf(
  db: Db,
  clock: Clock,
  bus: Bus,
  failed: (error: unknown) => void,
  line: Pick<LineDriver, 'resolved'> = { resolved: () => Promise.resolve() },
  later: LaterWorks = NOTHING_LATER,
): JobRunner {
  const gateway = { state: { state: 'connecting', since: 0, why: '' } } as Gateway;
  const jobs = new JobRunner(
    db,
    clock,
    worksOf({ db, bus, gateway, line: line as LineDriver, practiceMail: () => undefined, countAhead: runById, later }),
    failed,
  );
  endBeforeNext(() => jobs.end());
  return jobs;
}

/** The same with replies taken in; settled together. */
export function repliesOf(
  db: Db,
  clock: Clock,
  bus: Bus,
  failed: (error: unknown) => void,
): { inbound: Inbound; jobs: JobRunner } {
  const jobs = jobsOf(db, clock, bus, failed);
  return { jobs, inbound: new Inbound(db, clock, bus, failed, () => jobs.settle()) };
}

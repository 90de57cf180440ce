import type { Clock } from '../../../core/clock';
import type { Db } from '../../db/db';
import { Bus } from '../../desk/bus';
import { JOB_KINDS, type JobKind } from '../../desk/job-queries';
import { JobRunner, type Work } from '../../desk/job-runner';
import type { Plans } from '../planning/plan-thread';
import { Storing, type Presser } from './presser';
import { storeRunWork } from './store-job';

/**
 * Who presses where no engine runs (before the demo's server starts, in benches): what is pressed is stored at once, and nothing else
 * goes on by itself.
 */
export function pressAlone(db: Db, clock: Clock, plans: Plans, failed: (error: unknown) => void, bus = new Bus()): Presser {
  const notHere: Work = ({ job }) => Promise.reject(new Error(`“${job.kind}” does not go on here.`));
  const presser: Presser = {
    db,
    bus,
    plans,
    clock,
    storing: new Storing(),
    give: (job) => jobs.given(job),
  };
  const works: Partial<Record<JobKind, Work>> = { 'store run': storeRunWork(presser) };
  const jobs: JobRunner = new JobRunner(
    db,
    clock,
    Object.fromEntries(JOB_KINDS.map((kind) => [kind, works[kind] ?? notHere])) as Record<JobKind, Work>,
    failed,
    { atOnce: 0 },
  );
  return presser;
}

import { jobs } from '../../core/api/desk/jobs';
import { writeRecord } from '../db/record';
import { nothingHere } from '../../core/api/refusal';
import { route, type Route } from '../http/route';
import { failingJobs, jobsByKind, JOB_KINDS, tryAgain, type JobKind } from '../desk/job-queries';
import { keptForAWhile } from '../engine/for-others';
import { JOB_WORDS, shownJob } from '../desk/job-words';

export const jobRoutes: Route[] = [
  route(jobs.list, async (app, asked) => {
    const [kinds, failing, kept] = await Promise.all([
      jobsByKind(app.db, asked.at),
      failingJobs(app.db, asked.at),
      keptForAWhile(app.db),
    ]);
    const found = new Map(kinds.map((each) => [each.kind, each]));
    return {
      kinds: JOB_KINDS.map((kind) => ({
        ...(found.get(kind) ?? { kind, waiting: 0, overdue: 0, failing: 0, next_at: null }),
        words: JOB_WORDS[kind],
      })),
      failing: failing.map(shownJob),
      kept,
    };
  }),
  route(jobs.again, async (app, asked) => {
    const { kind, key } = asked.body;
    if (!(JOB_KINDS as readonly string[]).includes(kind) || !(await tryAgain(app.db, kind as JobKind, key, asked.now)))
      throw nothingHere();
    await writeRecord(app.db, asked, 'tried work again', `${kind} ${key}`.trim());
    return {};
  }),
];

import type { FailingJob } from '../../core/api/desk/jobs';
import type { JobKind, ShownJob } from './job-queries';

/** What a kind of work is called where people see it. */
export const JOB_WORDS: Readonly<Record<JobKind, string>> = {
  replies: 'acting on replies',
  reply: 'acting on a reply that failed',
  incomplete: 'replies of which parts are missing',
  'pass on': 'passing replies on',
  'look up': 'asking the carrier about lost answers',
  forgotten: 'texts the carrier never spoke of again',
  'store run': 'storing a run that was pressed or planned',
  'plan next': 'planning the next run of a broadcast',
  'start run': 'starting a run',
  'clear run': 'clearing away a run that was called off',
  erase: 'erasing somebody',
  'end run': 'ending runs and paying for them',
  'clean lists': 'cleaning lists after runs',
  watch: 'watching runs for trouble',
  'tell duty': 'telling whoever is on duty',
  trim: 'keeping tables small',
};

/** A failing job as people read of it. */
export const shownJob = (job: ShownJob): FailingJob => ({
  ...job,
  words: JOB_WORDS[job.kind],
  trouble: job.trouble ?? 'no reason given',
  failing_since: job.failing_since ?? job.due_at,
});

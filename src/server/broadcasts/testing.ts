import { EMPTY_DRAFT, type Draft } from '../../core/plan/draft/draft';
import type { Db } from '../db/db';
import { emptyDb, type ENGINES } from '../db/testing/engines';
import { makeWorkspace, NOW } from '../engine/testing/world';
import { Bus } from '../desk/bus';
import { PlanDesk } from './planning/plan-desk';
import { localPlans } from './planning/plan-thread';
import type { Clock } from '../../core/clock';
import { jobsOf } from '../engine/testing/jobs';
import type { JobRunner } from '../desk/job-runner';
import { eraseWork } from '../people/person/erase-work';
import { planNextWork } from './press/plan-next';
import { press, type Pressing } from './press/press';
import { Storing, type Presser } from './press/presser';
import { storeRunWork } from './press/store-job';

/** A plan as its tests look at it: texts as rows. */
export async function makePlan(db: Db, draft: Draft, now: number) {
  const { plan } = await new PlanDesk(db).make(draft, now);
  const texts = Array.from({ length: plan.texts.count }, (_, i) => ({
    person: plan.texts.people[i],
    number: plan.texts.people[i].number ?? '',
    text: plan.texts.write(i),
    parts: plan.texts.parts[i],
    due: plan.texts.due[i],
  }));
  return { summary: plan.summary, digest: plan.digest, dropped: plan.dropped, hinted: plan.hinted, texts };
}

/** Who presses in tests, and what goes on by itself beside. */
export type TestPresser = Presser & { jobs: JobRunner; failures: unknown[] };

/** Who presses, with a desk of plans of its own, by a clock; what is due is done when it is `settle`d. */
export function presserBy(db: Db, clock: Clock, plans = localPlans(db)): TestPresser {
  const failures: unknown[] = [];
  const bus = new Bus();
  const presser: Presser = { db, bus, plans, clock, storing: new Storing(), give: (job) => jobs.given(job) };
  const jobs: JobRunner = jobsOf(db, clock, bus, (error) => failures.push(error), undefined, {
    'store run': storeRunWork(presser),
    'plan next': planNextWork(presser),
    erase: eraseWork(db, bus),
  });
  return Object.assign(presser, { jobs, failures });
}

/** The same at a moment at which time stands still. */
export function presser(db: Db, now: number, plans = localPlans(db)): TestPresser {
  const sleep = (_ms: number, signal?: AbortSignal) =>
    new Promise<void>((resolve) => signal?.addEventListener('abort', () => resolve()));
  return presserBy(db, { now: () => now, sleep }, plans);
}

/** Presses and waits until everything is stored, or cleared away. */
export async function pressAndStore(
  app: TestPresser,
  pressing: Pressing,
  asked: Parameters<typeof press>[2],
): Promise<{ run_id: number; stored: string }> {
  const pressed = await press(app, pressing, asked);
  const stored = await pressed.stored;
  await app.jobs.settle();
  return { run_id: pressed.run_id ?? 0, stored };
}

/** Five people: two share a number, one is in another zone, one has no name, one said stop. */
export async function world(engine: (typeof ENGINES)[number], part: Partial<Draft> = {}) {
  const db = await emptyDb(engine);
  const at = new Date(NOW).toISOString();
  await makeWorkspace(db);
  await db.query(`INSERT INTO list (id, name, created_at) VALUES (1, 'All', $1::timestamptz)`, [at]);
  const people: [number, string, string, string | null][] = [
    [1, 'Ana', '+12075550101', 'America/New_York'],
    [2, 'Leo', '+12075550101', 'America/New_York'],
    [3, 'Inès', '+16125550103', 'America/Chicago'],
    [4, '', '+12075550104', null],
    [5, 'Mika', '+12075550105', null],
  ];
  for (const [id, name, number, zone] of people) {
    await db.query(
      `INSERT INTO person (id, given_name, number, number_kind, zone, created_at, updated_at) VALUES ($1, $2, $3, 'either', $4, $5::timestamptz, $5::timestamptz)`,
      [id, name, number, zone, at],
    );
    await db.query(`INSERT INTO list_member VALUES (1, $1)`, [id]);
  }
  await db.query(`INSERT INTO suppression (number, at, how) VALUES ('+12075550105', $1::timestamptz, 'texted')`, [at]);
  const draft: Draft = {
    ...EMPTY_DRAFT,
    sender_id: 1,
    to: [{ kind: 'list', id: 1 }],
    words: '{given_name or "neighbor"}: the Heron is off. Ottermere Ferry',
    ...part,
  };
  await db.query(
    `INSERT INTO broadcast (id, name, state, draft, created_at, updated_at) VALUES (1, 'Heron', 'draft', $1::jsonb, $2::timestamptz, $2::timestamptz)`,
    [JSON.stringify(draft), at],
  );
  return { db, draft };
}

import type { Draft } from '../../core/plan/draft';
import type { Db } from '../db/db';
import { Bus } from '../engine/bus';
import { PlanDesk } from './plan-desk';
import { localPlans } from './plan-thread';
import { press, type Presser, type Pressing } from './press';

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
  return { summary: plan.summary, digest: plan.digest, dropped: plan.dropped, texts };
}

/** Who presses, with a desk of plans of its own. */
export function presser(db: Db, now: number, plans = localPlans(db)): Presser {
  return { db, bus: new Bus(), plans, clock: { now: () => now }, epoch: 0 };
}

/** Presses and waits until everything is stored. */
export async function pressAndStore(
  app: Presser,
  pressing: Pressing,
  asked: Parameters<typeof press>[2],
): Promise<{ run_id: number; stored: string }> {
  const pressed = await press(app, pressing, asked);
  return { run_id: pressed.run_id, stored: await pressed.stored };
}

import { iso } from '../../../core/clock';
import type { Draft } from '../../../core/plan/draft/draft';
import type { Db } from '../../db/db';
import type { ENGINES } from '../../db/testing/engines';
import { testClock } from '../../engine/testing/world';
import { makePlan, pressAndStore, presserBy, world } from '../testing';

/** A broadcast to press, by a clock that is set by hand. */
export async function desk(engine: (typeof ENGINES)[number], part: Partial<Draft>) {
  const { db, draft } = await world(engine, part);
  const clock = testClock();
  const presser = presserBy(db, clock);
  const send = async (pressId = 'press-one', version = 1) => {
    const { digest } = await makePlan(db, draft, clock.now());
    return pressAndStore(
      presser,
      { broadcastId: 1, version, digest, pressId },
      { account: undefined, now: clock.now(), at: iso(clock.now()) },
    );
  };
  const at = async (moment: number) => {
    clock.at = moment;
    await presser.jobs.settle();
  };
  return { db, draft, clock, presser, send, at, failures: presser.failures };
}

interface RunRow {
  id: number;
  state: string;
  origin: string;
  on_date: string | null;
  due_at: string;
  people: number;
  asks: string | null;
  note: string;
}
export const runs = async (db: Db) =>
  (await db.query<RunRow>(`SELECT id, state, origin, on_date, due_at, people, asks, note FROM run ORDER BY id`)).rows;
export const broadcast = async (db: Db) =>
  (
    await db.query<{ state: string; goes_on: boolean; next_date: string | null; next_at: string | null; plan_at: string | null }>(
      `SELECT state, goes_on, next_date, next_at, plan_at FROM broadcast WHERE id = 1`,
    )
  ).rows[0];

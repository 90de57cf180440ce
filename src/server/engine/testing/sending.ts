import { runById } from '../../broadcasts/run/run-queries';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, expect } from 'vitest';
import { MessageCenter } from '../../../carrier/message-center';
import { DEMO_PROFILE, type Profile } from '../../../carrier/profile';
import type { Db } from '../../db/db';
import { emptyDb, type ENGINES } from '../../db/testing/engines';
import { Bus } from '../../desk/bus';
import { startEngine } from '../engine';
import { makeWorkspace, NOTHING_LATER, NOW, testClock } from './world';

const closing: (() => Promise<void>)[] = [];
/** Ends something else of a test after it. */
export const closeAfter = (close: () => Promise<void>) => void closing.push(close);

/** Ends what the tests of this file have started, after each; to be called once at the top of a test file. */
export function closeAfterEach(): void {
  afterEach(async () => {
    for (const close of closing.splice(0).reverse()) await close();
  });
}

/**
 * An empty workspace with an engine that is bound to a message center of its own. `through` stands between the engine and its
 * database. Unless `mayFail`, whatever the engine told as failed fails the test.
 */
export async function sendingWorld(
  kind: (typeof ENGINES)[number],
  profile: Partial<Profile> = {},
  {
    at = NOW,
    through = (db: Db) => db,
    mayFail = false,
    practiceMail,
  }: { at?: number; through?: (db: Db) => Db; mayFail?: boolean; practiceMail?: () => number | undefined } = {},
) {
  const db = await emptyDb(kind);
  await makeWorkspace(db);
  const journal = join(mkdtempSync(join(tmpdir(), 'center-')), 'journal');
  const clock = testClock(at);
  const center = new MessageCenter({
    host: '127.0.0.1',
    port: 0,
    journal,
    systemId: 'bell',
    password: 'practice',
    now: () => clock.now(),
    profile: { ...DEMO_PROFILE, outcomes: 'delivered', latency: [0, 5], doubled: 0, ...profile },
  });
  const port = await center.listen();
  closing.push(() => center.close());
  const bus = new Bus();
  const errors: unknown[] = [];
  const engine = await startEngine({
    db: through(db),
    clock,
    bus,
    carrier: { host: '127.0.0.1', port, systemId: 'bell', password: 'practice' },
    practiceMail,
    countAhead: runById,
    later: () => NOTHING_LATER,
    failed: (error) => errors.push(error),
  });
  closing.push(async () => {
    await engine.stop();
    if (!mayFail) expect(errors).toEqual([]);
  });
  return { db, center, clock, bus, engine, journal, errors };
}

/** Waits for a condition; bounded by the test's own time limit. */
export async function until<T>(look: () => Promise<T | undefined | false>): Promise<T> {
  for (;;) {
    const found = await look();
    if (found) return found;
    await new Promise((resolve) => setTimeout(resolve, 10));
  }
}

import { describe, expect, test } from 'vitest';
import { readJournal } from '../../../carrier/journal';
import type { Db } from '../../db/db';
import { ENGINES } from '../../db/testing/engines';
import { Forgetful } from '../../db/testing/forgetful';
import { balanceMicro } from '../money';
import { closeAfterEach, sendingWorld, until } from '../testing/sending';
import { makeRun } from '../testing/world';

closeAfterEach();

/** What the simulator assumes of the real transactions: one whose answer was lost has happened, and nothing goes twice for it. */
describe.each(ENGINES)('answers of the database that are lost, on %s', (kind) => {
  test('leases, commits, receipts and postings: everyone once, paid once', async () => {
    let forgetful: Forgetful | undefined;
    const through = (db: Db) => (forgetful = new Forgetful(db, /\bline_(journal|queue)\b/, 0.15));
    const { db, journal, engine } = await sendingWorld(
      kind,
      { throttle: 60, early: 0.3, echoReference: true },
      { through, mayFail: true },
    );
    await makeRun(db, 400);
    const count = async (state: string) =>
      (await db.query<{ n: number }>(`SELECT count(*) AS n FROM outbound WHERE state = $1`, [state])).rows[0].n;
    await until(async () => (await count('delivered')) >= 250);
    expect(forgetful?.told.lost).toBeGreaterThan(0);
    if (forgetful) forgetful.told.on = false;
    await until(async () => (await count('delivered')) === 400);
    await until(async () => (await db.query(`SELECT 1 FROM run WHERE state = 'finished'`)).rowCount === 1);
    const numbers = readJournal(journal).flatMap((line) => (line.what === 'submit' ? [line.number] : []));
    expect(numbers).toHaveLength(400);
    expect(new Set(numbers).size).toBe(400);
    expect(await balanceMicro(db)).toBe(100_000_000 - 400 * 7500);
    await engine.line.look();
    expect((await db.query(`SELECT id FROM line_queue`)).rows).toEqual([]);
  });
});

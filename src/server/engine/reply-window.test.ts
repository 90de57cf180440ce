import { describe, expect, test } from 'vitest';
import { tallyOfRun, sayChoice } from '../outcomes/tally';
import { threadOf } from '../replies/thread';
import { ENGINES } from '../db/testing/engines';
import { closeAfterEach, sendingWorld, until } from './testing/sending';
import { makeRun } from './testing/world';

closeAfterEach();
const DAY = 86_400_000;

describe.each(ENGINES)('replies that are read for two days, on %s', (engine) => {
  test('count until the midnight that was named; later ones are marked, wait for a person, and take nothing back; STOP always counts', async () => {
    const { db, engine: sending, clock } = await sendingWorld(engine);
    // Wed, Dec 2: replies are read until Friday's end, where the recipient is
    await makeRun(db, 4);
    await db.query(`UPDATE run SET reply_days = 2, words = 'Do you race? Reply 1 yes, 2 no'`);
    await until(async () => (await db.query(`SELECT 1 FROM outbound WHERE state = 'delivered'`)).rowCount === 4);
    const numbers = (await db.query<{ number: string }>(`SELECT number FROM outbound ORDER BY id`)).rows;
    const [a, b, c, west] = numbers.map(({ number }) => number);
    await db.query(`UPDATE person SET zone = 'America/Los_Angeles' WHERE number = $1`, [west]);
    const say = async (at: string, number: string, text: string) => {
      clock.at = Math.max(clock.at, Date.parse(at));
      await sending.inbound.take({ number, to: '72345', text });
      await sending.inbound.settle();
    };
    await say('2026-12-05T04:59:00Z', a, '1'); // 11:59 PM of Friday in New York
    await say('2026-12-05T05:00:00Z', b, '2');
    await say('2026-12-05T05:00:01Z', west, '1'); // 9 PM of Friday in Los Angeles
    await say('2026-12-05T08:30:00Z', a, 'no, 2 after all');
    await say('2026-12-05T09:00:00Z', c, 'STOP');
    const { rows } = await db.query<{ number: string; late: boolean; waits: boolean; kind: string; run_id: number }>(
      `SELECT number, late, done_at IS NULL AS waits, kind, run_id FROM inbound ORDER BY id`,
    );
    expect(rows.map(({ late, waits, kind, run_id }) => [late, waits, kind, run_id])).toEqual([
      [false, false, 'reply', 1],
      [true, true, 'reply', 1],
      [false, false, 'reply', 1],
      [true, true, 'reply', 1],
      [true, false, 'stop', 1],
    ]);
    const tally = await tallyOfRun(db, 1);
    expect(tally).toMatchObject({ people: [2, 0], doubts: 2, others: 0, silent: 1 });
    expect(tally.doubtful.map(({ number, late }) => [number, late])).toEqual([
      [b, true],
      [a, true],
    ]);
    // a person may count it all the same
    await db.transaction((tx) => sayChoice(tx, tally.doubtful[0].id, 1));
    expect(await tallyOfRun(db, 1)).toMatchObject({ people: [2, 1], doubts: 1 });
    expect((await db.query(`SELECT 1 FROM suppression WHERE number = $1`, [c])).rowCount).toBe(1);
    const late = (await threadOf(db, b, null)).texts.filter(({ direction }) => direction === 'from');
    expect(late.map((text) => [text.late, text.read_days])).toEqual([[true, 2]]);
  });

  test('a text that went a day later than planned has its days from then', async () => {
    const { db, engine: sending, clock } = await sendingWorld(engine);
    await makeRun(db, 1);
    await db.query(`UPDATE run SET reply_days = 1`);
    await until(async () => (await db.query(`SELECT 1 FROM outbound WHERE state = 'delivered'`)).rowCount === 1);
    const { number } = (await db.query<{ number: string }>(`SELECT number FROM outbound`)).rows[0];
    await db.query(`UPDATE outbound SET handed_at = due_at + interval '1 day'`);
    clock.at += 2 * DAY;
    await sending.inbound.take({ number, to: '72345', text: 'still time?' });
    await sending.inbound.settle();
    expect((await db.query<{ late: boolean }>(`SELECT late FROM inbound`)).rows).toEqual([{ late: false }]);
  });
});

import { describe, expect, test } from 'vitest';
import type { Db } from '../db/db';
import { ENGINES } from '../db/testing/engines';
import { closeAfterEach, sendingWorld, until } from '../engine/testing/sending';
import { makeRun } from '../engine/testing/world';
import { sayChoice, tallyOfRun } from './tally';

closeAfterEach();
const waiting = async (db: Db) =>
  (await db.query<{ body: string }>(`SELECT body FROM inbound WHERE done_at IS NULL ORDER BY id`)).rows.map(({ body }) => body);

describe.each(ENGINES)('answers to a question with choices, on %s', (engine) => {
  test('each person counts once by the last they said of it; plain answers wait for nobody, doubtful ones for a person', async () => {
    const { db, engine: sending } = await sendingWorld(engine);
    await makeRun(db, 6);
    await db.query(`UPDATE run SET words = 'Ottermere: do you race? Reply 1 yes, 2 no'`);
    await db.query(`INSERT INTO run_translation (run_id, language, words) SELECT id, 'fr', 'Répondez 1 oui, 2 non' FROM run`);
    await until(async () => (await db.query(`SELECT 1 FROM outbound WHERE state = 'delivered'`)).rowCount === 6);
    const { rows } = await db.query<{ number: string }>(`SELECT number FROM outbound ORDER BY id`);
    const [a, b, c, d, e] = rows.map(({ number }) => number);
    for (const [number, text] of [
      [a, '1'],
      [b, 'Non merci'],
      [a, 'sorry, 2'],
      [c, 'yes or no, hard to say'],
      [d, 'Is there parking?'],
      [a, 'thanks!'],
      [e, 'STOP'],
    ])
      await sending.inbound.take({ number, to: '72345', text });
    await sending.inbound.settle();
    const run = (await db.query<{ id: number }>(`SELECT id FROM run`)).rows[0].id;
    const tally = await tallyOfRun(db, run);
    expect(tally).toMatchObject({ choices: ['yes', 'no'], people: [0, 2], doubts: 1, others: 1, silent: 2 });
    expect(tally.doubtful.map(({ body }) => body)).toEqual(['yes or no, hard to say']);
    expect(await waiting(db)).toEqual(['yes or no, hard to say', 'Is there parking?', 'thanks!']);
    // somebody of the desk says what it means, and may say that it means nothing
    await db.transaction((tx) => sayChoice(tx, tally.doubtful[0].id, 0));
    expect(await tallyOfRun(db, run)).toMatchObject({ people: [1, 2], doubts: 0, others: 1 });
    await db.transaction((tx) => sayChoice(tx, tally.doubtful[0].id, null));
    expect(await tallyOfRun(db, run)).toMatchObject({ people: [0, 2], doubts: 0, others: 2 });
    expect(await db.transaction((tx) => sayChoice(tx, 9999, 0))).toBe(false);
  });

  test('a run that asks nothing has no tally, and its answers wait', async () => {
    const { db, engine: sending } = await sendingWorld(engine);
    await makeRun(db, 1);
    await until(async () => (await db.query(`SELECT 1 FROM outbound WHERE state = 'delivered'`)).rowCount === 1);
    const { number } = (await db.query<{ number: string }>(`SELECT number FROM outbound`)).rows[0];
    await sending.inbound.take({ number, to: '72345', text: '1' });
    await sending.inbound.settle();
    expect(await waiting(db)).toEqual(['1']);
    expect((await tallyOfRun(db, 1)).choices).toEqual([]);
  });
});

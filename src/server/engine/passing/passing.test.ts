import { describe, expect, test } from 'vitest';
import { iso } from '../../../core/clock';
import { ENGINES } from '../../db/testing/engines';
import { rounds } from '../../db/testing/rounds';
import { passAgain } from '../../replies/passing-queries';
import { closeAfterEach, sendingWorld, until } from '../testing/sending';
import { giveConversation } from './give';
import { MOST_PASSED } from './note';
import { MOST_ANSWERS } from './pass-back';
import { IDRIS, MABEL, PIER, applied, people, rows, rule, screen, writes } from './testing';

closeAfterEach();

describe.each(ENGINES)('passing on by text, on %s', (kind) => {
  const begin = async () => {
    const world = await sendingWorld(kind);
    await people(world.db);
    await rule(world.db, 'text', PIER);
    return world;
  };

  test('what somebody asks comes to whoever is told of it, and their answer goes back as from the workspace', async () => {
    const world = await begin();
    writes(world, MABEL, 'Is the 5:20 running?');
    await until(async () => screen(world, PIER).length === 1);
    expect(screen(world, PIER)).toEqual(['Mabel Greenhalgh: “Is the 5:20 running?” To answer them begin with #1']);
    writes(world, PIER, 'Yes, from Mill Quay.');
    await until(async () => screen(world, MABEL).length === 1);
    expect(screen(world, MABEL)).toEqual(['Yes, from Mill Quay.']);
    expect(await rows(world.db, `SELECT 1 FROM inbound WHERE done_at IS NULL`)).toEqual([]);
    // a second one needs the mark, since nothing waits any more
    writes(world, PIER, '#1 And at 6.');
    await until(async () => screen(world, MABEL).length === 2);
    expect(screen(world, MABEL)[1]).toBe('And at 6.');
    // a machine that answers on and on comes to an end; nothing of it is lost
    for (let i = 0; i < 10; i += 1) await world.engine.inbound.take({ number: PIER, to: '72345', text: `#1 And ${i}` });
    await world.engine.inbound.settle();
    expect(await rows(world.db, `SELECT state, count(*) AS n FROM passed_answer GROUP BY 1 ORDER BY 1`)).toEqual([
      { state: 'held', n: 6 },
      { state: 'sent', n: MOST_ANSWERS },
    ]);
  });

  test('of several that wait the mark says whom; without one nobody is told, and it is asked', async () => {
    const world = await begin();
    writes(world, MABEL, 'Is the 5:20 running?');
    await until(async () => screen(world, PIER).length === 1);
    writes(world, IDRIS, 'Can Leo come later?');
    await until(async () => screen(world, PIER).length === 2);
    writes(world, PIER, 'Yes.');
    await until(async () => screen(world, PIER).length === 3);
    expect(screen(world, PIER)[2]).toBe('Not passed on: whom does it answer? Begin with #1 for Mabel Greenhalgh, #2 for Idris.');
    expect([...screen(world, MABEL), ...screen(world, IDRIS)]).toEqual([]);
    writes(world, PIER, '#2 Yes, until 4, and stop at the desk.');
    await until(async () => screen(world, IDRIS).length === 1);
    expect(screen(world, IDRIS)).toEqual(['Yes, until 4, and stop at the desk.']);
    expect(screen(world, MABEL)).toEqual([]);
    expect(await rows(world.db, `SELECT number FROM inbound WHERE done_at IS NULL`)).toEqual([{ number: MABEL }]);
  });

  test('an answer to what the desk has answered is held with its words, and they are told', async () => {
    const world = await begin();
    writes(world, MABEL, 'Is the 5:20 running?');
    await until(async () => screen(world, PIER).length === 1);
    await world.db.query(
      `INSERT INTO account (id, email, name, role, password_hash, created_at) VALUES (1, 'ana@ottermere.example', 'Ana', 'send', 'x', '2026-01-01')`,
    );
    await world.db.query(
      `INSERT INTO outbound (kind, number, sender_id, body, alphabet, parts, cost_micro, due_at, not_after, state, open, account_id)
       VALUES ('reply', $1, 1, 'Yes, it is.', 'gsm7', 1, 1, $2::timestamptz, '2027-01-01', 'delivered', 0, 1)`,
      [MABEL, new Date(world.clock.now() + 1000).toISOString()],
    );
    writes(world, PIER, 'No, it is not.');
    await until(async () => screen(world, PIER).length === 2);
    expect(screen(world, PIER)[1]).toBe('Not passed on: Ana has answered since: “Yes, it is.”. It is kept for the desk.');
    expect(screen(world, MABEL)).toEqual([]);
    expect(await rows(world.db, `SELECT words, state FROM passed_answer`)).toEqual([{ words: 'No, it is not.', state: 'held' }]);
  });

  test('a conversation given to somebody: what waits goes to them, then what that number writes for a week, and nobody else’s', async () => {
    const world = await sendingWorld(kind);
    await people(world.db);
    const give = () =>
      world.db.transaction((tx) =>
        giveConversation(
          tx,
          MABEL,
          { name: 'Pier office', way: 'text', address: PIER, any_hour: true },
          { account: 1, now: world.clock.now() },
        ),
      );
    expect(await give()).toBe(0);
    await world.db.query(`DELETE FROM pass_on`);
    writes(world, IDRIS, 'And I?');
    writes(world, MABEL, 'Is the 5:20 running?');
    await applied(world, 2);
    expect(await give()).toBe(1);
    world.bus.work();
    await until(async () => screen(world, PIER).length === 1);
    expect(screen(world, PIER)).toEqual(['Mabel Greenhalgh: “Is the 5:20 running?” To answer them begin with #1']);
    // to the same once more: there is nothing that has not gone, and it is one rule
    expect(await give()).toBe(0);
    expect(await rows(world.db, `SELECT 1 FROM pass_on`)).toHaveLength(1);
    writes(world, MABEL, 'Or the 6?');
    await until(async () => screen(world, PIER).length === 2);
    writes(world, PIER, '#1 It is.');
    await until(async () => screen(world, MABEL).length === 1);
    await world.db.query(`UPDATE passed SET at = at - interval '8 days'`);
    await world.db.query(`UPDATE pass_on SET created_at = created_at - interval '8 days'`);
    writes(world, MABEL, 'Thanks');
    await applied(world, 5);
    expect(await rows(world.db, `SELECT number FROM passed`)).toEqual([{ number: MABEL }, { number: MABEL }]);
  });

  test('what could not be passed on is tried again when somebody says so, and goes', async () => {
    const world = await begin();
    await world.db.query(`UPDATE sender SET kind = 'name'`);
    writes(world, MABEL, 'Is the 5:20 running?');
    await until(async () => (await rows(world.db, `SELECT 1 FROM passed WHERE state = 'failed'`)).length === 1);
    await world.db.query(`UPDATE sender SET kind = 'short'`);
    expect(await world.db.transaction((tx) => passAgain(tx, 1, '2000-01-01', iso(world.clock.now())))).toBe(1);
    world.bus.work();
    await until(async () => screen(world, PIER).length === 1);
    expect(await rows(world.db, `SELECT state FROM passed`)).toEqual([{ state: 'sent' }]);
  });

  test('nothing goes on of what phones write by themselves, of a stop, to one’s own number, or to somebody who opted out', async () => {
    const world = await begin();
    await rule(world.db, 'text', IDRIS, { name: 'Idris' });
    writes(world, MABEL, "I'm driving right now and will get back to you");
    writes(world, '+12075550137', 'STOP');
    writes(world, IDRIS, 'A word from Idris');
    await until(async () => screen(world, PIER).length === 1);
    await applied(world, 3);
    expect(await rows(world.db, `SELECT pass_on_id, number, state FROM passed`)).toEqual([
      { pass_on_id: 1, number: IDRIS, state: 'sent' },
    ]);
    writes(world, PIER, 'STOP');
    await applied(world, 4);
    writes(world, MABEL, 'Hello?');
    await until(async () => (await rows(world.db, `SELECT 1 FROM passed WHERE state = 'failed'`)).length === 1);
    expect(await rows(world.db, `SELECT trouble FROM pass_on WHERE id = 1`)).toEqual([
      { trouble: `${PIER} has opted out of our texts. Nothing was sent.` },
    ]);
    // and they are not told by mistake that it was an answer
    expect(screen(world, MABEL)).toEqual([]);
  });

  test('a machine that hands on what it gets answers nobody, and a person sees it', async () => {
    const world = await begin();
    writes(world, MABEL, 'Is the 5:20 running?');
    await until(async () => screen(world, PIER).length === 1);
    const handedOn = `Pier: “${screen(world, PIER)[0]}”`;
    writes(world, PIER, handedOn);
    await applied(world, 2);
    expect(await rows(world.db, `SELECT kind, body FROM inbound WHERE done_at IS NULL ORDER BY id`)).toEqual([
      { kind: 'reply', body: 'Is the 5:20 running?' },
      { kind: 'reply', body: handedOn },
    ]);
    expect(await rows(world.db, `SELECT 1 FROM passed_answer`)).toEqual([]);
    expect(screen(world, MABEL)).toEqual([]);
  });

  test('hundreds from one number: some are passed on, all are kept', async () => {
    const many = rounds(120, 1000);
    const world = await begin();
    await Promise.all(
      Array.from({ length: many }, (_, i) => world.engine.inbound.take({ number: MABEL, to: '72345', text: `Hello ${i}` })),
    );
    await world.engine.inbound.settle();
    expect(await rows(world.db, `SELECT count(*) AS n FROM inbound WHERE done_at IS NULL`)).toEqual([{ n: many }]);
    expect(await rows(world.db, `SELECT count(*) AS n FROM passed`)).toEqual([{ n: MOST_PASSED }]);
    expect(await rows(world.db, `SELECT trouble FROM pass_on`)).toEqual([
      { trouble: `More than ${MOST_PASSED} within an hour from ${MABEL}: the rest is in Replies only.` },
    ]);
  });
});

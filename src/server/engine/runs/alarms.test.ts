import { DEMO_PROFILE, fate } from '../../../carrier/profile';
import { describe, expect, test } from 'vitest';
import { iso } from '../../../core/clock';
import type { Db } from '../../db/db';
import { rouse, want } from '../../desk/job-queries';
import { ENGINES } from '../../db/testing/engines';
import { closeAfterEach, sendingWorld, until } from '../testing/sending';
import { makeRun, NOW } from '../testing/world';

/** Trouble with a run, and lists that keep themselves clean, by runs that go over a real line. */
closeAfterEach();
const ON_DUTY = '+12075550199';
const rows = async <T = Record<string, unknown>>(db: Db, sql: string, params: (string | number)[] = []) =>
  (await db.query<T>(sql, params)).rows;

async function onDuty(db: Db): Promise<void> {
  await db.query(
    `INSERT INTO account (id, email, name, role, password_hash, own_number, created_at) VALUES (1, 'ana@ottermere.example', 'Ana', 'manage', 'x', $1, '2026-01-01')`,
    [ON_DUTY],
  );
  await db.query(`INSERT INTO desk_setting (id, duty_account_id, duty_any_hour) VALUES (1, 1, true)`);
}
const finished = (db: Db, run: number) =>
  until(async () => (await rows(db, `SELECT 1 FROM run WHERE id = $1 AND ended_at IS NOT NULL`, [run])).length === 1);

describe.each(ENGINES)('trouble announces itself, on %s', (kind) => {
  test('a code that fails for everyone is said once: on the run, and by one text to whoever is on duty', async () => {
    const world = await sendingWorld(kind, { trouble: 0x0b });
    await onDuty(world.db);
    await makeRun(world.db, 40);
    await until(
      async () => (await rows(world.db, `SELECT 1 FROM run_tally WHERE state = 'not_delivered' AND people = 40`)).length === 1,
    );
    world.center.profile = { ...world.center.profile, trouble: 0 };
    await finished(world.db, 1);
    // whole: its parts come one after the other
    await until(async () =>
      (world.center.phones.get(ON_DUTY.slice(1))?.texts ?? []).some(({ arrived, total }) => arrived === total),
    );
    world.clock.at += 60_000;
    await world.engine.jobs.settle();
    expect(await rows(world.db, `SELECT run_id, kind, trouble FROM alarm`)).toEqual([
      { run_id: 1, kind: 'one_reason', trouble: null },
    ]);
    expect(world.center.phones.get(ON_DUTY.slice(1))?.texts.map(({ text }) => text)).toEqual([
      expect.stringMatching(/^“Trial”: 40 of 40 failed, all for one reason: .+\.$/),
    ]);
  });

  test('a run that goes well says nothing; one without receipts says that they do not come', async () => {
    const world = await sendingWorld(kind, { latency: [60_000_000, 60_000_000] });
    await makeRun(world.db, 30);
    await until(
      async () => (await rows(world.db, `SELECT 1 FROM run_tally WHERE state = 'with_carrier' AND people = 30`)).length === 1,
    );
    await rouse(world.db, 'watch', world.clock.at);
    await world.engine.jobs.settle();
    expect(await rows(world.db, `SELECT kind FROM alarm`)).toEqual([]);
    world.clock.at += 11 * 60_000;
    await rouse(world.db, 'watch', world.clock.at);
    await world.engine.jobs.settle();
    expect(await rows(world.db, `SELECT kind, words FROM alarm`)).toEqual([
      { kind: 'slow', words: '30 of 30 have no receipt after ten minutes.' },
    ]);
    // nobody is on duty: it stands on Today only
    expect(await rows(world.db, `SELECT 1 FROM outbound WHERE kind = 'alarm'`)).toEqual([]);
  });

  test('an answer that says it is wrong is quoted, once; whoever is on duty and opted out is not texted, and it says so', async () => {
    const world = await sendingWorld(kind);
    await onDuty(world.db);
    await world.db.query(`INSERT INTO suppression (number, at, how, words) VALUES ($1, '2026-01-01', 'texted', 'STOP')`, [
      ON_DUTY,
    ]);
    await makeRun(world.db, 3);
    await finished(world.db, 1);
    const [{ number }] = await rows<{ number: string }>(
      world.db,
      `SELECT number FROM outbound WHERE run_id = 1 ORDER BY id LIMIT 1`,
    );
    for (const text of ['Is this right? It is Thursday.', 'Wrong day, I think'])
      await world.engine.inbound.take({ number, to: '72345', text });
    await world.engine.inbound.settle();
    await until(async () => (await rows(world.db, `SELECT 1 FROM alarm WHERE trouble IS NOT NULL`)).length === 1);
    expect(await rows(world.db, `SELECT kind, words, trouble FROM alarm`)).toEqual([
      {
        kind: 'wrong',
        words: 'An answer says that it is wrong: “Is this right? It is Thursday.”',
        trouble: `${ON_DUTY} has opted out of our texts. Nothing was sent.`,
      },
    ]);
  });

  test('who is not reached by two in a row leaves the list, once the second has ended; it is told, and nobody else leaves', async () => {
    const world = await sendingWorld(kind);
    const { db } = world;
    await db.query(
      `INSERT INTO list (id, name, created_at, leave_after) VALUES (1, 'Ferry', '2026-01-01', 2), (2, 'Kept', '2026-01-01', NULL)`,
    );
    await makeRun(db, 4);
    await finished(db, 1);
    await world.engine.jobs.settle();
    // of the first run two were not reached; the same people and numbers stand in a second run
    const people = (await rows<{ person_id: number }>(db, `SELECT person_id FROM outbound WHERE run_id = 1 ORDER BY id`)).map(
      (row) => row.person_id,
    );
    await db.query(
      `INSERT INTO list_member (list_id, person_id) SELECT l, unnest($1::bigint[]) FROM (VALUES (1), (2)) AS v (l)`,
      [people],
    );
    await db.query(
      `UPDATE outbound SET state = 'not_delivered', reason = 'the number does not exist' WHERE run_id = 1 AND person_id = ANY ($1::bigint[])`,
      [people.slice(0, 2)],
    );
    await makeRun(db, 4, { id: 2, state: 'paused' });
    await db.query(`UPDATE run SET started_at = due_at WHERE id = 2`);
    await db.query(`UPDATE outbound SET person_id = o.person_id, number = o.number FROM (SELECT person_id, number, row_number() OVER (ORDER BY id) AS n FROM outbound WHERE run_id = 1) AS o,
      (SELECT id, row_number() OVER (ORDER BY id) AS n FROM outbound WHERE run_id = 2) AS mine WHERE mine.n = o.n AND outbound.id = mine.id`);
    // the first is not reached again, the second is, the third for the first time not
    await db.query(
      `UPDATE outbound SET open = 0, queue = NULL, handed_at = $1::timestamptz, final_at = $1::timestamptz, state = CASE WHEN person_id = ANY ($2::bigint[]) THEN 'not_delivered' ELSE 'delivered' END WHERE run_id = 2`,
      [iso(NOW), [people[0], people[2]]],
    );
    // its end may have been looked for before its texts had come to theirs
    await want(db, [{ kind: 'end run', key: '2', due: NOW }]);
    await world.engine.jobs.settle();
    await finished(db, 2);
    await world.engine.jobs.settle();
    expect(
      (await rows<{ person_id: number }>(db, `SELECT person_id FROM list_member WHERE list_id = 1 ORDER BY 1`)).map(
        (row) => row.person_id,
      ),
    ).toEqual(people.slice(1));
    expect(await rows(db, `SELECT 1 FROM list_member WHERE list_id = 2`)).toHaveLength(4);
    expect(await rows(db, `SELECT what, people, run_id FROM bulk_change`)).toEqual([
      { what: 'left “Ferry” after 2 not delivered', people: 1, run_id: 2 },
    ]);
    expect(await rows(db, `SELECT what FROM run_event WHERE run_id = 2`)).toEqual([
      { what: '1 person left the list “Ferry”: not reached by 2 in a row' },
    ]);
  });

  test('whoever is not reached leaves, though the carrier says so long after the run has ended', async () => {
    // the practice carrier takes this one on, and later says that it does not exist
    const gone = Array.from({ length: 2000 }, (_, i) => `+1207${2_000_000 + i}`).find(
      (number) => fate({ ...DEMO_PROFILE, outcomes: 'mixed' }, number.slice(1)).kind === 'not_delivered',
    );
    const world = await sendingWorld(kind, { outcomes: 'mixed', latency: [400, 400] });
    const { db } = world;
    await db.query(`INSERT INTO list (id, name, created_at, leave_after) VALUES (1, 'Ferry', '2026-01-01', 1)`);
    await makeRun(db, 3, { state: 'paused' });
    await db.query(`UPDATE person SET number = $1 WHERE id = 1000001`, [gone]);
    await db.query(`UPDATE outbound SET number = $1 WHERE person_id = 1000001`, [gone]);
    await db.query(`INSERT INTO list_member (list_id, person_id) SELECT 1, id FROM person`);
    await db.query(`UPDATE run SET state = 'sending', started_at = due_at`);
    world.bus.work();
    await finished(db, 1);
    await until(async () => (await rows(db, `SELECT 1 FROM list_member`)).length === 2);
    expect(await rows(db, `SELECT 1 FROM list_member WHERE person_id = 1000001`)).toEqual([]);
  });
});

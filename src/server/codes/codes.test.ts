import { afterAll, beforeAll, describe, expect, onTestFinished, test } from 'vitest';
import { BUDGET } from '../handed-in/handed-in';
import { iso } from '../../core/clock';
import type { Added, CodeList } from '../../core/api/sending/codes';
import { MOST_CODES } from '../../core/plan/words/codes';
import { EMPTY_DRAFT, type Draft } from '../../core/plan/draft/draft';
import { localPlans } from '../broadcasts/planning/plan-thread';
import { pressAndStore, presser, world } from '../broadcasts/testing';
import type { Db } from '../db/db';
import type { Change } from '../desk/bus';
import { want } from '../desk/job-queries';
import { emptyDb, ENGINES } from '../db/testing/engines';
import { returnUnsentCodes } from '../engine/runs/return-codes';
import { callOff } from '../engine/runs/run-life';
import { NOW } from '../engine/testing/world';
import { openDesk, type Desk } from '../http/testing/desk';
import { codesFor, holderOf, RESERVED_FOR, reserveCodes } from './code-store';

const WORDS: Partial<Draft> = { words: 'Ottermere: your code is {code}', opt_out: 'none', code_list_id: 1 };

async function shop(engine: (typeof ENGINES)[number], codes: number, part: Partial<Draft> = {}) {
  const made = await world(engine, { ...WORDS, ...part });
  await made.db.query(`INSERT INTO code_list (id, name, folded, created_at) VALUES (1, 'Winter', 'winter', $1::timestamptz)`, [
    iso(NOW),
  ]);
  await made.db.query(`INSERT INTO code (list_id, code) SELECT 1, 'FERRY-' || n FROM generate_series(1, $1::int) AS n`, [codes]);
  return made;
}
/** The same draft as another broadcast. */
const another = (db: Db, id: number, draft: Draft) =>
  db.query(
    `INSERT INTO broadcast (id, name, state, draft, created_at, updated_at) VALUES ($1, 'Another', 'draft', $2::jsonb, $3::timestamptz, $3::timestamptz)`,
    [id, JSON.stringify(draft), iso(NOW)],
  );
let presses = 0;
/** The last look and the press, a while after it: each with an id of its own, as the page makes it. */
async function send(db: Db, draft: Draft, broadcast = 1, wait = 0, plans = localPlans(db)) {
  const holder = holderOf(broadcast);
  const first = await plans.summary(draft, NOW, holder);
  await reserveCodes(db, 1, holder, first.plan.codes?.needed ?? 0, NOW);
  const { digest, plan } = await plans.summary(draft, NOW, holder);
  const now = NOW + wait;
  const work = pressAndStore(
    presser(db, now, plans),
    { broadcastId: broadcast, version: 1, digest, pressId: `press-of-${broadcast}-${(presses += 1)}` },
    { account: undefined, now, at: iso(now) },
  );
  return { plan, done: await work.catch((error: unknown) => error as Error) };
}
const given = async (db: Db) =>
  (
    await db.query<{ code: string; number: string; body: string; run_id: number }>(
      `SELECT code, code.number, body, code.run_id FROM code JOIN outbound ON outbound.id = code.outbound_id WHERE taken_at IS NOT NULL ORDER BY code.id`,
    )
  ).rows;
const free = async (db: Db) => (await codesFor(db, 1, 'nobody', NOW))?.free;

describe.each(ENGINES)('one-time codes on %s', (engine) => {
  test('what is shown at the last look is what each one gets; what was reserved for those who do not is free again', async () => {
    const { db, draft } = await shop(engine, 5);
    const { plan, done } = await send(db, draft);
    expect(plan.codes).toEqual({ name: 'Winter', free: 5, needed: 3, exact: true });
    expect(done).toMatchObject({ stored: 'stored' });
    const taken = await given(db);
    expect(taken.map(({ code }) => code)).toEqual(['FERRY-1', 'FERRY-2', 'FERRY-3']);
    for (const { code, body } of taken) expect(body).toBe(`Ottermere: your code is ${code}`);
    expect(new Set(taken.map(({ number }) => number)).size).toBe(3);
    expect(await free(db)).toBe(2);
  });

  test('a shortage is seen before: nothing is reserved, and nothing goes', async () => {
    const { db, draft } = await shop(engine, 2);
    const { plan, done } = await send(db, draft);
    expect(plan.must_fix.map(({ message }) => message)).toEqual(['“Winter” has 2 codes left; 3 people would get one.']);
    expect(done).toBeInstanceOf(Error);
    expect(await given(db)).toEqual([]);
  });

  test('ten minutes later they are anyone’s, and the press says so; looked at again, it goes', async () => {
    const { db, draft } = await shop(engine, 5);
    const late = await send(db, draft, 1, RESERVED_FOR + 1);
    expect(String(late.done)).toContain('The codes that were reserved at your last look are free again');
    expect(await given(db)).toEqual([]);
    expect((await send(db, draft)).done).toMatchObject({ stored: 'stored' });
  });

  test('two runs at once: no code twice', async () => {
    const { db, draft } = await shop(engine, 6);
    await another(db, 2, draft);
    const both = await Promise.all([send(db, draft, 1), send(db, draft, 2)]);
    expect(both.map(({ done }) => (done as { stored: string }).stored)).toEqual(['stored', 'stored']);
    const taken = await given(db);
    expect(new Set(taken.map(({ code }) => code)).size).toBe(6);
    expect(new Set(taken.map(({ run_id }) => run_id)).size).toBe(2);
    expect(await free(db)).toBe(0);
  });

  test('taken back, called off, or killed while it is stored: every code is free again, and the next run may give them', async () => {
    const { db, draft } = await shop(engine, 3);
    const { done } = await send(db, draft);
    const run = (done as { run_id: number }).run_id;
    await db.transaction((tx) => callOff(tx, run, 'draft', NOW));
    await presser(db, NOW).jobs.settle();
    expect(await free(db)).toBe(3);
    await another(db, 2, draft);
    const second = (await send(db, draft, 2)).done as { run_id: number };
    await db.query(`UPDATE run SET state = 'planning', digest = 'another' WHERE id = $1`, [second.run_id]);
    await db.query(`UPDATE code SET taken_at = NULL, outbound_id = NULL WHERE code = 'FERRY-2'`);
    await want(db, [{ kind: 'store run', key: String(second.run_id), due: NOW }]);
    await presser(db, NOW).jobs.settle();
    expect(await free(db)).toBe(3);
    await another(db, 3, draft);
    expect((await send(db, draft, 3)).done).toMatchObject({ stored: 'stored' });
  });

  test('a run that is stopped gives back the codes of texts that never left, and only those', async () => {
    const { db, draft } = await shop(engine, 3);
    const { done } = await send(db, draft);
    const run = (done as { run_id: number }).run_id;
    const [first, second, third] = (await db.query<{ id: number }>(`SELECT id FROM outbound ORDER BY id`)).rows.map(
      ({ id }) => id,
    );
    await db.query(`UPDATE outbound SET state = 'not_sent', open = 0 WHERE id IN ($1, $2)`, [first, second]);
    await db.query(`UPDATE outbound SET state = 'delivered', open = 0 WHERE id = $1`, [third]);
    // of the second a part has been written: it may have arrived
    await db.query(
      `INSERT INTO outbound_part (outbound_id, part_no, number, state, reference) VALUES ($1, 1, '+12075550104', 'uncertain', 7)`,
      [second],
    );
    await db.transaction((tx) => returnUnsentCodes(tx, run));
    expect(await free(db)).toBe(1);
    expect(await given(db)).toHaveLength(2);
  });

  test('a code that is someone else’s by then is not given: nothing of the run is stored', async () => {
    const { db, draft } = await shop(engine, 3);
    const plans = localPlans(db);
    const rows = plans.rows.bind(plans);
    // between the press and its storing somebody takes one away
    plans.rows = async (...args) => {
      await db.query(`UPDATE code SET run_id = 99 WHERE code = 'FERRY-2'`);
      return rows(...args);
    };
    const { done } = await send(db, draft, 1, 0, plans);
    expect(done).toMatchObject({ stored: 'failed' });
    expect((await db.query(`SELECT 1 FROM outbound`)).rowCount).toBe(0);
    expect(await given(db)).toEqual([]);
  });
});

describe.each(ENGINES)('lists of codes on %s', (engine) => {
  let desk: Desk;
  beforeAll(async () => {
    desk = await openDesk(await emptyDb(engine));
  });
  afterAll(() => desk.close());
  const hand = async (path: string, body: string) => {
    const answer = await desk.ask('POST', path, 'manage', { body, headers: { 'content-type': 'application/octet-stream' } });
    return { status: answer.status, ...((await answer.json()) as Added & { title: string }) };
  };

  test('a file is brought in with what was left out of it; more are added; a given one keeps the list', async () => {
    expect(await hand('/api/code-lists?name=Winter', 'code\nA-1\nA-2\n\nA-1\n')).toMatchObject({
      status: 200,
      added: 2,
      twice: 1,
      blank: 1,
      heading: 'code',
    });
    const { lists } = await desk.json<{ lists: CodeList[] }>('GET', '/api/code-lists');
    expect(lists).toMatchObject([{ name: 'Winter', free: 2, given: 0 }]);
    const { id } = lists[0];
    expect(await hand(`/api/code-lists/${id}/codes`, 'A-2\nA-3')).toMatchObject({ added: 1, here: 1 });
    expect(await hand('/api/code-lists?name=WINTER', 'B')).toMatchObject({ status: 409 });
    expect(await hand('/api/code-lists?name=Empty', '\n \n')).toMatchObject({ status: 422, title: 'There is no code in it.' });
    await desk.app.db.query(`UPDATE code SET number = '+12075550142', taken_at = now(), run_id = NULL WHERE code = 'A-2'`);
    expect((await desk.json('DELETE', `/api/code-lists/${id}`)).status).toBe(409);
    for (const search of ['a-2', '2075550142', '+1 207 555 0142'])
      expect(await desk.json('GET', `/api/codes?search=${encodeURIComponent(search)}`)).toMatchObject({
        codes: [{ code: 'A-2', list: 'Winter', number: '+12075550142' }],
      });
    expect(await desk.json('GET', '/api/codes?search=nothing')).toMatchObject({ codes: [] });
    await desk.app.db.query(`UPDATE code SET number = NULL, taken_at = NULL`);
    expect((await desk.json('DELETE', `/api/code-lists/${id}`)).status).toBe(200);
  });

  test('what stands in another list is left out, and said; of what stood in two before, one is given', async () => {
    const { id } = await hand('/api/code-lists?name=Spring', 'S-1\nS-2');
    const second = await hand('/api/code-lists?name=Summer', 'S-2\nS-3');
    expect(second).toMatchObject({ added: 1, here: 0, elsewhere: 1 });
    expect(await hand(`/api/code-lists/${second.id}/codes`, 'S-1\nS-2\nS-3\nS-4')).toMatchObject({
      added: 1,
      here: 1,
      elsewhere: 2,
    });
    await desk.app.db.query(`INSERT INTO code (list_id, code, twin) VALUES ($1, 'S-4', true)`, [id]);
    expect((await codesFor(desk.app.db, id, 'nobody', NOW))?.free).toBe(2);
    expect(await reserveCodes(desk.app.db, id, 'nobody', 5, NOW)).toBe(2);
    expect((await desk.json<{ lists: CodeList[] }>('GET', '/api/code-lists')).lists).toMatchObject([{ free: 2 }, { free: 0 }]);
  });

  test('a long list comes in pieces: others are answered meanwhile; broken off, the rest comes with the same file', async () => {
    const lines = Array.from({ length: 8000 }, (_, i) => `L-${i}`).join('\n');
    const { bus } = desk.app;
    const comings: number[] = [];
    const looked: Promise<void>[] = [];
    const heard = ({ topic }: Change) => {
      if (topic === 'codes')
        looked.push(
          desk.json<{ lists: CodeList[] }>('GET', '/api/code-lists').then(({ lists }) => {
            comings.push(lists[0].coming);
          }),
        );
    };
    bus.on('change', heard);
    const { id } = await hand('/api/code-lists?name=Long', lines);
    bus.off('change', heard);
    await Promise.all(looked);
    expect(comings.some((coming) => coming > 0 && coming < 8000)).toBe(true);
    expect((await desk.json<{ lists: CodeList[] }>('GET', '/api/code-lists')).lists[0]).toMatchObject({
      free: 8000,
      coming: 0,
    });
    await desk.app.db.query(`DELETE FROM code WHERE list_id = $1 AND code > 'L-5'`, [id]);
    const left = (await codesFor(desk.app.db, id, 'nobody', NOW))?.free ?? 0;
    expect(await hand(`/api/code-lists/${id}/codes`, lines)).toMatchObject({ added: 8000 - left, here: left, elsewhere: 0 });
  });

  test('more than may be brought in at once is refused, and nothing of it is there', async () => {
    // how long reading may take is another test's matter: here a busy machine decides nothing
    BUDGET.ms = 120_000;
    onTestFinished(() => void (BUDGET.ms = 5000));
    const lines = Array.from({ length: MOST_CODES + 1 }, (_, i) => `M${i}`).join('\n');
    expect(await hand('/api/code-lists?name=Many', lines)).toMatchObject({ status: 422, kept: 'Nothing was changed.' });
    expect((await desk.json<{ lists: CodeList[] }>('GET', '/api/code-lists')).lists.map(({ name }) => name)).not.toContain(
      'Many',
    );
  });

  test('deleted while it comes in, it says so', async () => {
    const { bus } = desk.app;
    let done: Promise<unknown> | undefined;
    const heard = ({ topic }: Change) => {
      if (topic === 'codes') done ??= desk.app.db.query(`DELETE FROM code_list WHERE name = 'Gone'`);
    };
    bus.on('change', heard);
    const lines = Array.from({ length: 20_000 }, (_, i) => `G-${i}`).join('\n');
    expect(await hand('/api/code-lists?name=Gone', lines)).toMatchObject({ status: 404 });
    bus.off('change', heard);
    await done;
  });

  test('who may write, and not send, takes none away from those who may by looking', async () => {
    const { id } = await hand('/api/code-lists?name=Looks', 'K-1\nK-2\nK-3');
    const { db } = desk.app;
    const made = await desk.json<{ id: number }>('POST', '/api/broadcasts', { name: 'Codes' });
    const draft = {
      ...EMPTY_DRAFT,
      to: [{ kind: 'person', id: 1 }],
      words: 'Your code is {code}',
      opt_out: 'none',
      code_list_id: id,
    };
    await db.exec(
      `INSERT INTO person (id, given_name, number, created_at, updated_at) VALUES (1, 'Ana', '+12075550142', '2026-01-01', '2026-01-01')`,
    );
    const look = async (role: 'write' | 'send') => {
      const answer = await desk.ask('POST', `/api/broadcasts/${made.id}/plan`, role, {
        body: JSON.stringify({ draft, reserve: true }),
      });
      expect(answer.status).toBe(200);
      return (await db.query(`SELECT 1 FROM code WHERE list_id = $1 AND reserved_for IS NOT NULL`, [id])).rowCount;
    };
    expect(await look('write')).toBe(0);
    expect(await look('send')).toBe(1);
  });
});

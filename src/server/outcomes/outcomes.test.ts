import XLSX from 'xlsx';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { OutcomeRow, PersonHistory, Usual } from '../../core/api/sending/outcomes';
import { EMPTY_DRAFT } from '../../core/plan/draft/draft';
import { emptyDb, ENGINES } from '../db/testing/engines';
import { openDesk, type Desk } from '../http/testing/desk';

type List = { runs: OutcomeRow[]; total: number; usual: Usual };
/** name, day and time in UTC, label, list, people, delivered, answered, clicked of linked, opted out */
const RUNS: [string, string, string, number, number, number, number, number, number, number][] = [
  ['Fog', '2026-12-02T13:06:00Z', 'ferry', 1, 100, 96, 10, 0, 0, 1],
  ['Winter', '2026-12-01T04:30:00Z', 'ferry', 2, 100, 98, 2, 30, 98, 0],
  ['Pike: 50% off', '2026-11-20T15:00:00Z', 'juniors', 1, 40, 40, 8, 0, 0, 2],
  ['Berths', '2026-09-01T15:00:00Z', 'boathouse', 2, 20, 19, 1, 0, 0, 0],
];

describe.each(ENGINES)('outcomes, %s', (engine) => {
  let desk: Desk;
  beforeAll(async () => {
    desk = await openDesk(await emptyDb(engine));
    const { db } = desk.app;
    await db.query(`INSERT INTO list (id, name, created_at) VALUES (1, 'Regulars', '2026-01-01'), (2, 'Holders', '2026-01-01')`);
    for (const [i, [name, at, label, list, people, delivered, answered, clicked, linked, out]] of RUNS.entries()) {
      const id = i + 1;
      const draft = JSON.stringify({ ...EMPTY_DRAFT, to: [{ kind: 'list', id: list }] });
      await db.query(
        `INSERT INTO broadcast (id, name, state, draft, account_id, created_at, updated_at, labels) VALUES ($1, $2, 'ended', $3::jsonb, 1, $4::timestamptz, $4::timestamptz, jsonb_build_array($5::text))`,
        [id, name, draft, at, label],
      );
      await db.query(
        `INSERT INTO run (id, broadcast_id, state, press_id, digest, words, name, sender_id, purpose, people, parts, cost_micro, takeback_until, due_at, last_due_at, not_after, pressed_at, account_id, started_at, ended_at)
         VALUES ($1::bigint, $1::bigint, 'finished', $1::bigint::text, '', $5, $2, 1, 'service', $3::int, $3::int, 7500 * $3::bigint, $4::timestamptz, $4::timestamptz, $4::timestamptz, $4::timestamptz, $4::timestamptz, $6, $4::timestamptz, $4::timestamptz)`,
        [id, name, people, at, `Ottermere: ${name} words`, id === 4 ? 2 : 1],
      );
      await db.query(
        `INSERT INTO outbound (id, run_id, kind, number, sender_id, body, alphabet, parts, cost_micro, due_at, not_after, state, open, billed)
         SELECT $1::bigint * 1000 + n, $1::bigint, 'run', '+1207555' || $1::bigint || lpad(n::text, 3, '0'), 1, '', 'gsm7', 1, 7500, $2::timestamptz, $2::timestamptz, CASE WHEN n <= $3::int THEN 'delivered' ELSE 'not_delivered' END, 0, 1
         FROM generate_series(1, $4::int) AS n`,
        [id, at, delivered, people],
      );
      // everyone who answers does so twice: they are one
      await db.query(
        `INSERT INTO inbound (received_at, number, to_address, body, kind, run_id, applied)
         SELECT $2::timestamptz, '+1207555' || $1::bigint || lpad(n::text, 3, '0'), '72345', 'ok', CASE WHEN n <= $3::int THEN 'reply' ELSE 'stop' END, $1::bigint, true
         FROM generate_series(1, $3::int + $4::int) AS n, generate_series(1, 2)`,
        [id, at, answered, out],
      );
      await db.query(
        `INSERT INTO link (token, run_id, outbound_id, number, address, clicked_at)
         SELECT 'token' || $1::bigint || '-' || n, $1::bigint, $1::bigint * 1000 + n, '+12075550177', 'https://example.org/', CASE WHEN n <= $2::int THEN '2026-12-02T20:00:00Z'::timestamptz END FROM generate_series(1, $3::int) AS n`,
        [id, clicked, linked],
      );
    }
  });
  afterAll(() => desk.close());
  const list = (query = '') => desk.json<List>('GET', `/api/outcomes${query}`);
  const names = async (query: string) => (await list(query)).runs.map(({ name }) => name);

  test('each run with people counted once, the latest first, and what is usual of them', async () => {
    const { runs, total, usual } = await list();
    expect(runs.map((run) => [run.name, run.tally.delivered, run.answers, run.clicked, run.linked, run.opted_out])).toEqual(
      RUNS.map(([name, , , , , delivered, answered, clicked, linked, out]) => [name, delivered, answered, clicked, linked, out]),
    );
    expect(total).toBe(4);
    // the middle of 10/96, 2/98, 8/40 and 1/19
    expect(usual.answers).toBeCloseTo((10 / 96 + 1 / 19) / 2, 10);
    expect(usual.runs).toBe(4);
    // one run with a link says nothing of what is usual
    expect(usual.clicked).toBeNull();
  });

  test('by day where the workspace is, label, list, sender, who sent it, and words as they are typed', async () => {
    // 4:30 AM in London's December is still Nov 30 in New York
    expect(await names('?from=2026-12-01')).toEqual(['Fog']);
    expect(await names('?from=2026-11-30&to=2026-11-30')).toEqual(['Winter']);
    expect(await names('?to=2026-09-01')).toEqual(['Berths']);
    expect(await names('?label=ferry')).toEqual(['Fog', 'Winter']);
    expect(await names('?list=2')).toEqual(['Winter', 'Berths']);
    expect(await names('?account=2')).toEqual(['Berths']);
    expect(await names('?sender=99')).toEqual([]);
    expect(await names('?search=50%25')).toEqual(['Pike: 50% off']);
    expect(await names('?search=WINTER%20words')).toEqual(['Winter']);
    expect(await names('?label=ferry&list=2&from=2026-11-01')).toEqual(['Winter']);
    expect((await list('?skip=3')).runs.map(({ name }) => name)).toEqual(['Berths']);
  });

  test('what there is to narrow by is what has been sent', async () => {
    const which = await desk.json<{ labels: string[]; lists: { name: string }[]; accounts: { id: number }[] }>(
      'GET',
      '/api/outcomes/which',
    );
    expect([which.labels, which.lists.map(({ name }) => name), which.accounts.map(({ id }) => id)]).toEqual([
      ['boathouse', 'ferry', 'juniors'],
      ['Holders', 'Regulars'],
      [1, 2],
    ]);
  });

  test('two to four are compared in the order asked; fewer are not', async () => {
    const ids = async (query: string) =>
      (await desk.json<List>('GET', `/api/outcomes/compare?ids=${query}`)).runs?.map(({ id }) => id);
    expect(await ids('3,1')).toEqual([3, 1]);
    expect((await desk.json('GET', '/api/outcomes/compare?ids=3,3')).status).toBe(404);
    expect((await desk.json('GET', '/api/outcomes/compare?ids=3')).status).toBe(400);
    expect((await desk.json('GET', '/api/outcomes/compare?ids=1,2,3,4,5')).status).toBe(400);
  });

  test('the file has every run with its figures, and no formula', async () => {
    const file = await (await desk.ask('GET', '/api/outcomes.csv?label=juniors', 'look')).text();
    expect(file.split('\r\n')[1]).toContain('Pike: 50% off,juniors,');
    expect(file.split('\r\n')[1]).toContain('finished,40,40,0,0,0,8,0,0,2,40,0.3,');
  });

  test('as a workbook its figures are numbers and its moments are moments, as another library reads them', async () => {
    const file = await (await desk.ask('GET', '/api/outcomes.xlsx?label=juniors', 'look')).arrayBuffer();
    const [headings, first] = XLSX.utils.sheet_to_json<unknown[]>(XLSX.read(file, { cellDates: true }).Sheets.Outcomes, {
      header: 1,
    });
    const of = (heading: string) => first[headings.indexOf(heading)];
    expect(of('when (America/New_York)')).toBeInstanceOf(Date);
    expect([of('people'), of('answered'), of('cost'), of('labels')]).toEqual([40, 8, 0.3, 'juniors']);
  });

  test('a person’s broadcasts in the shares that runs have, beside what is usual of all', async () => {
    const { db } = desk.app;
    await db.query(
      `INSERT INTO person (id, number, zone, created_at, updated_at) VALUES (77, '+12075550177', 'America/New_York', '2026-01-01', '2026-01-01')`,
    );
    const blank = await desk.json<PersonHistory>('GET', '/api/people/77/history');
    expect(blank).toMatchObject({ delivered: 0, answered: 0, answers_after: null, since: null });
    // of Fog and Winter one answered after a minute, the other after three; the link of Winter clicked; Pike not delivered
    for (const [id, run, state, handed, answered] of [
      [9001, 1, 'delivered', '2026-12-02T13:06:00Z', '2026-12-02T13:07:00Z'],
      [9002, 2, 'delivered', '2026-12-02T14:00:00Z', '2026-12-02T14:03:00Z'],
      [9003, 3, 'not_delivered', '2026-12-02T15:00:00Z', null],
      [9004, 4, 'delivered', '2026-12-02T16:00:00Z', null],
    ] as const) {
      await db.query(
        `INSERT INTO outbound (id, run_id, kind, number, person_id, sender_id, body, alphabet, parts, cost_micro, due_at, not_after, state, open, handed_at)
         VALUES ($1, $2, 'run', '+12075550177', 77, 1, '', 'gsm7', 1, 7500, $4::timestamptz, $4::timestamptz, $3, 0, $4::timestamptz)`,
        [id, run, state, handed],
      );
      if (answered !== null)
        await db.query(
          `INSERT INTO inbound (received_at, number, to_address, body, kind, run_id, applied) SELECT $1::timestamptz + n * interval '1 hour', '+12075550177', '72345', 'ok', 'reply', $2, true FROM generate_series(0, 1) AS n`,
          [answered, run],
        );
    }
    await db.query(
      `INSERT INTO link (token, run_id, outbound_id, number, address, clicked_at) VALUES ('token77', 2, 9002, '+12075550177', 'https://example.org/', '2026-12-02T20:00:00Z')`,
    );
    const history = await desk.json<PersonHistory>('GET', '/api/people/77/history');
    expect(history).toMatchObject({ delivered: 3, not_delivered: 1, answered: 2, linked: 1, clicked: 1, answers_after: 120 });
    expect(history.since).toMatch(/^2026-12-02T13:06/);
    expect(history.usual.answers).not.toBeNull();
  });
});

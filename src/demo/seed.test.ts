import { afterAll, beforeAll, describe, expect, inject, test } from 'vitest';
import type { Db } from '../server/db/db';
import { openEmbedded } from '../server/db/embedded';
import { preparedSnapshot } from '../server/db/snapshot';
import { DEMO_START, seedOttermere } from './seed';

let db: Db;
beforeAll(async () => {
  // of its own: it makes an index of Ottermere's, which the tests that share a database are not to find
  db = await openEmbedded({ snapshot: await preparedSnapshot(inject('snapshotFolder'), inject('pgliteVersion')) });
  await seedOttermere(db);
});
afterAll(() => db.close());
const rows = async <T = Record<string, unknown>>(sql: string) => (await db.query<T>(sql)).rows;
const one = async (sql: string) => Number(Object.values((await rows(sql))[0])[0]);

describe('Ottermere has been lived in for a year', () => {
  test('something was sent in each of its months, and whatever a view lists is there', async () => {
    const months = await rows<{ month: string }>(
      `SELECT DISTINCT to_char(due_at AT TIME ZONE 'America/New_York', 'YYYY-MM') AS month FROM run WHERE due_at < '${new Date(DEMO_START).toISOString()}' ORDER BY 1`,
    );
    expect(months.map(({ month }) => month)).toEqual(
      Array.from({ length: 13 }, (_, i) => new Date(Date.UTC(2025, 11 + i, 1)).toISOString().slice(0, 7)),
    );
    for (const what of [
      ...["import WHERE state = 'done'", "import WHERE state = 'undone'", 'keyword', 'sign_up', 'code', 'segment', 'alarm'],
      ...["run_event WHERE what LIKE 'put right by%'", 'prepared_text', 'record', 'tester', 'pass_on', 'dependant'],
      ...["inbound WHERE done_at IS NULL AND kind = 'reply'", "outbound WHERE kind = 'test'", 'link WHERE opens > 0'],
      ...["broadcast WHERE state = 'scheduled'", "broadcast WHERE state = 'draft'"],
    ])
      expect([what, (await one(`SELECT count(*) FROM ${what}`)) > 0]).toEqual([what, true]);
  });

  test('nobody was texted after they had said stop, nor before they came', async () => {
    expect(
      await one(`SELECT count(*) FROM outbound o JOIN suppression s USING (number) WHERE o.kind = 'run' AND o.handed_at > s.at`),
    ).toBe(0);
    expect(
      await one(
        `SELECT count(*) FROM outbound o JOIN person p ON p.id = o.person_id WHERE o.kind = 'run' AND o.handed_at < p.created_at AND o.handed_at < '2026-09-15'`,
      ),
    ).toBe(0);
  });

  test('ids go with time, and what was paid is what the texts cost', async () => {
    expect(
      await one(
        `SELECT count(*) FROM (SELECT due_at, lag(due_at) OVER (ORDER BY id) AS before FROM run WHERE press_id LIKE 'past-%' AND press_id <> 'past-correction') r WHERE due_at < before`,
      ),
    ).toBe(0);
    expect(
      await one(
        `SELECT sum(-amount_micro) - (SELECT sum(cost_micro) FROM outbound WHERE handed_at IS NOT NULL AND kind = 'run') FROM balance_entry WHERE kind = 'spend'`,
      ),
    ).toBe(0);
  });
});

import { describe, expect, test } from 'vitest';
import { iso } from '../../core/clock';
import { emptyDb, ENGINES } from '../db/testing/engines';
import { finish, lease, want } from './job-queries';

const NOW = Date.parse('2026-12-02T15:00:00Z');
const LATER = NOW + 3_600_000;

describe.each(ENGINES)('the table of work, on %s', (engine) => {
  const leased = async () => {
    const db = await emptyDb(engine);
    await want(db, [{ kind: 'end run', key: '1', due: NOW }]);
    const { jobs } = await lease(db, { most: 1, except: [], now: NOW, not: [] });
    const due = async () => (await db.query<{ due_at: string }>(`SELECT due_at FROM job`)).rows.map((row) => row.due_at);
    return { db, job: jobs[0], due };
  };

  test('what the work itself asks for later is due later', async () => {
    const { db, job, due } = await leased();
    await want(db, [{ kind: 'end run', key: '1', due: LATER }]);
    expect(await finish(db, job)).toBe('again');
    expect(await due()).toEqual([iso(LATER)]);
  });

  test.each([
    ['want', `SELECT 1`, [{ kind: 'end run' as const, key: '1', due: NOW + 1 }], NOW + 1],
    ['a trigger', `SELECT job_at_once('end run', '1')`, [], 0],
  ])(
    'asked for meanwhile by another (%s), it is due then, also where the work has looked already and asks for later',
    async (_who, sql, wanted, at) => {
      const { db, job, due } = await leased();
      await db.query(sql);
      await want(db, wanted);
      await want(db, [{ kind: 'end run', key: '1', due: LATER }]);
      expect(await finish(db, job)).toBe('again');
      expect(await due()).toEqual([iso(at)]);
    },
  );
});

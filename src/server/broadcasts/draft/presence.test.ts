import { expect, describe, test } from 'vitest';
import { ENGINES } from '../../db/testing/engines';
import { NOW } from '../../engine/testing/world';
import { beHere, leave } from './presence';
import { world } from '../testing';

describe.each(ENGINES)('who is on a draft, on %s', (engine) => {
  test('others and where they were last; gone when they leave, or are not heard of any more', async () => {
    const { db } = await world(engine);
    await db.query(
      `INSERT INTO account (id, email, name, role, password_hash, created_at)
       SELECT n, n || '@ottermere.example', (ARRAY['Ana', 'Ben', 'Cy'])[n], 'write', 'x', '2026-01-01T00:00:00Z' FROM generate_series(1, 3) AS n`,
    );
    const at = (account: number, tab: string, place: string, now = NOW, broadcast = 1) =>
      beHere(db, { account, tab, place, broadcast, now });
    expect(await at(1, 'tab-ana-1', 'look')).toEqual([]);
    // one's own second sheet is nobody else
    expect(await at(1, 'tab-ana-2', 'to')).toEqual([]);
    expect(await at(2, 'tab-ben-1', 'words')).toEqual([{ name: 'Ana', place: expect.stringMatching(/look|to/) as string }]);
    expect(await at(1, 'tab-ana-1', 'when', NOW + 5000)).toEqual([{ name: 'Ben', place: 'words' }]);
    expect(await at(2, 'tab-ben-1', 'to', NOW + 6000)).toEqual([{ name: 'Ana', place: 'when' }]);
    // a draft that is none keeps nobody
    expect(await at(3, 'tab-cy-01', 'to', NOW + 6000, 99)).toEqual([]);
    await leave(db, 'tab-ben-1');
    expect(await at(1, 'tab-ana-1', 'when', NOW + 7000)).toEqual([]);
    await at(2, 'tab-ben-1', 'to', NOW + 8000);
    expect(await at(3, 'tab-cy-01', 'to', NOW + 27_500)).toEqual([{ name: 'Ben', place: 'to' }]);
    expect((await db.query(`SELECT tab FROM draft_presence ORDER BY tab`)).rows).toEqual([
      { tab: 'tab-ben-1' },
      { tab: 'tab-cy-01' },
    ]);
  });
});

import { describe, expect, test } from 'vitest';
import type { ImportSettings } from '../../../core/api/people/import-settings';
import type { Db } from '../../db/db';
import { emptyDb, ENGINES } from '../../db/testing/engines';
import { Bus } from '../../desk/bus';
import { makeWorkspace, NOW } from '../../engine/testing/world';
import { clock, decideImport, stageRows } from '../testing';
import { rollForward, unfinishedImports } from './bring-in';

const AT = new Date(NOW).toISOString();
const SETTINGS: Partial<ImportSettings> = {
  match: ['number', 'given_name', 'family_name', 'consent', 'tags'],
  list: 'Passes',
  consent_purpose: 'marketing',
};
const stage = (db: Db, rows: string[][]) => stageRows(db, [['Mobile', 'First', 'Last', 'OK', 'Tags'], ...rows], SETTINGS);
const everyone = async (db: Db) => (await db.query(`SELECT given_name, family_name, number FROM person ORDER BY id`)).rows;

describe.each(ENGINES)('bringing in people on %s', (engine) => {
  test('the dry run counts and touches nothing; the decision does what was counted', async () => {
    const db = await emptyDb(engine);
    await makeWorkspace(db);
    await db.query(
      `INSERT INTO person (given_name, number, created_at, updated_at) VALUES ('Ana', '+12075550101', $1::timestamptz, $1::timestamptz)`,
      [AT],
    );
    await db.query(`INSERT INTO suppression (number, at, how) VALUES ('+12075550104', $1::timestamptz, 'texted')`, [AT]);
    const { counts } = await stage(db, [
      ['(207) 555-0101', 'Anna', 'Reyes', 'yes', ''],
      ['1.2075550102E+10', 'Leo', 'Holm', 'no', 'bicycle; dog aboard'],
      ['207-555-0102', 'L.', 'Holm', '', ''],
      ['12075550104.0', 'Mika', 'Dale', 'yes', ''],
      ['1.20755E+10', 'Lost', '', '', ''],
      ['2O7-555-0105', 'Oh', '', '', ''],
      ['', '', '', '', ''],
    ]);
    expect(counts).toMatchObject({
      new: 2,
      changed: 1,
      unchanged: 0,
      twice: 1,
      rejected: 2,
      waiting: 1,
      opted_out: 1,
      consent_no: 1,
    });
    expect(await everyone(db)).toHaveLength(1);
    await decideImport(db, 1);
    await rollForward(db, clock, new Bus(), 1);
    // fill blanks only: the given name stays, the family name comes in
    expect(await everyone(db)).toEqual([
      { given_name: 'Ana', family_name: 'Reyes', number: '+12075550101' },
      { given_name: 'Leo', family_name: 'Holm', number: '+12075550102' },
      { given_name: 'Mika', family_name: 'Dale', number: '+12075550104' },
    ]);
    expect((await db.query(`SELECT act, number, purpose FROM consent_event ORDER BY number`)).rows).toEqual([
      { act: 'granted', number: '+12075550101', purpose: 'marketing' },
      { act: 'withdrawn', number: '+12075550102', purpose: 'marketing' },
      { act: 'granted', number: '+12075550104', purpose: 'marketing' },
    ]);
    expect((await db.query<{ n: number }>(`SELECT count(*) AS n FROM list_member`)).rows[0].n).toBe(3);
    expect((await db.query<{ n: number }>(`SELECT count(*) AS n FROM person_tag`)).rows[0].n).toBe(2);
    // an import cannot bring back a number that said stop
    expect((await db.query(`SELECT number FROM suppression`)).rows).toEqual([{ number: '+12075550104' }]);
  });

  test('cut off between chunks, it goes on and ends whole, nobody twice; again, it changes nothing', async () => {
    const db = await emptyDb(engine);
    await makeWorkspace(db);
    const rows = Array.from({ length: 4500 }, (_, i) => [
      `207-${200 + Math.floor(i / 1000)}-${String(i % 1000).padStart(4, '0')}`,
      `P${i}`,
      'X',
      '',
      '',
    ]);
    await stage(db, rows);
    await decideImport(db, 1);
    // the process dies after the first chunk
    let chunks = 0;
    const dying: Db = {
      ...db,
      lane: () => dying,
      transaction: (work) => ((chunks += 1) > 1 ? Promise.reject(new Error('killed')) : db.transaction(work)),
      query: db.query,
    };
    await expect(rollForward(dying, clock, new Bus(), 1)).rejects.toThrow('killed');
    const half = (await everyone(db)).length;
    expect(half).toBeGreaterThan(0);
    expect(half).toBeLessThan(4500);
    expect(await unfinishedImports(db)).toEqual([1]);
    await rollForward(db, clock, new Bus(), 1);
    expect(new Set((await everyone(db)).map((row) => row.number)).size).toBe(4500);
    expect(await everyone(db)).toHaveLength(4500);
    expect(await unfinishedImports(db)).toEqual([]);
    expect((await stage(db, rows)).counts).toMatchObject({ new: 0, changed: 0, unchanged: 4500 });
  });
});

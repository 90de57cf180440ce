import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { ImportSettings } from '../../../core/api/people/import-settings';
import type { Db } from '../../db/db';
import { emptyDb, ENGINES } from '../../db/testing/engines';
import { makeWorkspace } from '../../engine/testing/world';
import { bringRows, stageRows } from '../testing';
import { rowsOf } from './import-store';

const HEAD = ['Mobile', 'First', 'Last'];
const NUMBER = '207-555-0104';
const ROWS = [HEAD, [NUMBER, 'Luc', 'Roy'], [NUMBER, 'Ines', ''], ['207-555-0105', 'Mia', 'Roy']];

async function world(engine: (typeof ENGINES)[number]): Promise<Db> {
  const db = await emptyDb(engine);
  await makeWorkspace(db);
  await bringRows(db, [HEAD, [NUMBER, 'Ines', 'Tremblay']]);
  return db;
}

const names = async (db: Db) =>
  (
    await db.query<{ name: string }>(
      `SELECT trim(given_name || ' ' || family_name) AS name FROM person WHERE number = '+12075550104' ORDER BY id`,
    )
  ).rows.map((row) => row.name);

describe.each(ENGINES)('a number that somebody has under another name (%s)', (engine) => {
  test('is a line of its own, whose row says who that is; a shorter form of the name is no other', async () => {
    const db = await world(engine);
    const { id, counts } = await stageRows(db, ROWS);
    expect(counts).toMatchObject({
      other_names: 1,
      other_name_examples: [{ row: 1, file: 'Luc Roy', here: 'Ines Tremblay' }],
    });
    const { rows } = await rowsOf(db, id, { after: -1, waiting: false, otherName: true });
    expect(rows.map(({ row_no, other_name }) => [row_no, other_name])).toEqual([[1, 'Ines Tremblay']]);
  });

  test('is the one, or the other, as is said of all or of this row', async () => {
    const db = await world(engine);
    await bringRows(db, ROWS);
    expect(await names(db)).toEqual(['Ines Tremblay']);
    expect((await stageRows(db, ROWS, { shared_rows: { 1: 'by_name' } })).counts).toMatchObject({ other_names: 1, new: 1 });
    await bringRows(db, ROWS, { shared_rows: { 1: 'by_name' } });
    expect(await names(db)).toEqual(['Ines Tremblay', 'Luc Roy']);
    // brought in again, nobody is under another name any more
    expect((await stageRows(db, ROWS)).counts).toMatchObject({ other_names: 0, new: 0 });
  });

  test('stands earlier in the same file, too', async () => {
    const db = await emptyDb(engine);
    await makeWorkspace(db);
    const { counts } = await stageRows(db, [HEAD, [NUMBER, 'Ines', 'Tremblay'], [NUMBER, 'Luc', 'Roy']]);
    expect(counts).toMatchObject({ other_names: 1, twice: 1, new: 1 });
    expect(counts.other_name_examples).toEqual([{ row: 2, file: 'Luc Roy', here: 'Ines Tremblay' }]);
  });

  test('as many come in as were said to, whatever is shared and said of it (property)', async () => {
    const row = fc.record({
      number: fc.constantFrom('0104', '0105', '0106'),
      name: fc.constantFrom('Ann Lee', 'Ann', 'Bo Lee', 'Cy', ''),
    });
    const says = fc.constantFrom<ImportSettings['shared_number']>('one_person', 'by_name');
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.array(row, { minLength: 1, maxLength: 6 }), { minLength: 1, maxLength: 2 }),
        says,
        fc.dictionary(fc.constantFrom('1', '2', '3', '4'), says),
        async (files, shared_number, shared_rows) => {
          const db = await emptyDb(engine);
          await makeWorkspace(db);
          for (const file of files) {
            const rows = [['Mobile', 'Name'], ...file.map(({ number, name }) => [`207-555-${number}`, name])];
            const part = { match: ['number', 'full_name'], shared_number, shared_rows } satisfies Partial<ImportSettings>;
            const people = async () => (await db.query<{ n: number }>(`SELECT count(*)::int AS n FROM person`)).rows[0].n;
            const before = await people();
            const { counts } = await stageRows(db, rows, part);
            await bringRows(db, rows, part);
            expect((await people()) - before).toBe(counts.new);
          }
        },
      ),
      { numRuns: 8, seed: 26 },
    );
  });
});

import { describe, expect, test } from 'vitest';
import { emptyDb, ENGINES } from '../../db/testing/engines';
import { makeWorkspace } from '../../engine/testing/world';
import { bringRows, canonical, decideImport, stageRows, undoImport } from '../testing';

const PART = { match: ['number', 'given_name', 'lists'] };
const ROWS = [
  ['Mobile', 'First', 'Lists'],
  ['207-555-0101', 'Ana', 'berth  holders; Night boat'],
  ['207-555-0102', 'Leo', 'Night boat'],
  ['207-555-0103', 'Noor', ''],
];

describe.each(ENGINES)('lists that a column of the file names, on %s', (engine) => {
  const world = async () => {
    const db = await emptyDb(engine);
    await makeWorkspace(db);
    await bringRows(
      db,
      [
        ['First', 'Mobile'],
        ['Ana', '207-555-0101'],
        ['Gwil', '207-555-0109'],
      ],
      { match: ['given_name', 'number'], list: 'Berth holders' },
    );
    const on = async () =>
      (
        await db.query<{ list: string; given_name: string }>(
          `SELECT list.name AS list, given_name FROM list_member JOIN list ON list.id = list_id JOIN person ON person.id = person_id ORDER BY 1, 2`,
        )
      ).rows.map(({ list, given_name }) => `${list}: ${given_name}`);
    return { db, on };
  };

  test('one that is there under the same letters is that list, others are made; undone, everything is as it was', async () => {
    const { db, on } = await world();
    const before = await canonical(db);
    const id = await bringRows(db, ROWS, PART);
    expect(await on()).toEqual(['Berth holders: Ana', 'Berth holders: Gwil', 'Night boat: Ana', 'Night boat: Leo']);
    await undoImport(db, id);
    expect(await canonical(db)).toEqual(before);
  });

  test('from the decision on they are lists that are being filled, until all is written', async () => {
    const { db } = await world();
    const { id } = await stageRows(db, ROWS, PART);
    await decideImport(db, id);
    const filling = async () =>
      (await db.query<{ name: string }>(`SELECT name FROM list WHERE filling_import = $1 ORDER BY name`, [id])).rows.map(
        ({ name }) => name,
      );
    expect(await filling()).toEqual(['Berth holders', 'Night boat']);
    // another file for one of them waits
    const { id: other } = await stageRows(db, ROWS.slice(0, 2), PART);
    await expect(decideImport(db, other)).rejects.toThrow('Another import is being written into “Berth holders” just now.');
  });

  test('a column that names too many is something else, and nothing is made', async () => {
    const { db, on } = await world();
    const many = Array.from({ length: 101 }, (_, i) => [`207-${300 + Math.floor(i / 100)}-${1000 + i}`, 'X', `note ${i}`]);
    const { id } = await stageRows(db, [['Mobile', 'First', 'Remark'], ...many], PART);
    await db.query(`UPDATE import SET facts = '{"headings": ["Mobile", "First", "Remark"], "notes": []}' WHERE id = $1`, [id]);
    await expect(decideImport(db, id)).rejects.toThrow('“Remark” names more than 100 lists. Is it something else?');
    expect(await on()).toEqual(['Berth holders: Ana', 'Berth holders: Gwil']);
  });
});

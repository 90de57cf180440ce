import { describe, expect, test } from 'vitest';
import { emptyDb, ENGINES } from '../../db/testing/engines';
import { Bus } from '../../desk/bus';
import { makeWorkspace } from '../../engine/testing/world';
import { rollForward } from './bring-in';
import { eraseFromFiles } from '../person/erase-files';
import { keepRows, nextRows } from './file-rows';
import { rowsReadHere } from './row-thread';
import { clock, decideImport, stageRows } from '../testing';

describe.each(ENGINES)('the rows of files on %s', (engine) => {
  test('come in pieces by number and by what they hold; one at least, however much that is', async () => {
    const db = await emptyDb(engine);
    const large = 'x'.repeat(450_000);
    await keepRows(
      db,
      7,
      Array.from({ length: 9 }, (_, no) => ({ no, cells: no === 4 ? [large, large, large] : no > 5 ? [large] : ['a'] })),
    );
    const pieces: number[][] = [];
    for (let after = -1; ;) {
      const rows = await nextRows(db, 7, { after }, 3);
      if (rows.length === 0) break;
      pieces.push(rows.map((row) => row.row_no));
      after = rows[rows.length - 1].row_no;
    }
    expect(pieces.flat()).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8]);
    expect(Math.max(...pieces.map((piece) => piece.length))).toBe(3);
    // behind the row of 1.35 million characters nothing more is taken
    expect(pieces.slice(1)).toEqual([[3, 4], [5, 6, 7], [8]]);
    expect((await nextRows(db, 7, { after: 1, last: 3 }, 100)).map((row) => row.row_no)).toEqual([2, 3]);
  });

  test('what no text may hold is left out when they are put down', async () => {
    const db = await emptyDb(engine);
    await keepRows(db, 8, [{ no: 0, cells: ['a\0b', 'half \ud83d', 'whole'] }]);
    expect((await nextRows(db, 8, { after: -1 }, 10))[0].cells).toEqual(['ab', 'half \ufffd', 'whole']);
  });

  test('someone who is erased between the reading of their row and its writing does not come in', async () => {
    const db = await emptyDb(engine);
    await makeWorkspace(db);
    const { id } = await stageRows(db, [
      ['Mobile', 'First', 'Last'],
      ['207-555-0142', 'Jo', 'Reyes'],
      ['207-555-0143', 'Ana', 'Reyes'],
    ]);
    await decideImport(db, id);
    const here = rowsReadHere();
    await rollForward(db, clock, new Bus(), id, {
      ...here,
      read: async (rules, rows) => {
        const read = await here.read(rules, rows);
        await eraseFromFiles(db, { person_id: 0, number: '+12075550142', at: '9999-01-01T00:00:00Z' });
        return read;
      },
    });
    const { rows } = await db.query<{ given_name: string }>(`SELECT given_name FROM person`);
    expect(rows.map((row) => row.given_name)).toEqual(['Ana']);
    // and the import says that one less came in than was said
    const done = (await db.query<{ facts: { differs: unknown } }>(`SELECT facts FROM import WHERE id = $1`, [id])).rows[0];
    expect(done.facts.differs).toEqual({ said: 2, wrote: 1 });
  });
});

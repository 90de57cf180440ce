import { afterEach, expect, test } from 'vitest';
import { readerWith, readRows, type FileRow, type RowRules } from '../../../core/people/read-rows';
import { RowThread } from './row-thread';
import { PLAIN_SETTINGS } from '../testing';

const rules = (match: string[]): RowRules => ({
  settings: { ...PLAIN_SETTINGS, match },
  types: new Map([['since', 'date']]),
  dependantTypes: new Map(),
});
const ROWS: FileRow[] = [
  { row_no: 0, cells: ['207-555-0142', 'Marisol', '3/9/2027'] },
  { row_no: 1, cells: ['', ' ', ''] },
  { row_no: 2, cells: ['call me', 'Henrik', ''] },
  { row_no: 3, cells: ['207-555-0163', 'Inès', 'STOP'] },
];
let thread: RowThread | undefined;
afterEach(async () => {
  await thread?.end();
  thread = undefined;
});

test('a batch reads in the thread as it does here; each time by its own rules', async () => {
  thread = new RowThread();
  const [some, others] = [rules(['number', 'given_name', 'field:since']), rules(['skip', 'given_name', 'skip'])];
  const here = [readRows(readerWith(some), ROWS), readRows(readerWith(others), ROWS), readRows(readerWith(some), ROWS)];
  const there = await Promise.all([thread.read(some, ROWS), thread.read(others, ROWS), thread.read(some, ROWS)]);
  expect(there).toEqual(here);
  expect(there[0].rows.map((row) => row.no)).toEqual([0, 2, 3]);
  expect(there[0].ambiguousDays).toBe(1);
  expect(there[0].stops).toEqual([{ column: 2, row: 3, cell: 'STOP' }]);
});

test('a thread that is silent for too long is ended with a sentence, and the next batch has a new one', async () => {
  const some = rules(['number', 'given_name', 'skip']);
  thread = new RowThread(0);
  await expect(thread.read(some, ROWS)).rejects.toThrow('Reading 4 rows took more than 0 seconds.');
  const patient = new RowThread();
  try {
    await patient.read(some, ROWS);
    await patient.end();
    // what was ended is started again, and is told the rules again
    expect((await patient.read(some, ROWS)).rows).toHaveLength(3);
  } finally {
    await patient.end();
  }
});

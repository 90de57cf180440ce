import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { GivenUp, Reading } from './reading-thread';
import { spreadsheet } from './testing';

let folder: string;
beforeAll(() => (folder = mkdtempSync(join(tmpdir(), 'bell-reading-'))));
afterAll(() => rmSync(folder, { recursive: true }));

function begin(content: string | Uint8Array, options: { pasted?: boolean; patience?: number } = {}): Reading {
  const path = join(folder, 'file');
  writeFileSync(path, content);
  return new Reading({ path, pasted: options.pasted ?? false, options: {} }, options.patience);
}
async function all(reading: Reading) {
  const { notes, ...facts } = await reading.facts();
  const rows: string[][] = [];
  for await (const batch of reading.rows(notes)) rows.push(...batch.map((row) => row.cells));
  await reading.end();
  return { facts, rows, notes };
}

describe('a reading in a thread of its own', () => {
  test('gives what the file says, and what was noticed', async () => {
    const { facts, rows, notes } = await all(begin(`Mobile;Name\n2075550142;${'x'.repeat(40_000)}\n`));
    expect(facts).toMatchObject({ format: 'delimited', delimiter: ';', encoding: 'utf-8' });
    expect(rows[1][1]).toHaveLength(32_767);
    expect(notes).toEqual(['One cell holds more than 32,767 characters and was cut there.']);
  });

  test('pasted numbers are one a row', async () => {
    const { rows } = await all(begin('207-555-0142, 207-555-0143', { pasted: true }));
    expect(rows).toEqual([['207-555-0142'], ['207-555-0143']]);
  });

  test('a refusal comes through with its place', async () => {
    const reading = begin('a,b\n1,"2');
    await reading.facts();
    await expect(reading.rows([]).next()).rejects.toMatchObject({ name: 'UnreadableFile', place: 'row 2' });
  });

  test('can be given up while it reads', async () => {
    const reading = begin(Array.from({ length: 40_000 }, (_, i) => `207555${i},Jo`).join('\n'));
    await reading.facts();
    const rows = reading.rows([]);
    await rows.next();
    await reading.end();
    await expect(rows.next()).rejects.toBeInstanceOf(GivenUp);
  });

  test('what says nothing for too long is ended, with a sentence', async () => {
    // no thread starts within a millisecond
    await expect(begin('a,b\n', { patience: 1 }).facts()).rejects.toThrow('The file takes too long to read; it was given up.');
  });

  test('hundreds of thousands of rows out of a kilobyte end at a budget, and never stop this thread', async () => {
    const row =
      '<table:table-row table:number-rows-repeated="1999"><table:table-cell table:number-columns-repeated="199" office:value-type="string"><text:p>x</text:p></table:table-cell></table:table-row>';
    const reading = begin(spreadsheet(row.repeat(300)));
    await expect(all(reading)).rejects.toThrow(/more than 40 million cells|MB of memory/);
    await reading.end();
  });
});

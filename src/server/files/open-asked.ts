import { readFileSync } from 'node:fs';
import { numberList } from '../../core/phone/number-list';
import { openPasted } from './delimited';
import { openTable } from './open-table';
import type { ReadingAsked } from './reading-thread';
import type { OpenTable } from './table';

/** Opens what a reading is asked for: a file, or pasted text, which may be nothing but numbers. */
export async function openAsked(asked: ReadingAsked): Promise<OpenTable> {
  if (!asked.pasted) return openTable(asked.path, asked.options);
  const text = readFileSync(asked.path, 'utf8');
  const { delimiter } = asked.options;
  const numbers = delimiter === undefined ? numberList(text) : undefined;
  if (!numbers) return openPasted(text, delimiter);
  const rows = numbers.map((number, no) => ({ no, cells: [number] }));
  return {
    format: 'delimited',
    encoding: undefined,
    delimiter: '',
    sheets: [],
    sheet: undefined,
    notes: [],
    rows: async function* () {
      for (let from = 0; from < rows.length; from += 4000) yield rows.slice(from, from + 4000);
    },
  };
}

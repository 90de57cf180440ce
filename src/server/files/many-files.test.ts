import { expect, test } from 'vitest';
import { guessHeadingRow, guessMatch } from '../../core/people/match';
import { OFFERED_FIXES, SAFE_FIXES } from '../../core/people/mend-number';
import { prepareRow, type PrepareRules } from '../../core/people/prepare';
import { CELLS, CONTAINERS } from './many-files';
import { readWhole } from './testing';

const HEADINGS = ['First name', 'Mobile'];
const rowsWith = (cell: string) => [HEADINGS, ['Good', '+1 207 555 0198'], ['Test', cell], ['Also', '+1 207 555 0199']];

/** What comes in by each row: its number, `asks`, or `no`. */
async function said(content: Uint8Array | string, country: string): Promise<[string, string][]> {
  const { rows } = await readWhole(content);
  const at = guessHeadingRow(rows, country);
  const match = guessMatch(rows[at] ?? [], rows.slice(at + 1), { person: new Set(), dependant: new Set() }, country);
  expect(match).toEqual(['given_name', 'number']);
  const read = (cells: string[], fixes: PrepareRules['fixes']) =>
    prepareRow(cells, {
      match,
      country,
      fixes,
      twoNumbers: 'first',
      dayFirst: false,
      types: new Map(),
      dependantTypes: new Map(),
    });
  return rows.slice(at + 1).map((cells): [string, string] => {
    const safe = read(cells, new Set(SAFE_FIXES));
    if (safe.ok) return [safe.row.person.given_name, safe.row.person.number ?? 'none'];
    const offered = read(cells, new Set([...SAFE_FIXES, ...OFFERED_FIXES]));
    return [cells[0], offered.ok ? 'asks' : 'no'];
  });
}

let files = 0;
test.each(CONTAINERS)('every phone cell says the same in %s', async (_name, make) => {
  for (const [cell, country, says] of CELLS) {
    const content = await make(rowsWith(cell));
    if (content === undefined) continue;
    files += 1;
    expect(await said(content, country), JSON.stringify(cell.slice(0, 60))).toEqual([
      ['Good', '+12075550198'],
      ['Test', says],
      ['Also', '+12075550199'],
    ]);
  }
});

test('they are at least three hundred', () => {
  expect(files).toBeGreaterThanOrEqual(300);
});

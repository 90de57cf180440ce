import { expect, test } from 'vitest';
import { wrongWith } from './check-house.mjs';

const FILES = ['README.md', 'docs/house.md', 'src/core/plan/make.ts', 'src/core/plan/times/pace.test.ts'];
const house = (pages: Record<string, string>, files: readonly string[] = FILES) => wrongWith(files, (file) => pages[file] ?? '');

test('what is named is there, by any end of its path, with or without its ending', () => {
  expect(
    house({ 'README.md': '`core/plan/make`, `plan/make.ts`, `plan/times`, `times/pace`, and `once` or `npm test`' }),
  ).toEqual([]);
});

test('a page that leads nowhere', () => {
  expect(house({ 'docs/house.md': 'see `plan/mace`' })).toEqual(['docs/house.md names plan/mace, which is not there.']);
});

test('a folder that should be several rooms; tests beside do not count', () => {
  const many = Array.from({ length: 26 }, (_, i) => `src/core/big/file${i}.ts`);
  expect(house({}, [...FILES, ...many])).toEqual(['src/core/big has 26 files side by side; give it inner rooms.']);
  expect(house({}, [...FILES, ...many.slice(1), 'src/core/big/file1.test.ts'])).toEqual([]);
});

test('a page of the whole that is more than one', () => {
  expect(house({ 'docs/house.md': 'word '.repeat(1201) })).toEqual(['docs/house.md has 1201 words; 1200 are a page.']);
});

test('SQL that reads the clock; what is said beside it does not count', () => {
  const files = [...FILES, 'src/server/db/functions/due.sql'];
  expect(house({ 'src/server/db/functions/due.sql': 'SELECT at < now()' }, files)).toEqual([
    'src/server/db/functions/due.sql reads the clock; times are parameters.',
  ]);
  expect(house({ 'src/server/db/functions/due.sql': '-- never now()\nSELECT at < $1' }, files)).toEqual([]);
});

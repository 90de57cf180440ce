import { describe, expect, test } from 'vitest';
import type { ImportSettings } from '../../../core/api/people/import-settings';
import type { Sources } from '../sources';
import { matched, targetsFor } from './matching';

const settings = (part: Partial<ImportSettings> = {}) =>
  ({ match: ['number', 'skip', 'skip'], new_fields: {}, ...part }) as ImportSettings;
const sources = {
  fields: [
    { slug: 'home_landing', label: 'home landing', about: 'person' },
    { slug: 'class', label: 'class', about: 'dependant' },
  ],
} as unknown as Sources;
const HEADINGS = ['Mobile', 'Berth', 'Home landing'];
const keys = (heading: string, part: Partial<ImportSettings> = {}) =>
  targetsFor(heading, settings(part), sources).map(([key]) => key);

describe('what a column can feed', () => {
  test('the fields that are there, and one of its own name in every type', () => {
    const berth = keys('Berth');
    expect(berth).toContain('field:home_landing');
    expect(berth).toContain('dependant:field:class');
    expect(berth).toContain('new:field:berth:date');
    expect(berth).toContain('new:dependant:field:berth:text');
  });

  test('a field that has its name already is not made once more', () => {
    expect(keys('Home landing').some((key) => key.startsWith('new:field:home_landing'))).toBe(false);
    expect(keys('Class').some((key) => key.startsWith('new:dependant:field:class'))).toBe(false);
    const made = keys('Berth', { new_fields: { 'field:berth': { label: 'Berth', type: 'text' } } });
    expect(made).toContain('field:berth');
    expect(made.some((key) => key.startsWith('new:field:berth'))).toBe(false);
  });
});

describe('a column is fed to what was chosen', () => {
  test('what is fed once is taken from the column that fed it; what may be fed by several is not', () => {
    expect(matched(1, 'number', HEADINGS, settings()).match).toEqual(['skip', 'number', 'skip']);
    const tags = settings({ match: ['tags', 'skip', 'skip'] });
    expect(matched(2, 'tags', HEADINGS, tags).match).toEqual(['tags', 'skip', 'tags']);
  });

  test('a field that is to be made has the heading for its name and the type that was said', () => {
    const made = matched(1, 'new:field:berth:number', HEADINGS, settings());
    expect(made).toEqual({
      match: ['number', 'field:berth', 'skip'],
      new_fields: { 'field:berth': { label: 'Berth', type: 'number' } },
    });
  });

  test('a column beyond those that were matched is left out, not guessed', () => {
    expect(matched(0, 'skip', HEADINGS, settings({ match: [] })).match).toEqual(['skip', 'skip', 'skip']);
  });
});

import { describe, expect, test } from 'vitest';
import { fold, searchText, sortName } from './fold';
import { guessHeadingRow, guessMatch } from './match';
import { slugOf } from './targets';
import { prepareRow, SAFE_FIXES, type PrepareRules } from './prepare';

const rules: PrepareRules = {
  match: ['number', 'given_name', 'family_name', 'field:home_landing', 'language', 'consent'],
  country: 'US',
  fixes: new Set(SAFE_FIXES),
  languages: ['en', 'fr', 'es'],
};

describe('matching columns', () => {
  test('headings as people write them', () => {
    const sample = [['(207) 555-0142', 'Marisol', 'Okafor', 'North Landing', 'en', 'yes']];
    expect(
      guessMatch(
        ['Mobile no.', 'First', 'Surname', 'Home landing', 'Lang', 'OK to text?'],
        sample,
        new Set(['home_landing']),
        'US',
      ),
    ).toEqual(rules.match);
  });
  test('a number column is found by its cells when the heading does not say', () => {
    expect(
      guessMatch(
        ['A', 'B'],
        [
          ['Ana', '207-555-0142'],
          ['Leo', '2.0755501E+9'],
        ],
        new Set(),
        'US',
      ),
    ).toEqual(['skip', 'number']);
    expect(
      guessMatch(
        ['Phone?', 'B'],
        [
          ['yes', '207-555-0142'],
          ['no', '207-555-0143'],
        ],
        new Set(),
        'US',
      ),
    ).toEqual(['skip', 'number']);
  });
  test('where the headings are', () => {
    expect(
      guessHeadingRow(
        [
          ['Summer passes', '', ''],
          ['', '', ''],
          ['Mobile', 'First', 'Last'],
          ['207-555-0142', 'Ana', 'B'],
        ],
        'US',
      ),
    ).toBe(2);
    expect(guessHeadingRow([['207-555-0142', 'Ana']], 'US')).toBe(-1);
    expect(slugOf('Pass ends (2026)')).toBe('pass_ends_2026');
  });
});

describe('preparing rows', () => {
  test('a whole row', () => {
    const read = prepareRow(['12075550117.0', ' Henrik ', 'Aalto', 'Mill Quay', 'English', 'yes'], rules);
    expect(read).toMatchObject({
      ok: true,
      person: {
        given_name: 'Henrik',
        number: '+12075550117',
        language: 'en',
        zone: 'America/New_York',
        zone_guessed: true,
        fields: { home_landing: 'Mill Quay' },
        consent: 'granted',
      },
      fix: { kind: 'trailing_zero', before: '12075550117.0', after: '+12075550117' },
    });
  });
  test('an unapplied fix keeps the row out; lost digits are never guessed', () => {
    expect(prepareRow(['2O7-555-O142', 'A'], rules)).toMatchObject({
      ok: false,
      reason: 'waits for your fix: Letters for digits',
      fix: { after: '+12075550142' },
    });
    expect(prepareRow(['2O7-555-O142', 'A'], { ...rules, fixes: new Set(['letters']) })).toMatchObject({
      ok: true,
      person: { number: '+12075550142' },
    });
    expect(prepareRow(['1.20756E+10', 'A'], { ...rules, fixes: new Set(['scientific', 'digits_lost']) })).toMatchObject({
      ok: false,
      reason: 'digits lost for good',
    });
    expect(prepareRow(['1.2075550142E+10', 'A'], { ...rules, fixes: new Set() })).toMatchObject({
      ok: false,
      reason: 'waits for your fix: Shown as 1.2E+10',
    });
  });
  test('no number: comes in with a name, not without', () => {
    expect(prepareRow(['', 'Emil'], rules)).toMatchObject({ ok: true, person: { number: null } });
    expect(prepareRow(['', '', ''], rules)).toMatchObject({ ok: false });
  });
});

test('folding', () => {
  expect(fold('  Sørensen  ÉLODIE ')).toBe('sorensen elodie');
  expect(searchText({ given_name: 'Inès', family_name: 'Tremblay', number: '+15145550163' })).toBe(
    'ines tremblay | +15145550163',
  );
  expect(sortName({ given_name: '', family_name: '' }) > sortName({ given_name: 'z', family_name: 'z' })).toBe(true);
});

import { describe, expect, test } from 'vitest';
import { searchText, sortName } from './found-by';
import { fold } from '../text/fold';
import { bornOf, dayOf, yearsBetween } from './day';
import { guessHeadingRow, guessMatch } from './match';
import { slugOf } from './targets';
import { SAFE_FIXES } from './mend-number';
import { prepareRow, type PrepareRules } from './prepare';

const rules: PrepareRules = {
  match: ['number', 'given_name', 'family_name', 'field:home_landing', 'language', 'consent'],
  country: 'US',
  fixes: new Set(SAFE_FIXES),
  twoNumbers: 'first',
  dayFirst: false,
  types: new Map([
    ['home_landing', 'text'],
    ['pass_ends', 'date'],
    ['crew', 'number'],
  ]),
  dependantTypes: new Map([['class', 'choice']]),
};

describe('matching columns', () => {
  test('headings as people write them', () => {
    const sample = [['(207) 555-0142', 'Marisol', 'Okafor', 'North Landing', 'en', 'yes']];
    expect(
      guessMatch(
        ['Mobile no.', 'First', 'Surname', 'Home landing', 'Lang', 'OK to text?'],
        sample,
        { person: new Set(['home_landing']), dependant: new Set() },
        'US',
      ),
    ).toEqual(rules.match);
  });
  test('other numbers of a card are a second phone of the same person, several columns of them one after the other', () => {
    const nobody = { person: new Set<string>(), dependant: new Set<string>() };
    expect(guessMatch(['Mobile', 'Other numbers'], [['207-555-0142', '207-555-0150 / 207-555-0151']], nobody, 'US')).toEqual([
      'number',
      'second_phone',
    ]);
    // whose it is, is said: a number of somebody else's
    expect(guessMatch(['Mobile', 'Other parent mobile'], [['207-555-0142', '207-555-0150']], nobody, 'US')[1]).toBe(
      'second:number',
    );
    const read = prepareRow(['207-555-0142', '207-555-0150 / desk 4', '(207) 555-0150, 2075550160'], {
      ...rules,
      match: ['number', 'second_phone', 'second_phone'],
    });
    expect(read.ok && read.row.person.fields).toEqual({ second_phone: '+12075550150, desk 4, +12075550160' });
    expect(read.ok && read.row.second).toBeUndefined();
  });
  test('a number column is found by its cells when the heading does not say', () => {
    expect(
      guessMatch(
        ['A', 'B'],
        [
          ['Ana', '207-555-0142'],
          ['Leo', '2.0755501E+9'],
        ],
        { person: new Set(), dependant: new Set() },
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
        { person: new Set(), dependant: new Set() },
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
      row: {
        person: {
          given_name: 'Henrik',
          number: '+12075550117',
          language: 'en',
          zone: 'America/New_York',
          zone_guessed: true,
          fields: { home_landing: 'Mill Quay' },
          consent: 'granted',
        },
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
      row: { person: { number: '+12075550142' } },
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
    expect(prepareRow(['', 'Emil'], rules)).toMatchObject({ ok: true, row: { person: { number: null } } });
    expect(prepareRow(['', '', ''], rules)).toMatchObject({ ok: false });
  });
});

describe('what people write in cells', () => {
  const read = (match: PrepareRules['match'], cells: string[], more: Partial<PrepareRules> = {}) =>
    prepareRow(cells, { ...rules, match, ...more });
  test('days, numbers and yes or no in their types; what does not read comes in empty and is said', () => {
    expect(read(['number', 'field:pass_ends', 'field:crew'], ['207-555-0142', '3/9/2027', '1,250.5'])).toMatchObject({
      ok: true,
      row: { person: { fields: { pass_ends: '2027-03-09', crew: '1250.5' } } },
      blanks: [],
    });
    expect(read(['number', 'field:pass_ends'], ['207-555-0142', '3/9/2027'], { dayFirst: true })).toMatchObject({
      row: { person: { fields: { pass_ends: '2027-09-03' } } },
    });
    const odd = read(
      ['number', 'field:pass_ends', 'language', 'zone', 'consent'],
      ['207-555-0142', 'soon', 'Klingon', 'Mars', 'maybe'],
    );
    expect(odd).toMatchObject({
      ok: true,
      row: { person: { fields: {}, language: null, consent: null } },
      blanks: ['pass ends: soon', 'language: Klingon', 'time zone: Mars', 'consent: maybe'],
    });
  });
  test('a plus or a leading zero that was lost is offered, never taken silently; two ways to read are none', () => {
    expect(read(['number'], ['442079460123'])).toMatchObject({
      ok: false,
      reason: 'waits for your fix: The plus is gone',
      fix: { kind: 'lost_plus', after: '+442079460123' },
    });
    expect(read(['number'], ['442079460123'], { fixes: new Set(['lost_plus']) })).toMatchObject({
      row: { person: { number: '+442079460123', number_kind: 'fixed' } },
    });
    // Italian fixed lines keep their zero (ITU national numbering plan of Italy, as libphonenumber has it)
    expect(read(['number'], ['236618300'], { country: 'IT' })).toMatchObject({
      ok: false,
      fix: { kind: 'lost_zero', after: '+390236618300' },
    });
    expect(read(['number'], ['1234567'])).toMatchObject({ ok: false });
  });
  test('of two numbers the one chosen is texted and the other kept', () => {
    const two = ['218 555 0131 / 218 555 0156'];
    expect(read(['number'], two, { fixes: new Set(['two_numbers']) })).toMatchObject({
      row: { person: { number: '+12185550131', fields: { second_phone: '218 555 0156' } } },
    });
    expect(read(['number'], two, { fixes: new Set(['two_numbers']), twoNumbers: 'last' })).toMatchObject({
      row: { person: { number: '+12185550156', fields: { second_phone: '218 555 0131' } } },
    });
  });
  test('a child with two parents in a row', () => {
    expect(
      read(
        [
          'dependant:given_name',
          'dependant:family_name',
          'dependant:field:class',
          'full_name',
          'number',
          'second:full_name',
          'second:number',
        ],
        ['Noor', 'Haddad', 'Pike', 'Adaeze Haddad', '207-555-0142', 'Haddad, Sami', '207-555-0143'],
      ),
    ).toMatchObject({
      ok: true,
      row: {
        person: { given_name: 'Adaeze', family_name: 'Haddad', number: '+12075550142' },
        second: { given_name: 'Sami', family_name: 'Haddad', number: '+12075550143' },
        dependant: { given_name: 'Noor', family_name: 'Haddad', fields: { class: 'Pike' } },
      },
    });
    expect(read(['given_name', 'number', 'second:number'], ['Ana', '207-555-0142', '12'])).toMatchObject({
      ok: true,
      blanks: ['second contact’s number: 12'],
    });
  });
  test('the kind of line from a column, where the numbering plan does not tell', () => {
    expect(read(['number', 'kind'], ['207-555-0142', 'Landline'])).toMatchObject({
      row: { person: { number_kind: 'fixed', kind_source: 'file' } },
    });
    expect(read(['number', 'kind'], ['+44 20 7946 0123', 'mobile'])).toMatchObject({
      row: { person: { number_kind: 'fixed', kind_source: null } },
      blanks: ['kind of line: the number is fixed'],
    });
  });
  test('nothing hidden travels: control, bidi and half characters', () => {
    const row = read(
      ['number', 'given_name', 'field:home_landing'],
      ['207-555-0142', 'A\u202en\u0007a', `x\ud83d ${'y'.repeat(600)}`],
    );
    expect(row).toMatchObject({ ok: true, row: { person: { given_name: 'A n a' } } });
    if (row.ok) expect(row.row.person.fields.home_landing.length).toBeLessThanOrEqual(500);
    expect(row.blanks.join()).toContain('longer than 500');
  });
  test('headings of families and of our own starter file', () => {
    expect(
      guessMatch(
        [
          'Junior',
          'Class',
          'Parent',
          'Mobile',
          'Second parent',
          'Second parent mobile',
          'why it did not come in',
          'Own reference',
        ],
        [],
        { person: new Set(), dependant: new Set(['class']) },
        'US',
      ),
    ).toEqual([
      'dependant:full_name',
      'dependant:field:class',
      'full_name',
      'number',
      'second:full_name',
      'second:number',
      'skip',
      'reference',
    ]);
  });
});

// days as people write them; ISO 8601 and the orders of English, French and Spanish (common practice)
describe('days', () => {
  test.each([
    ['2027-03-09', false, '2027-03-09'],
    ['2027-03-09 00:00:00', false, '2027-03-09'],
    ['09.03.2027', true, '2027-03-09'],
    ['9 mars 2027', false, '2027-03-09'],
    ['9 de marzo de 2027', false, '2027-03-09'],
    ['Mar 9, 2027', false, '2027-03-09'],
    ['29 Feb 2027', false, undefined],
    ['31/12/26', true, '2026-12-31'],
    ['13/13/2026', true, undefined],
    ['tomorrow', false, undefined],
  ])('%s', (text, dayFirst, day) => expect(dayOf(text, dayFirst)).toBe(day));
  test('a birthday is reached on the day', () => {
    expect(yearsBetween('2008-12-02', '2026-12-01')).toBe(17);
    expect(yearsBetween('2008-12-02', '2026-12-02')).toBe(18);
    expect(yearsBetween('2008-02-29', '2026-02-28')).toBe(18 - 1);
  });
});

test('folding', () => {
  expect(fold('  Sørensen  ÉLODIE ')).toBe('sorensen elodie');
  expect(searchText({ given_name: 'Inès', family_name: 'Tremblay', number: '+15145550163' })).toBe(
    'ines tremblay | +15145550163',
  );
  expect(sortName({ given_name: '', family_name: '' }) > sortName({ given_name: 'z', family_name: 'z' })).toBe(true);
});

test('a birth date is never in the future, and a century that could be two is asked', () => {
  const born = (text: string, century?: '19' | '20') => bornOf(text, false, '2026-12-02', century);
  expect(born('3/9/58')).toBe('1958-03-09');
  expect(born('3/9/12')).toBe('two');
  expect(born('3/9/12', '20')).toBe('2012-03-09');
  expect(born('3/9/12', '19')).toBe('1912-03-09');
  expect(born('12/3/26')).toBe('1926-12-03');
  expect(born('12/1/26')).toBe('two');
  expect(born('2031-01-01')).toBeUndefined();
  expect(born('3/9/1958')).toBe('1958-03-09');
});

import fc from 'fast-check';
import { Temporal } from 'temporal-polyfill';
import { describe, expect, test, vi } from 'vitest';
import { measure, MOST_PARTS } from '../text/measure';
import { compileText, MOST_WRITTEN, type FieldType } from './compile';
import { formatDay, patternProblem } from './date-pattern';
import type { Move } from './moved-day';
import { fieldSource, parseText } from './syntax';

const known = new Map<string, FieldType>([
  ['given_name', 'text'],
  ['renewal_date', 'date'],
  ['send_date', 'date'],
  ['home_landing', 'choice'],
]);
const render = (source: string, values: Record<string, string>, language = 'en', links: string[] = []) =>
  compileText(source, known, new Set(links)).render((name) => values[name], language);

describe('merge fields', () => {
  test('fields, fallbacks, dates, links, a literal brace', () => {
    expect(render('{given_name or "neighbor"}: ok', { given_name: 'Ana' }).text).toBe('Ana: ok');
    expect(render('{given_name or "neighbor"}: ok', {})).toMatchObject({
      text: 'Neighbor: ok',
      fell: ['given_name'],
      missing: [],
    });
    expect(render('{given_name}: ok', { given_name: '  ' })).toMatchObject({ text: ': ok', fell: [], missing: ['given_name'] });
    expect(render('{renewal_date as "d MMMM"}', { renewal_date: '2026-08-05' }, 'fr').text).toBe('5 août');
    expect(render('{send_date + 7 days as "EEE, MMM d"}', { send_date: '2026-12-28' }).text).toBe('Mon, Jan 4');
    expect(render('{link timetable} {{x}', { 'link timetable': 'ottr.example/k7' }, 'en', ['timetable']).text).toBe(
      'ottr.example/k7 {x}',
    );
  });

  test('dates that move: days, weeks, months on and back, the next such weekday', () => {
    const day = (source: string, send_date: string) => render(source, { send_date }).text;
    expect(day('{send_date - 1 day as "yyyy-MM-dd"}', '2026-03-01')).toBe('2026-02-28');
    expect(day('{send_date + 2 weeks as "yyyy-MM-dd"}', '2026-12-28')).toBe('2027-01-11');
    // the last day of a shorter month, as calendars do (Temporal's "constrain")
    expect(day('{send_date + 1 month as "yyyy-MM-dd"}', '2026-01-31')).toBe('2026-02-28');
    expect(day('{send_date - 3 months as "yyyy-MM-dd"}', '2026-05-31')).toBe('2026-02-28');
    // Wed, Dec 2, 2026: the next Friday is the 4th, the next Wednesday a week later
    expect(day('{send_date next friday as "EEE d"}', '2026-12-02')).toBe('Fri 4');
    expect(day('{send_date next wednesday as "EEE d"}', '2026-12-02')).toBe('Wed 9');
    expect(day('{renewal_date - 1 week or "soon"}', '2026-12-02')).toBe('Soon');
    expect(compileText('{given_name next friday}', known).problems[0].message).toBe('“given_name” is not a date.');
  });

  test('a field is read again as it was written', () => {
    const move = fc.oneof(
      fc.record({
        by: fc.integer({ min: -999, max: 999 }).filter((by) => by !== 0),
        unit: fc.constantFrom('day', 'week', 'month'),
      }),
      fc.record({ next: fc.integer({ min: 1, max: 7 }) }),
    ) as fc.Arbitrary<Move>;
    fc.assert(
      fc.property(
        fc.option(move, { nil: undefined }),
        fc.option(fc.constantFrom('d MMMM', 'EEE, MMM d'), { nil: undefined }),
        fc.option(fc.string(), { nil: undefined }),
        (moved, pattern, fallback) => {
          const source = fieldSource({ name: 'send_date', move: moved, pattern, fallback });
          const { nodes, problems } = parseText(source);
          expect(problems).toEqual([]);
          const safe = fallback?.replace(/["{}\n]/g, '');
          expect(nodes).toEqual([
            { kind: 'field', name: 'send_date', move: moved, pattern, fallback: safe, from: 0, to: source.length },
          ]);
        },
      ),
    );
  });

  test('what must be fixed, with its place', () => {
    const problems = (source: string) => compileText(source, known).problems.map(({ from, to, message }) => [from, to, message]);
    expect(problems('Hi {nick_name}')).toEqual([[3, 14, 'There is no field “nick_name”.']]);
    expect(problems('Hi {Given Name}')).toEqual([
      [3, 15, '“{Given Name}” is not a placeholder we can read. Write {{ for a brace.'],
    ]);
    expect(problems('Hi {given_name')).toEqual([[3, 4, 'A { without its }. Write {{ for a brace.']]);
    expect(problems('{given_name as "d"}')[0][2]).toBe('“given_name” is not a date.');
    expect(problems('{send_date as "qq"}')[0][2]).toContain('“qq”');
    expect(problems('{link map}')[0][2]).toBe('The link “map” has no address yet.');
  });

  test('a value cannot inject a placeholder', () => {
    fc.assert(
      fc.property(fc.string(), (value) => {
        fc.pre(value.trim() !== '');
        const { text } = render('[{given_name}]', { given_name: value });
        expect(text.slice(1, -1)).toBe(value.trim().replace(/[\u0000-\u0009\u000b-\u001f\u007f]/g, ' '));
      }),
    );
    expect(render('{given_name}', { given_name: '{renewal_date}', renewal_date: '2026-01-01' }).text).toBe('{renewal_date}');
  });

  test('parsing never throws and covers the whole source', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: fc.constantFrom(...'{}" abor_link+7days', '{given_name}', '{given_name or "x"}') }),
        (source) => {
          const { nodes, problems } = parseText(source);
          let at = 0;
          for (const node of nodes) {
            expect(node.from).toBe(at);
            at = node.to;
          }
          expect(at).toBe(source.length);
          for (const { from, to } of problems) expect(to).toBeGreaterThan(from);
        },
      ),
      { numRuns: 1000 },
    );
  });

  // UTS #35 date field symbols; names from ICU as shipped with Node.
  test('date patterns', () => {
    expect(formatDay('2026-03-08', 'EEEE, d MMMM yyyy', 'en')).toBe('Sunday, 8 March 2026');
    expect(formatDay('2026-03-08', "dd.MM.yy 'at noon'", 'en')).toBe('08.03.26 at noon');
    expect(formatDay('2026-03-08', 'EEE d MMM', 'es')).toBe('dom 8 mar');
    expect(patternProblem('d MMMM')).toBeUndefined();
    expect(patternProblem('h:mm a')).toBeDefined();
  });

  test('every month and day of the week has the name that Intl gives a day of it, in every language', () => {
    for (const language of ['en', 'es', 'fr', 'de', 'pl', 'vi', 'ar', 'he', 'zh'])
      for (let n = 0; n < 400; n += 13) {
        const day = new Date(Date.UTC(1999, 0, 1 + n));
        const named = (of: Intl.DateTimeFormatOptions) =>
          new Intl.DateTimeFormat(language, { timeZone: 'UTC', ...of }).format(day);
        expect(formatDay(day.toISOString().slice(0, 10), 'EEE|EEEE|MMM|MMMM', language)).toBe(
          [named({ weekday: 'short' }), named({ weekday: 'long' }), named({ month: 'short' }), named({ month: 'long' })].join(
            '|',
          ),
        );
      }
  });
});

describe('what everybody’s text takes is bounded by the words', () => {
  test('a hundred moved dates for a thousand people are worked out once for each day', () => {
    const from = vi.spyOn(Temporal.PlainDate, 'from');
    const text = compileText('{renewal_date + 2 weeks as "EEEE d MMMM"} '.repeat(90), known);
    for (let i = 0; i < 1000; i += 1)
      expect(text.render(() => `2026-12-0${1 + (i % 9)}`, 'en').text).toContain(`day ${15 + (i % 9)} December`);
    expect(from.mock.calls.length).toBeLessThanOrEqual(9);
    from.mockRestore();
  });

  test('a long value that is put in a hundred times ends where nothing could be sent any more', () => {
    const text = compileText('{home_landing} '.repeat(200), known).render(() => 'x'.repeat(10_000), 'en').text;
    expect(measure(text).parts).toBeGreaterThan(MOST_PARTS);
    expect(text.length).toBeLessThanOrEqual(2 * MOST_WRITTEN);
  });
});

describe('words that stand in for a value begin a sentence with its capital', () => {
  const told = (source: string, language = 'en') =>
    compileText(source, new Map([['given_name', 'text']])).render(() => undefined, language).text;
  test.each([
    ['{given_name or "neighbor"}: fog', 'Neighbor: fog'],
    ['Fog. {given_name or "neighbor"}, take the later boat', 'Fog. Neighbor, take the later boat'],
    ['Fog\n{given_name or "neighbor"}', 'Fog\nNeighbor'],
    ['Dear {given_name or "neighbor"}', 'Dear neighbor'],
    ['From 7 a.m. {given_name or "all"} may come', 'From 7 a.m. all may come'],
    // written with a capital of its own it stays as it is
    ['{given_name or "eBay seller"}', 'eBay seller'],
  ])('%s', (source, text) => expect(told(source)).toBe(text));
  test('where the capital alone would need extended characters it is not worth a part', () =>
    expect([told('{given_name or "à tous"}', 'fr'), told('{given_name or "écoutez"}', 'fr')]).toEqual(['à tous', 'Écoutez']));
  test('as the language has it', () => expect(told('{given_name or "istanbul"}', 'tr')).toBe('istanbul'));
});

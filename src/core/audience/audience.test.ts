import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { yearsBetween } from '../people/day';
import type { Condition } from './condition';
import { dayBegan, decide, matchedDependants, type PersonFacts, type Today } from './decide';
import { explain, sayRule, type Names } from './words';

const TODAY: Today = { day: '2026-11-02', zone: 'America/New_York' };
const at = (text: string) => Date.parse(text);
const someone = (part: Partial<PersonFacts> = {}): PersonFacts => ({
  folded: { landing: 'mill quay', ends: '2026-12-02', crew: 3 },
  lists: [1],
  tags: [],
  consent: {},
  reach: 'yes',
  activity: [],
  dependants: [],
  ...part,
});
const holds = (rule: Condition, part: Partial<PersonFacts> = {}) => decide(rule, someone(part), TODAY);

describe('deciding for one person', () => {
  test('words match whatever their case and accents; any of several', () => {
    expect(holds({ on: 'field', field: 'landing', test: 'is', values: ['Pine Point', 'MILL  QUAY'] })).toBe(true);
    expect(holds({ on: 'field', field: 'landing', test: 'has', values: ['quay'] })).toBe(true);
    expect(holds({ on: 'field', field: 'landing', test: 'starts', values: ['quay'] })).toBe(false);
  });
  test('missing is false, also for "is not"; only "is empty" holds, and none of it', () => {
    expect(holds({ on: 'field', field: 'berth', test: 'is_not', values: ['A'] })).toBe(false);
    expect(holds({ on: 'field', field: 'berth', test: 'empty' })).toBe(true);
    expect(holds({ op: 'none', of: [{ on: 'field', field: 'berth', test: 'is', values: ['A'] }] })).toBe(true);
  });
  test('empty groups: all of nothing is everyone, any of nothing is nobody, none of nothing is everyone', () => {
    expect(holds({ op: 'all', of: [] })).toBe(true);
    expect(holds({ op: 'any', of: [] })).toBe(false);
    expect(holds({ op: 'none', of: [] })).toBe(true);
  });
  test('within so many days counts whole days and today', () => {
    const within = (days: number, ends: string) =>
      holds({ on: 'field', field: 'ends', test: 'next_days', days }, { folded: { ends } });
    expect(within(0, '2026-11-02')).toBe(true);
    expect(within(30, '2026-12-02')).toBe(true);
    expect(within(29, '2026-12-02')).toBe(false);
    expect(within(30, '2026-11-01')).toBe(false);
  });
  test('days ago begin at midnight where the workspace is, through the change of clocks (IANA: 2026-11-01 has 25 hours)', () => {
    expect(dayBegan(TODAY, 0)).toBe(at('2026-11-02T05:00:00Z'));
    expect(dayBegan(TODAY, 1)).toBe(at('2026-11-01T04:00:00Z'));
    const answered = (when: string) =>
      holds({ on: 'activity', what: 'answered', when: 'last_days', days: 1 }, { activity: [{ what: 'answered', at: at(when) }] });
    expect(answered('2026-11-01T04:00:00Z')).toBe(true);
    expect(answered('2026-11-01T03:59:59.999Z')).toBe(false);
  });
  test('a contact of whom: those who must not receive are no contacts here', () => {
    const rule: Extract<Condition, { on: 'dependant' }> = {
      on: 'dependant',
      contact: 'first',
      of: { on: 'field', field: 'class', test: 'is', values: ['Pike'] },
    };
    const dependants = [
      { id: 1, folded: { class: 'pike' }, contact: 1, mustNotReceive: false },
      { id: 2, folded: { class: 'pike' }, contact: 2, mustNotReceive: false },
      { id: 3, folded: { class: 'pike' }, contact: 1, mustNotReceive: true },
      { id: 4, folded: { class: 'otters' }, contact: 1, mustNotReceive: false },
    ];
    expect(matchedDependants(rule, { dependants }, TODAY)).toEqual([1]);
    expect(matchedDependants({ ...rule, contact: 'any' }, { dependants }, TODAY)).toEqual([1, 2]);
  });
});

describe('saying it', () => {
  const names: Names = {
    field: (slug) => ({ landing: 'home landing', ends: 'pass ends', class: 'class' })[slug] ?? slug,
    list: (id) => (id === 1 ? 'Crew and staff' : 'another'),
    tag: () => 'bicycle',
  };
  const rule: Condition = {
    op: 'all',
    of: [
      { on: 'field', field: 'ends', test: 'next_days', days: 30 },
      { on: 'field', field: 'landing', test: 'is', values: ['Mill Quay', 'Pine Point'] },
      {
        op: 'none',
        of: [
          { on: 'activity', what: 'answered', when: 'last_days', days: 7 },
          { on: 'list', ids: [1] },
        ],
      },
    ],
  };
  test('a rule reads aloud', () => {
    expect(sayRule(rule, names)).toBe(
      'pass ends is within the next 30 days, home landing is Mill Quay or Pine Point and (none of: answered in the last 7 days; is on Crew and staff)',
    );
    expect(
      sayRule(
        {
          on: 'dependant',
          contact: 'first',
          of: { op: 'all', of: [{ on: 'field', field: 'class', test: 'is', values: ['Pike'] }] },
        },
        names,
      ),
    ).toBe('is the first contact of someone whose class is Pike');
    expect(sayRule({ on: 'consent', purpose: 'marketing', is: 'nothing' }, names)).toBe('nothing on record about marketing');
  });
  test('why someone is in or out: each condition, whether it holds, and what they have', () => {
    expect(explain(rule, someone({ folded: { landing: 'north landing', ends: '2026-12-02' } }), TODAY, names)).toEqual([
      { words: 'pass ends is within the next 30 days', holds: true, has: '2026-12-02' },
      { words: 'home landing is Mill Quay or Pine Point', holds: false, has: 'north landing' },
      { words: 'none of: answered in the last 7 days; is on Crew and staff', holds: false },
    ]);
  });
});

test('an age in years is that of the calendar, also around February 29', () => {
  fc.assert(
    fc.property(
      fc.date({ min: new Date('1900-01-01T00:00:00Z'), max: new Date('2026-12-31T00:00:00Z'), noInvalidDate: true }),
      fc.constantFrom('2024-02-29', '2025-02-28', '2025-03-01', '2026-12-02'),
      fc.integer({ min: 0, max: 120 }),
      (date, day, years) => {
        const born = date.toISOString().slice(0, 10);
        fc.pre(born <= day);
        const rule = { on: 'field' as const, field: 'born', years };
        const facts = someone({ folded: { born } });
        const at = { day, zone: 'America/New_York' };
        const old = yearsBetween(born, day);
        expect(decide({ ...rule, test: 'years_at_least' }, facts, at)).toBe(old >= years);
        expect(decide({ ...rule, test: 'years_less' }, facts, at)).toBe(old < years);
      },
    ),
  );
});

test('what did not happen lately, or is not there, is one condition that reads aloud', () => {
  const names = { field: (slug: string) => slug, list: (id: number) => `list ${id}`, tag: (id: number) => `tag ${id}` };
  const rule: Condition = {
    op: 'all',
    of: [
      { on: 'list', ids: [1] },
      { on: 'field', field: 'born', test: 'years_at_least', years: 60 },
      { on: 'activity', what: 'texted', when: 'not_days', days: 30 },
      { on: 'tag', ids: [2], not: true },
    ],
  };
  expect(sayRule(rule, names)).toBe('is on list 1, age is at least 60, got no text in the last 30 days and is not tagged tag 2');
  const facts = someone({ lists: [1], folded: { born: '1950-05-05' } });
  const today = { day: '2026-12-02', zone: 'America/New_York' };
  expect(decide(rule, facts, today)).toBe(true);
  const texted = (day: string) => ({ ...facts, activity: [{ what: 'texted' as const, at: Date.parse(`${day}T17:00:00Z`) }] });
  expect(decide(rule, texted('2026-11-20'), today)).toBe(false);
  expect(decide(rule, texted('2026-10-20'), today)).toBe(true);
  expect(decide(rule, { ...facts, tags: [2] }, today)).toBe(false);
});

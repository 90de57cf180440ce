import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { NO_RATE, rateOf } from './money/destinations';
import { showMoney } from './money/money';
import { decideReach, DROP_REASONS, type Candidate } from './reach/reach';
import { localInstant, wallClock } from '../zones';

const at = (text: string) => Date.parse(text);

describe('local times (IANA time zone database through ICU)', () => {
  test('2026-03-08 02:30 does not exist in New York; 2026-11-01 01:30 occurs twice', () => {
    expect(localInstant('2026-03-08', '02:30', 'America/New_York')).toEqual({ instant: at('2026-03-08T07:30:00Z'), note: 'gap' });
    expect(wallClock(at('2026-03-08T07:30:00Z'), 'America/New_York').time).toBe('03:30');
    expect(localInstant('2026-11-01', '01:30', 'America/New_York')).toEqual({
      instant: at('2026-11-01T05:30:00Z'),
      note: 'twice',
    });
    expect(localInstant('2026-12-02', '16:30', 'America/New_York')).toEqual({ instant: at('2026-12-02T21:30:00Z') });
  });
  test('European changes of 2026 and odd offsets', () => {
    expect(localInstant('2026-03-29', '02:30', 'Europe/Paris').note).toBe('gap');
    expect(localInstant('2026-10-25', '02:30', 'Europe/Paris').note).toBe('twice');
    expect(localInstant('2026-06-01', '12:00', 'Asia/Kathmandu').instant).toBe(at('2026-06-01T06:15:00Z'));
    expect(localInstant('2026-06-01', '12:00', 'Pacific/Chatham').instant).toBe(at('2026-05-31T23:15:00Z'));
  });
});

describe('reach', () => {
  const person = (id: number, more: Partial<Candidate> = {}): Candidate => ({
    id,
    number: `+1207555${String(id).padStart(4, '0')}`,
    number_kind: 'either',
    consent: null,
    ...more,
  });
  const none = {
    purpose: 'service' as const,
    leaveOut: new Set<number>(),
    unticked: new Set<number>(),
    register: new Set<string>(),
    leaveOutNumbers: new Set<string>(),
  };

  test('each reason', () => {
    const people = [
      person(1),
      person(2, { number: null }),
      person(3),
      person(4, { number_kind: 'fixed' }),
      person(5, { consent: 'withdrawn' }),
      person(6),
      person(7),
      person(8, { number: person(1).number }),
      person(1),
      person(10, { mustNot: true }),
      person(11, { minor: true }),
      person(12),
      person(13),
      // chosen for a dependant they must not hear about; and one of whom it is not known for whom they are chosen
      person(14, { mustNotHere: true }),
      person(15, { barredForSome: true }),
    ];
    const reach = decideReach(people, {
      ...none,
      unreachable: new Set(['+12075550012']),
      untickedNumbers: new Set(['+12075550013']),
      leaveOut: new Set([6]),
      unticked: new Set([7]),
      register: new Set(['+12075550003']),
    });
    expect(reach.willGet.map((p) => p.id)).toEqual([1, 11, 15]);
    expect(decideReach(people, { ...none, leaveOutBarred: true }).dropped.must_not_here.map((p) => p.id)).toEqual([14, 15]);
    expect(Object.fromEntries(DROP_REASONS.map((reason) => [reason, reach.dropped[reason].map((p) => p.id)]))).toEqual({
      left_out: [6],
      unticked: [7, 13],
      must_not: [10],
      must_not_here: [14],
      unreachable: [12],
      minor: [],
      no_number: [2],
      fixed_line: [4],
      opted_out: [3],
      undecided: [],
      no_consent: [5],
      same_number: [8],
    });
    expect(reach.chosen).toBe(14);
    expect(reach.namedTwice).toBe(1);
  });

  test('a minor gets notices and no marketing, whatever was granted', () => {
    const reach = decideReach([person(1, { minor: true, consent: 'granted' })], { ...none, purpose: 'marketing' });
    expect(reach.dropped.minor.map((p) => p.id)).toEqual([1]);
  });

  test('everyone is accounted for once, one text a number, nobody on the register, marketing only if granted', () => {
    const someone = fc.record({
      id: fc.integer({ min: 1, max: 30 }),
      number: fc.option(fc.constantFrom('+1', '+2', '+3', '+4')),
      number_kind: fc.constantFrom('either', 'fixed'),
      consent: fc.constantFrom('granted' as const, 'withdrawn' as const, null),
    });
    fc.assert(
      fc.property(fc.array(someone), fc.constantFrom('service' as const, 'marketing' as const), (people, purpose) => {
        const reach = decideReach(people, { ...none, purpose, register: new Set(['+2']) });
        const dropped = DROP_REASONS.reduce((sum, reason) => sum + reach.dropped[reason].length, 0);
        expect(reach.willGet.length + dropped).toBe(reach.chosen);
        const numbers = reach.willGet.map((p) => p.number);
        expect(new Set(numbers).size).toBe(numbers.length);
        expect(numbers).not.toContain('+2');
        expect(numbers).not.toContain(null);
        if (purpose === 'marketing') expect(reach.willGet.every((p) => p.consent === 'granted')).toBe(true);
      }),
    );
  });
});

test('money', () => {
  expect(showMoney(9_487_500)).toBe('$9.49');
  expect(showMoney(22_500)).toBe('$0.0225');
  // the longest prefix holds
  const rate = rateOf([{ prefix: '+1' }, { prefix: '+1204' }, { prefix: '+44' }]);
  expect([rate('+12075550142'), rate('+12045550142'), rate('+442079460123'), rate('+9715')]).toEqual([0, 1, 2, NO_RATE]);
});

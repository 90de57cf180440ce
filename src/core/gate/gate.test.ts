import { Temporal } from 'temporal-polyfill';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { gate, LEAST_VALIDITY, NO_HOUR, TOO_LATE, type GateFacts } from './gate';
import { HoursBook, type HoursRule } from './hours';
import { plausibleZones } from './plausible';

const NOW = Date.UTC(2026, 11, 2, 20, 50); // Wed 3:50 PM Eastern
const HOUR = 3_600_000;
const rule = (part: Partial<HoursRule> = {}): HoursRule => ({
  zones: ['America/New_York'],
  quiet: { from: '21:00', to: '08:00' },
  own: null,
  allowed: null,
  ...part,
});
const facts = (part: Partial<GateFacts> = {}): GateFacts => ({
  kind: 'run',
  purpose: 'service',
  registered: false,
  person: 'here',
  consent: null,
  needsYes: false,
  mustNot: false,
  undecided: null,
  number: true,
  minor: false,
  notAfter: NOW + 24 * HOUR,
  run: { state: 'sending', note: '' },
  hours: rule(),
  day: null,
  override: false,
  asked: false,
  ...part,
});
const book = new HoursBook();
const at = (text: string) => Temporal.Instant.from(text).epochMilliseconds;

describe('the gate', () => {
  test.each<[string, Partial<GateFacts>, string]>([
    ['on the register', { registered: true }, 'opted out'],
    ['erased', { person: 'erased' }, 'erased'],
    ['another number', { person: 'changed' }, 'number changed'],
    ['must not receive', { mustNot: true }, 'must not receive'],
    ['consent withdrawn', { consent: 'withdrawn' }, 'consent withdrawn'],
    ['marketing to a minor', { purpose: 'marketing', consent: 'granted', minor: true }, 'a minor, no marketing'],
    ['marketing without consent', { purpose: 'marketing', needsYes: true }, 'no consent for this'],
    ['a notice without consent, where notices need it', { needsYes: true }, 'no consent for this'],
    ['past its use', { notAfter: NOW }, TOO_LATE],
    ['its run canceled', { run: { state: 'stopped', note: 'canceled by Ana' } }, 'canceled by Ana'],
    ['its run missed', { run: { state: 'missed', note: 'late' } }, 'late'],
  ])('never: %s', (_what, part, reason) => {
    expect(gate(facts(part), NOW, book)).toEqual({ kind: 'never', reason });
  });

  test('a paused run holds; who may not get it is said even then', () => {
    expect(gate(facts({ run: { state: 'paused', note: '' } }), NOW, book)).toEqual({ kind: 'hold' });
    expect(gate(facts({ run: { state: 'paused', note: '' }, registered: true }), NOW, book)).toMatchObject({ kind: 'never' });
  });

  test('quiet hours delay until they end, in every plausible zone; the validity ends before they begin', () => {
    expect(gate(facts(), NOW, book)).toEqual({ kind: 'go', until: at('2026-12-03T02:00:00Z') });
    expect(gate(facts(), at('2026-12-03T04:30:00Z'), book)).toEqual({ kind: 'later', at: at('2026-12-03T13:00:00Z') });
    // 8:30 AM Eastern is 3:30 AM in Honolulu
    const somewhere = rule({ zones: ['America/New_York', 'Pacific/Honolulu'] });
    expect(gate(facts({ hours: somewhere, notAfter: NOW + 48 * HOUR }), at('2026-12-03T13:30:00Z'), book)).toEqual({
      kind: 'later',
      at: at('2026-12-03T18:00:00Z'),
    });
    expect(gate(facts({ notAfter: NOW + HOUR }), NOW, book)).toEqual({ kind: 'go', until: NOW + HOUR });
  });

  test('zones half a day apart may leave no hour: it is said, and not sent at any', () => {
    const apart = rule({ zones: ['Pacific/Auckland', 'Europe/London'], quiet: { from: '18:00', to: '09:00' } });
    expect(gate(facts({ hours: apart }), NOW, book)).toEqual({ kind: 'never', reason: NO_HOUR });
  });

  test('their own hours and the broadcast’s hours and days count as well', () => {
    const own = rule({ own: { from: '15:00', to: '17:00' } });
    expect(gate(facts({ hours: own }), NOW, book)).toEqual({ kind: 'later', at: at('2026-12-02T22:00:00Z') });
    const mornings = rule({ allowed: { days: [5], from: '09:00', to: '12:00' } });
    expect(gate(facts({ hours: mornings, notAfter: NOW + 72 * HOUR }), NOW, book)).toEqual({
      kind: 'later',
      at: at('2026-12-04T14:00:00Z'),
    });
  });

  test('an urgent service notice goes at any hour, marketing never does; nothing overrides the register', () => {
    const night = at('2026-12-03T04:30:00Z');
    expect(gate(facts({ override: true }), night, book)).toMatchObject({ kind: 'go' });
    expect(gate(facts({ override: true, purpose: 'marketing', consent: 'granted' }), night, book)).toMatchObject({
      kind: 'later',
    });
    expect(gate(facts({ override: true, registered: true }), night, book)).toMatchObject({ kind: 'never' });
  });

  test('one confirmation may follow an opt-out: 47 CFR 64.1200(a)(12)', () => {
    expect(gate(facts({ kind: 'confirmation', registered: true, asked: true, run: null }), NOW, book)).toMatchObject({
      kind: 'go',
    });
    expect(gate(facts({ kind: 'reply', registered: true, asked: true, run: null }), NOW, book)).toMatchObject({ kind: 'never' });
  });

  test('a reply that may mean stop waits for a person, and says so in the end', () => {
    const waits = gate(facts({ undecided: 'maybe' }), NOW, book);
    expect(waits).toEqual({ kind: 'later', at: NOW + 600_000 });
    expect(gate(facts({ undecided: 'maybe', notAfter: NOW }), NOW, book)).toMatchObject({ kind: 'never' });
    expect(gate(facts({ undecided: 'maybe', kind: 'reply', run: null }), NOW, book)).toMatchObject({ kind: 'go' });
  });

  test('47 CFR 64.1200(c)(1) as a property: never before 8 AM or after 9 PM where they may be, clock changes and all', () => {
    const zones = fc.uniqueArray(
      fc.constantFrom(
        'America/New_York',
        'America/Chicago',
        'Pacific/Honolulu',
        'America/St_Johns',
        'Europe/Paris',
        'Asia/Kathmandu',
        'Pacific/Chatham',
      ),
      { minLength: 1, maxLength: 3 },
    );
    // a year around the changes of March and November 2026 (IANA time zone database)
    const moment = fc.integer({ min: Date.UTC(2026, 0, 1), max: Date.UTC(2027, 0, 1) });
    fc.assert(
      fc.property(zones, moment, (some, now) => {
        const answer = gate(facts({ hours: rule({ zones: some }), notAfter: now + 40 * HOUR }), now, book);
        if (answer.kind === 'never') {
          expect(answer.reason).toBe(NO_HOUR);
          return;
        }
        const [from, until] = answer.kind === 'go' ? [now, answer.until] : [answer.kind === 'later' ? answer.at : now, now];
        for (const zone of some)
          for (const instant of answer.kind === 'go' ? [from, until - 1] : [from]) {
            const { hour } = Temporal.Instant.fromEpochMilliseconds(instant).toZonedDateTimeISO(zone);
            expect(hour >= 8 && hour < 21, `${zone} ${hour}`).toBe(true);
          }
      }),
      { numRuns: 600 },
    );
  });

  test('nothing is begun in the last seconds before quiet hours', () => {
    const last = at('2026-12-03T02:00:00Z') - LEAST_VALIDITY + 1000;
    expect(gate(facts({ notAfter: NOW + 48 * HOUR }), last, book)).toEqual({ kind: 'later', at: at('2026-12-03T13:00:00Z') });
  });
});

test('plausible zones: their own when known; else what the number allows, the guess, and ours', () => {
  const of = (zone: string | null, zoneGuessed: boolean, number: string) =>
    plausibleZones({ zone, zoneGuessed, number }, 'America/New_York');
  expect(of('America/Chicago', false, '+12085550101')).toEqual(['America/Chicago']);
  expect(of('America/Chicago', true, '+16125550101')).toEqual(['America/Chicago', 'America/New_York']);
  expect(of(null, false, '+12085550101')).toEqual(['America/Boise', 'America/Los_Angeles', 'America/New_York']);
  expect(of(null, true, '+15555550100')).toContain('Pacific/Honolulu');
});

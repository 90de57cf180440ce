import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { NOON, person, planFor } from '../testing';
import { wallClock } from '../../zones';

/** Local time at which somebody gets it: `2026-12-03 09:00`. */
const local = ({ texts }: ReturnType<typeof planFor>, id: number) => {
  const i = texts.people.findIndex((each) => each.id === id);
  const { date, time } = wallClock(texts.due[i], texts.people[i].zone ?? 'America/New_York');
  return `${date} ${time}`;
};
const must = (plan: ReturnType<typeof planFor>) => plan.summary.must_fix;
const tomorrow = { kind: 'at', date: '2026-12-03', time: '09:00', own: true } as const;

describe('in each recipient’s own time', () => {
  const zones = [
    'America/New_York',
    'America/Chicago',
    'America/Los_Angeles',
    'Pacific/Honolulu',
    'Europe/Berlin',
    'Asia/Kathmandu',
  ];
  const people = zones.map((zone, i) => person(i + 1, { zone }));

  test('everyone gets it at nine of their own clock, from Kathmandu (+05:45) to Honolulu', () => {
    const plan = planFor({ when: tomorrow }, people);
    expect(must(plan)).toEqual([]);
    expect(people.map(({ id }) => local(plan, id))).toEqual(people.map(() => '2026-12-03 09:00'));
    // the run begins with the first of them
    expect(plan.summary.first).toBe('2026-12-03T03:15:00.000Z');
    expect(plan.summary.last).toBe('2026-12-03T19:00:00.000Z');
    expect(Date.parse(plan.summary.not_after)).toBe(Date.parse('2026-12-04T19:00:00Z'));
  });

  test('where the hour is past already nobody gets it at another: it must be fixed, and the next day is offered', () => {
    // 9:10 PM in Berlin, 3:50 PM Eastern
    const plan = planFor({ when: { kind: 'at', date: '2026-12-02', time: '16:00', own: true } }, people);
    expect(must(plan)).toMatchObject([
      {
        place: 'when',
        message: 'It is past 4:00 PM already where 2 of them are.',
        instead: { date: '2026-12-03', time: '16:00' },
      },
    ]);
  });

  test('the clocks go forward in one zone and not in another (2026-03-08 in New York, not yet in Berlin)', () => {
    const plan = planFor(
      { when: { kind: 'at', date: '2026-03-08', time: '09:00', own: true } },
      [person(1), person(2, { zone: 'Europe/Berlin' })],
      { now: Date.parse('2026-03-07T12:00:00Z') },
    );
    expect([local(plan, 1), local(plan, 2)]).toEqual(['2026-03-08 09:00', '2026-03-08 09:00']);
    expect(plan.summary.last).toBe('2026-03-08T13:00:00.000Z');
    expect(plan.summary.first).toBe('2026-03-08T08:00:00.000Z');
  });

  test('whose zone is only guessed waits for an hour that is allowed wherever they may be', () => {
    const plan = planFor({ when: { kind: 'at', date: '2026-12-03', time: '08:00', own: true } }, [
      person(1, { number: '+16155550142', zone: 'America/New_York', zone_guessed: true }),
      person(2),
    ]);
    // +1 615 spans Eastern and Central only by the guess of the book; whatever it spans, never before eight anywhere
    const i = plan.texts.people.findIndex((each) => each.id === 1);
    expect(plan.texts.due[i]).toBeGreaterThanOrEqual(Date.parse('2026-12-03T13:00:00Z'));
  });

  test('no text goes before its own start, whatever the zones and their number (property)', () => {
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom(...zones), { minLength: 1, maxLength: 40 }),
        fc.integer({ min: 8, max: 19 }),
        fc.integer({ min: 1, max: 20 }),
        (chosen, hour, rate) => {
          const time = `${String(hour).padStart(2, '0')}:00`;
          const plan = planFor(
            { when: { kind: 'at', date: '2026-12-04', time, own: true } },
            chosen.map((zone, i) => person(i + 1, { zone })),
            { sender: { parts_per_second: rate } },
          );
          for (const each of plan.texts.people) expect(local(plan, each.id) >= `2026-12-04 ${time}`).toBe(true);
          expect(plan.texts.count).toBe(chosen.length);
        },
      ),
      { numRuns: 60 },
    );
  });
});

describe('pace', () => {
  const many = Array.from({ length: 30 }, (_, i) => person(i + 1));
  const gaps = ({ texts }: ReturnType<typeof planFor>) => {
    const due = [...texts.due].sort((a, b) => a - b);
    return due.slice(1).map((at, i) => at - due[i]);
  };

  test('so many a minute', () => {
    const plan = planFor({ pace: { kind: 'a_minute', texts: 6 } }, many);
    expect(new Set(gaps(plan))).toEqual(new Set([10_000]));
  });

  test('a pace faster than the sender is the sender’s', () => {
    const plan = planFor({ pace: { kind: 'a_minute', texts: 60_000 } }, many, { sender: { parts_per_second: 2 } });
    expect(new Set(gaps(plan))).toEqual(new Set([500]));
  });

  test('evenly until a time: the first at the start, the last at the end', () => {
    const plan = planFor(
      { when: { kind: 'at', date: '2026-12-02', time: '16:00' }, pace: { kind: 'until', date: '2026-12-02', time: '18:00' } },
      many,
    );
    expect([plan.summary.first, plan.summary.last]).toEqual(['2026-12-02T21:00:00.000Z', '2026-12-02T23:00:00.000Z']);
    expect(Math.max(...gaps(plan)) - Math.min(...gaps(plan))).toBeLessThanOrEqual(1);
  });

  test('what cannot be: an end before the start must be fixed; a line that is too slow is said', () => {
    const at = { kind: 'at', date: '2026-12-02', time: '18:00' } as const;
    expect(must(planFor({ when: at, pace: { kind: 'until', date: '2026-12-02', time: '17:00' } }, many))).toMatchObject([
      { place: 'when', message: 'The time until which it is spread comes before it would go.' },
    ]);
    const slow = planFor(
      { when: at, pace: { kind: 'until', date: '2026-12-02', time: '18:01' } },
      Array.from({ length: 400 }, (_, i) => person(i + 1)),
      {
        sender: { parts_per_second: 1 },
      },
    );
    expect(slow.summary.hints.map(({ message }) => message)).toContain(
      'The last one goes later than that, Wed, Dec 2, 6:06 PM: hours and the sender’s rate allow no earlier.',
    );
  });

  test('a slow pace leaves the line to others, and a full one does not', () => {
    expect(planFor({ pace: { kind: 'a_minute', texts: 6 } }, many).busy).toEqual([]);
    expect(planFor({}, many).busy).toEqual([{ from: NOON + 8000, until: NOON + 8000 + 30 * 100 }]);
  });

  test('another pace, and another clock, are another plan', () => {
    const of = (part: object) =>
      planFor({ when: { kind: 'at', date: '2026-12-03', time: '09:00' }, ...part }, [person(1)]).digest;
    expect(new Set([of({}), of({ pace: { kind: 'a_minute', texts: 6 } }), of({ when: tomorrow })]).size).toBe(3);
  });
});

import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { LEAST_VALIDITY } from '../../gate/gate';
import { HoursBook, type HoursRule } from '../../gate/hours';
import { makeTimetable, mergeBusy } from './timetable';

const HOUR = 3_600_000;
const book = new HoursBook();
const rule = (zone: string, own: HoursRule['own'] = null): HoursRule => ({
  zones: [zone],
  quiet: { from: '21:00', to: '08:00' },
  own,
  allowed: null,
});

describe('the timetable', () => {
  test('1,200 people at one part a second from 8:50 PM: ten minutes fit, the others go on at 8 AM', () => {
    const base = Date.UTC(2026, 11, 3, 1, 50); // 8:50 PM Eastern
    const { due } = makeTimetable({
      base,
      notAfter: base + 24 * HOUR,
      rate: 1,
      rules: [rule('America/New_York')],
      groupOf: new Uint8Array(1200),
      parts: new Uint8Array(1200).fill(1),
      book,
    });
    const tonight = [...due].filter((at) => at < base + 600_000);
    expect(tonight).toHaveLength(600 - LEAST_VALIDITY / 1000);
    expect(Math.min(...[...due].filter((at) => at > base + 600_000))).toBe(Date.UTC(2026, 11, 3, 13));
    expect(due.some(Number.isNaN)).toBe(false);
  });

  test('two zones share the sender’s rate', () => {
    const base = Date.UTC(2026, 11, 2, 18);
    const { due } = makeTimetable({
      base,
      notAfter: base + 24 * HOUR,
      rate: 10,
      rules: [rule('America/New_York'), rule('America/Chicago')],
      groupOf: Uint8Array.from({ length: 200 }, (_, i) => i % 2),
      parts: new Uint8Array(200).fill(1),
      book,
    });
    expect(Math.max(...due) - base).toBe(19_900);
  });

  test('what other runs have taken stays theirs', () => {
    const base = Date.UTC(2026, 11, 2, 18);
    const asked = {
      base,
      notAfter: base + 24 * HOUR,
      rate: 1,
      rules: [rule('America/New_York')],
      groupOf: [0, 0, 0],
      parts: [1, 1, 1],
      book,
    };
    const first = makeTimetable(asked);
    const second = makeTimetable({ ...asked, busy: mergeBusy(first.busy) });
    expect([...second.due]).toEqual([base + 3000, base + 4000, base + 5000]);
  });

  test('never above the rate, never outside hours, nobody twice, late ones said: as a property', () => {
    const zones = ['America/New_York', 'America/Chicago', 'Pacific/Honolulu', 'Europe/Paris'];
    const own = fc.option(fc.constantFrom({ from: '12:00', to: '14:30' }, { from: '17:00', to: '10:00' }), { nil: null });
    fc.assert(
      fc.property(
        fc.array(fc.record({ zone: fc.constantFrom(...zones), own, parts: fc.integer({ min: 1, max: 4 }) }), {
          minLength: 1,
          maxLength: 60,
        }),
        fc.integer({ min: Date.UTC(2026, 9, 20), max: Date.UTC(2026, 10, 10) }),
        fc.constantFrom(0.01, 0.2, 1, 50),
        fc.integer({ min: 1, max: 60 }),
        (people, base, rate, hours) => {
          const notAfter = base + hours * HOUR;
          const rules = people.map((each) => rule(each.zone, each.own));
          const { due } = makeTimetable({
            base,
            notAfter,
            rate,
            rules,
            groupOf: people.map((_, i) => i),
            parts: people.map((each) => each.parts),
            book,
          });
          const placed = people
            .map((each, i) => ({ at: due[i], parts: each.parts, rule: rules[i] }))
            .filter((each) => !Number.isNaN(each.at));
          placed.sort((a, b) => a.at - b.at);
          for (const [i, each] of placed.entries()) {
            expect(each.at).toBeGreaterThanOrEqual(base);
            expect(each.at).toBeLessThan(notAfter);
            expect(book.next(each.rule, each.at)?.from).toBe(each.at);
            // a millisecond of rounding down
            if (i > 0) expect(each.at - placed[i - 1].at + 1).toBeGreaterThanOrEqual((placed[i - 1].parts * 1000) / rate);
          }
          // who has no time could not have had one: their hours begin after its use, or the line was full until then
          const free =
            placed.length === 0 ? base : placed[placed.length - 1].at + (placed[placed.length - 1].parts * 1000) / rate;
          people.forEach((_, i) => {
            if (!Number.isNaN(due[i])) return;
            const stretch = book.next(rules[i], Math.max(base, free));
            expect(
              stretch === undefined ||
                stretch.from >= notAfter ||
                stretch.until - LEAST_VALIDITY <= Math.max(base, free) ||
                free >= notAfter,
            ).toBe(true);
          });
        },
      ),
      { numRuns: 200 },
    );
  });
});

import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { localInstant, wallClock } from '../zones';
import { HoursBook, type HoursRule } from './hours';

const book = new HoursBook();
const rule = (...zones: string[]): HoursRule => ({ zones, quiet: { from: '21:00', to: '08:00' }, own: null, allowed: null });
const at = (date: string, time: string, zone: string) => localInstant(date, time, zone).instant;

describe("quiet hours (47 CFR 64.1200(c)(1): not before 8 a.m. or after 9 p.m. at the called party's location)", () => {
  test('edges and the next morning', () => {
    const zone = 'America/Chicago';
    const next = (date: string, time: string) => book.next(rule(zone), at(date, time, zone))?.from;
    expect(next('2026-12-02', '20:59')).toBe(at('2026-12-02', '20:59', zone));
    expect(next('2026-12-02', '21:00')).toBe(at('2026-12-03', '08:00', zone));
    expect(next('2026-12-02', '22:15')).toBe(at('2026-12-03', '08:00', zone));
    expect(next('2026-12-03', '03:00')).toBe(at('2026-12-03', '08:00', zone));
    expect(next('2026-12-03', '08:00')).toBe(at('2026-12-03', '08:00', zone));
  });

  test('equal times mean none', () => {
    const never = { ...rule('America/Chicago'), quiet: { from: '00:00', to: '00:00' } };
    const night = at('2026-12-03', '03:00', 'America/Chicago');
    expect(book.next(never, night)?.from).toBe(night);
  });

  test('never before the instant, never quiet, and not needlessly late, through every clock change of two years', () => {
    const zones = [
      'America/New_York',
      'America/Chicago',
      'Europe/Paris',
      'Asia/Kathmandu',
      'Pacific/Chatham',
      'Australia/Lord_Howe',
    ];
    const quiet = (instant: number, zone: string) => {
      const { minutes } = wallClock(instant, zone);
      return minutes >= 21 * 60 || minutes < 8 * 60;
    };
    fc.assert(
      fc.property(
        fc.integer({ min: Date.UTC(2026, 0, 1), max: Date.UTC(2027, 11, 31) }),
        fc.constantFrom(...zones),
        (instant, zone) => {
          const stretch = book.next(rule(zone), instant);
          const from = stretch?.from ?? 0;
          expect(from).toBeGreaterThanOrEqual(instant);
          expect(from - instant).toBeLessThanOrEqual(12 * 3_600_000);
          expect(quiet(from, zone)).toBe(false);
          if (from > instant) expect(quiet(from - 60_000, zone)).toBe(true);
          // it closes where quiet hours begin, and not before
          const until = stretch?.until ?? 0;
          expect(quiet(until - 60_000, zone)).toBe(false);
          expect(quiet(until, zone)).toBe(true);
        },
      ),
      { numRuns: 400 },
    );
  });

  test('a guessed zone waits for every plausible one', () => {
    const morning = at('2026-12-03', '08:10', 'America/New_York');
    expect(book.next(rule('America/New_York', 'America/Chicago'), morning)?.from).toBe(
      at('2026-12-03', '08:00', 'America/Chicago'),
    );
  });
});

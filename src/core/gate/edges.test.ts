import { Temporal } from 'temporal-polyfill';
import { expect, test } from 'vitest';
import { Dice } from '../line/simulator/dice';
import { wallClock } from '../zones';
import { HoursBook, type HoursRule } from './hours';

/** Zones that change their clocks in the years to come, and some that do not; by an hour, by half of one, at midnight. */
const ZONES = `America/New_York America/Chicago America/Denver America/Los_Angeles America/Anchorage America/Adak America/Halifax
  America/St_Johns America/Havana America/Santiago America/Asuncion America/Nuuk America/Scoresbysund America/Miquelon America/Phoenix
  America/Sao_Paulo Atlantic/Azores Atlantic/Bermuda Europe/London Europe/Dublin Europe/Lisbon Europe/Paris Europe/Madrid Europe/Athens
  Europe/Kyiv Europe/Chisinau Europe/Istanbul Africa/Cairo Africa/Casablanca Asia/Beirut Asia/Jerusalem Asia/Tehran Asia/Kathmandu
  Asia/Kolkata Australia/Sydney Australia/Adelaide Australia/Lord_Howe Pacific/Auckland Pacific/Chatham Pacific/Easter`.split(
  /\s+/,
);

const MINUTE = 60_000;

/** Every change of a zone's clock from 2025 to 2030, ms. */
function changes(zone: string): number[] {
  const found: number[] = [];
  let at = Temporal.ZonedDateTime.from({ year: 2025, month: 1, day: 1, timeZone: zone });
  for (;;) {
    const next = at.getTimeZoneTransition('next');
    if (!next || next.year > 2030) return found;
    found.push(next.epochMilliseconds);
    at = next;
  }
}

const time = (minutes: number) => `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`;
const minutesOf = (clock: string) => Number(clock.slice(0, 2)) * 60 + Number(clock.slice(3));
/** Whether the wall clock of an instant stands in hours that may go over midnight. */
const within = (now: number, from: string, to: string) => {
  const [a, b] = [minutesOf(from), minutesOf(to)];
  return a < b ? now >= a && now < b : now >= a || now < b;
};

test('through every change of the clock of 40 zones, 2025 to 2030, nothing is open at a minute whose wall clock is shut', () => {
  const dice = new Dice(40);
  const edge = () => time(dice.between(0, 287) * 5);
  let seen = 0;
  for (const zone of ZONES)
    for (const change of changes(zone)) {
      const [from, to, opens, shuts] = [edge(), edge(), edge(), edge()];
      if (from === to) continue;
      const allowed = dice.chance(0.5) && opens < shuts ? { days: [1, 2, 3, 4, 5, 6, 7], from: opens, to: shuts } : null;
      // the edges that matter are those beside the change
      const near = time((wallClock(change - MINUTE, zone).minutes + dice.between(0, 18) * 5) % 1440);
      const own = dice.chance(0.5) && near !== to ? { from: near, to } : null;
      const rule: HoursRule = { zones: [zone], quiet: { from, to: near === from ? to : near }, own, allowed };
      const book = new HoursBook();
      for (let at = change - 150 * MINUTE; at <= change + 150 * MINUTE; at += 5 * MINUTE) {
        const { minutes } = wallClock(at, zone);
        const shut =
          (rule.quiet.from !== rule.quiet.to && within(minutes, rule.quiet.from, rule.quiet.to)) ||
          (own !== null && within(minutes, own.from, own.to)) ||
          (allowed !== null && !within(minutes, allowed.from, allowed.to));
        const stretch = book.next(rule, at);
        const open = stretch !== undefined && stretch.from <= at;
        if (shut)
          expect({ zone, at: new Date(at).toISOString(), wall: time(minutes), rule, open }).toMatchObject({ open: false });
        seen += shut ? 1 : 0;
      }
    }
  expect(seen).toBeGreaterThan(5000);
});

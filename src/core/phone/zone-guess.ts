import { ZONE_NAMES, ZONE_PREFIXES } from './zone-table';

/** prefix without plus → indexes of the zones it may lie in. */
const TABLE = new Map<string, readonly number[]>(
  ZONE_PREFIXES.flatMap((line) => {
    const [zones, prefixes] = line.split(':');
    const indexes = zones.split(',').map(Number);
    return prefixes.split(' ').map((prefix): [string, readonly number[]] => [prefix, indexes]);
  }),
);
const LONGEST = [...TABLE.keys()].reduce((most, prefix) => Math.max(most, prefix.length), 0);
const NOWHERE: readonly string[] = [];
const named = new Map<string, readonly string[]>();

/**
 * Every IANA zone in which a number may lie, by the longest prefix that open number metadata knows (the time-zone map of
 * Google's libphonenumber). Empty for a number whose country is not known there.
 */
export function zonesOfNumber(number: string): readonly string[] {
  const digits = number.replace(/^\+/, '');
  for (let length = Math.min(LONGEST, digits.length); length > 0; length -= 1) {
    const prefix = digits.slice(0, length);
    const known = TABLE.get(prefix);
    if (!known) continue;
    let zones = named.get(prefix);
    if (!zones) named.set(prefix, (zones = known.map((index) => ZONE_NAMES[index])));
    return zones;
  }
  return NOWHERE;
}

/** Zones that people mean when a country's dependencies keep the same clock. */
const MAIN = new Set(['Europe/London', 'Europe/Berlin', 'Europe/Rome', 'Europe/Helsinki']);

/** IANA zone guessed from an E.164 number, or undefined when the number does not tell: one that may lie in several is unknown. */
export function guessZone(number: string): string | undefined {
  const zones = zonesOfNumber(number);
  if (zones.length < 2) return zones[0];
  return sameClock(zones) ? (zones.find((zone) => MAIN.has(zone)) ?? zones[zones.length - 1]) : undefined;
}

const clocks = new Map<string, string>();
function sameClock(zones: readonly string[]): boolean {
  const first = clockOf(zones[0]);
  return zones.every((zone) => clockOf(zone) === first);
}
/** What a zone's clock shows at two instants of a year, winter and summer. */
function clockOf(zone: string): string {
  let clock = clocks.get(zone);
  if (clock === undefined) {
    const format = new Intl.DateTimeFormat('en', { timeZone: zone, dateStyle: 'short', timeStyle: 'short', hourCycle: 'h23' });
    clock = `${format.format(Date.UTC(2026, 0, 15))} ${format.format(Date.UTC(2026, 6, 15))}`;
    clocks.set(zone, clock);
  }
  return clock;
}

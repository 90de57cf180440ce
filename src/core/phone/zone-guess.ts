import { ZONE_NAMES, ZONE_PREFIXES } from './zone-table';

/** What is known of the numbers that begin with the digits on the way here. */
interface Branch {
  /** The zones of numbers that begin so, where the table has this prefix. */
  zones: readonly string[] | undefined;
  /** By the next digit. */
  next: (Branch | undefined)[];
}

/** The table by digits: a number is looked up without cutting it, since a plan asks for a million of them. */
const ROOT: Branch = { zones: undefined, next: [] };
for (const line of ZONE_PREFIXES) {
  const [indexes, prefixes] = line.split(':');
  for (const prefix of prefixes.split(' ')) {
    let branch = ROOT;
    for (const digit of prefix) branch = branch.next[Number(digit)] ??= { zones: undefined, next: [] };
    branch.zones = indexes.split(',').map((index) => ZONE_NAMES[Number(index)]);
  }
}
const NOWHERE: readonly string[] = [];
const ZERO = 48;

/**
 * Every IANA zone in which a number may lie, by the longest prefix that open number metadata knows (the time-zone map of
 * Google's libphonenumber). Empty for a number whose country is not known there. The same list each time for the same prefix.
 */
export function zonesOfNumber(number: string): readonly string[] {
  let zones = NOWHERE;
  let branch: Branch | undefined = ROOT;
  for (let i = number.startsWith('+') ? 1 : 0; i < number.length; i += 1) {
    branch = branch.next[number.charCodeAt(i) - ZERO];
    if (branch === undefined) break;
    zones = branch.zones ?? zones;
  }
  return zones;
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

import { Temporal } from 'temporal-polyfill';
import { edgeInstant, type QuietHours } from '../zones';

/** Hours in which a broadcast may go, in the recipient's time: days 1 (Monday) to 7, from before to; `24:00` ends a day. */
export interface AllowedHours {
  days: readonly number[];
  from: string;
  to: string;
}

/** What decides in which hours someone may be texted. Every zone counts: with a guess or no idea there are several. */
export interface HoursRule {
  zones: readonly string[];
  quiet: QuietHours;
  /** The person's own do-not-disturb hours, or null. */
  own: QuietHours | null;
  allowed: AllowedHours | null;
}

/** A stretch of time in which a text may go: from (inclusive) until (exclusive), ms. */
export interface Stretch {
  from: number;
  until: number;
}

/** Who knows the hours of a rule. */
export interface Hours {
  /** The first stretch that is not over at `at`, begun at `at` at the earliest; undefined when none is near. */
  next(rule: HoursRule, at: number, key?: string): Stretch | undefined;
}

const DAY = 86_400_000;
/** Rules are worked out for so many days at once; who finds no allowed hour within them has none. */
export const HORIZON_DAYS = 9;

/** One word for a rule; equal rules have equal keys. */
export function hoursKey(rule: HoursRule): string {
  const { quiet, own, allowed } = rule;
  return `${rule.zones.join('|')} ${quiet.from}-${quiet.to} ${own ? `${own.from}-${own.to}` : ''} ${
    allowed ? `${allowed.days.join('')}:${allowed.from}-${allowed.to}` : ''
  }`;
}

/**
 * Allowed hours, worked out once for each rule and asked many times. All wall-clock times go through the zone's real
 * offsets, so days with a clock change are right; where a zone keeps one offset over the whole horizon, plain arithmetic does.
 */
export class HoursBook implements Hours {
  private readonly known = new Map<string, { from: number; until: number; stretches: Stretch[] }>();
  private readonly offsets = new Map<string, number | null>();

  /**
   * The first stretch that is not over at `at`, begun at `at` at the earliest; undefined when there is none within the
   * horizon (zones half a day apart may leave no hour that suits all).
   */
  next(rule: HoursRule, at: number, key = hoursKey(rule)): Stretch | undefined {
    let page = this.known.get(key);
    if (!page || at < page.from || at >= page.from + 2 * DAY) {
      const from = Math.floor(at / DAY) * DAY;
      page = { from, until: from + HORIZON_DAYS * DAY, stretches: this.workOut(rule, from, from + HORIZON_DAYS * DAY) };
      if (this.known.size > 50_000) this.known.clear();
      this.known.set(key, page);
    }
    for (const stretch of page.stretches)
      if (stretch.until > at) return stretch.from >= at ? stretch : { from: at, until: stretch.until };
    return undefined;
  }

  private workOut(rule: HoursRule, from: number, until: number): Stretch[] {
    const shut: Stretch[] = [];
    for (const zone of rule.zones) {
      const first = Temporal.Instant.fromEpochMilliseconds(from).toZonedDateTimeISO(zone).toPlainDate().subtract({ days: 1 });
      const offset = this.steadyOffset(zone, from, until);
      const start = Date.UTC(first.year, first.month - 1, first.day);
      const instant = (edge: 'shuts' | 'opens', day: number, time: string): number => {
        const minutes = Number(time.slice(0, 2)) * 60 + Number(time.slice(3, 5));
        if (offset !== null) return start + day * DAY + minutes * 60_000 - offset;
        const date = first.add({ days: day + Math.floor(minutes / 1440) }).toString();
        return edgeInstant(edge, date, clock(minutes % 1440), zone);
      };
      for (let day = 0; day <= HORIZON_DAYS + 2; day += 1) {
        for (const hours of rule.own ? [rule.quiet, rule.own] : [rule.quiet]) {
          if (hours.from === hours.to) continue;
          shut.push({
            from: instant('shuts', day, hours.from),
            until: instant('opens', hours.to <= hours.from ? day + 1 : day, hours.to),
          });
        }
        if (rule.allowed) {
          const weekday = ((first.dayOfWeek - 1 + day) % 7) + 1;
          const [midnight, next] = [instant('shuts', day, '00:00'), instant('opens', day + 1, '00:00')];
          if (!rule.allowed.days.includes(weekday)) shut.push({ from: midnight, until: next });
          else
            shut.push(
              { from: midnight, until: instant('opens', day, rule.allowed.from) },
              { from: instant('shuts', day, rule.allowed.to), until: next },
            );
        }
      }
    }
    return complement(shut, from, until);
  }

  /** Milliseconds east of UTC, when the zone's clock is not changed in the span; else null. */
  private steadyOffset(zone: string, from: number, until: number): number | null {
    const key = `${zone} ${from}`;
    let known = this.offsets.get(key);
    if (known === undefined) {
      known = offsetAt(zone, from - 2 * DAY);
      for (let at = from - DAY; at <= until + 3 * DAY && known !== null; at += DAY)
        if (offsetAt(zone, at) !== known) known = null;
      if (this.offsets.size > 5000) this.offsets.clear();
      this.offsets.set(key, known);
    }
    return known;
  }
}

function clock(minutes: number): string {
  return `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`;
}

function offsetAt(zone: string, at: number): number {
  return Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(zone).offsetNanoseconds / 1e6;
}

/** What is left of a span when the shut stretches are taken out. */
function complement(shut: Stretch[], from: number, until: number): Stretch[] {
  shut.sort((a, b) => a.from - b.from);
  const open: Stretch[] = [];
  let at = from;
  for (const each of shut) {
    if (each.until <= at) continue;
    if (each.from > at) open.push({ from: at, until: Math.min(each.from, until) });
    at = Math.max(at, each.until);
    if (at >= until) break;
  }
  if (at < until) open.push({ from: at, until });
  return open;
}

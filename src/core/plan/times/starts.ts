import type { Draft } from '../draft/draft';
import { TAKEBACK_SECONDS, usefulDays, type When } from './when';
import { shownTime } from './shown-time';
import { localInstant, wallClock } from '../../zones';

const DAY = 86_400_000;

/** When each group of recipients may begin, and what follows from all of them together. */
export interface Starts {
  /** For each group, ms. */
  of: number[];
  /** The earliest of all: the run's own start. */
  base: number;
  notAfter: number;
  wrong: When['wrong'];
}

/**
 * A time in each recipient's own zone begins a group at its own instant; else all begin at one. A zone in which the time is past
 * already is told with the next day on which it is not: nobody gets at three what was meant for nine.
 *
 * @param zones for each group, the zone that it is shown in, and how many people it has
 * @param lateBy planned by the server, which was away: where the time is past by no more than so long (ms) it goes at once, and where
 *   by more, not any more; the others have theirs
 */
export function startsOf(
  draft: Pick<Draft, 'when' | 'no_use_after' | 'allowed'>,
  when: When,
  zones: readonly { zone: string; people: number }[],
  now: number,
  hours: '12' | '24' = '24',
  lateBy?: number,
): Starts {
  const at = draft.when;
  if (at.kind !== 'at' || at.own !== true || zones.length === 0)
    return { of: zones.map(() => when.base), base: when.base, notAfter: when.notAfter, wrong: [] };
  const starts = zones.map(({ zone }) => instantIn(at, zone) ?? when.base);
  const tooLate = starts.map((start) => lateBy !== undefined && now - start > lateBy);
  const past = zones.filter((_, i) => (lateBy === undefined ? starts[i] <= now : tooLate[i]));
  const wrong: When['wrong'] = [];
  if (past.length > 0 && (lateBy === undefined || past.length === zones.length)) {
    const people = past.reduce((sum, each) => sum + each.people, 0);
    wrong.push({
      message: `It is past ${shownTime(at.time, hours)} already where ${people.toLocaleString('en-US')} of them ${people === 1 ? 'is' : 'are'}.`,
      instead: nextFree(at, zones, now),
    });
  }
  const of = starts.map((start) => Math.max(start, now + TAKEBACK_SECONDS * 1000));
  const going = tooLate.includes(false) ? of.filter((_, i) => !tooLate[i]) : of;
  const base = Math.min(...going);
  const last = Math.max(...going);
  const notAfter = draft.no_use_after ? when.notAfter : last + usefulDays(draft) * DAY;
  // nothing of theirs is left to go
  for (let i = 0; i < of.length; i += 1) if (tooLate[i]) of[i] = notAfter;
  if (draft.no_use_after && notAfter <= base) wrong.push({ message: '“No use after” comes before it would go.' });
  return { of, base, notAfter, wrong };
}

function instantIn(at: { date: string; time: string }, zone: string): number | undefined {
  try {
    return localInstant(at.date, at.time, zone).instant;
  } catch {
    return undefined;
  }
}

/** The first day on which the same time is still to come in every zone. */
function nextFree(at: { time: string }, zones: readonly { zone: string }[], now: number): { date: string; time: string } {
  const from = wallClock(now, zones[0].zone).date;
  for (let day = 0; day < 4; day += 1) {
    const date = new Date(Date.parse(`${from}T00:00:00Z`) + day * DAY).toISOString().slice(0, 10);
    if (zones.every(({ zone }) => (instantIn({ date, time: at.time }, zone) ?? 0) > now)) return { date, time: at.time };
  }
  return { date: from, time: at.time };
}

import ical, { ICalEventStatus } from 'ical-generator';
import type { Draft } from '../../core/plan/draft/draft';
import { datesFrom } from '../../core/plan/times/upcoming';
import { localInstant, wallClock } from '../../core/zones';
import { oneLine } from '../../core/text/tidy';

/** A run as it stands in a calendar. */
export interface CalendarRun {
  id: number;
  name: string;
  state: string;
  people: number;
  first: string;
  last: string;
}
/** A repeated broadcast, with the next date that has no run yet. */
export interface CalendarSeries {
  id: number;
  name: string;
  when: Draft['when'];
  next_date: string;
}

/** Dates of a repeated broadcast that stand in the calendar. */
const AHEAD = 12;
const SHORTEST = 15 * 60_000;

/**
 * What is scheduled as iCalendar (RFC 5545), every moment in UTC (§3.3.5, form 2): calendars then need no zone of ours. The same run
 * keeps its UID, so that it is moved and not doubled.
 */
export function calendarFeed(of: {
  workspace: string;
  zone: string;
  address: string;
  runs: readonly CalendarRun[];
  series: readonly CalendarSeries[];
  now: number;
}): string {
  const host = of.address.replace(/^https?:\/\//, '').replace(/\/$/, '') || 'localhost';
  const calendar = ical({
    // the package does not write a line end in a name as §3.3.11 has it
    name: `${oneLine(of.workspace)}, broadcasts`,
    prodId: { company: 'Yellow Bell', product: 'Broadcasts', language: 'EN' },
    ttl: 900,
  });
  const stamp = new Date(of.now);
  const span = (first: number, last: number) => ({ start: new Date(first), end: new Date(Math.max(last, first + SHORTEST)) });
  for (const run of of.runs) {
    const people = run.people === 1 ? '1 person' : `${run.people.toLocaleString('en-US')} people`;
    calendar.createEvent({
      id: `run-${run.id}@${host}`,
      stamp,
      ...span(Date.parse(run.first), Date.parse(run.last)),
      summary: `${oneLine(run.name) || 'no name'}, ${people}`,
      description: `${run.state === 'waiting' ? 'scheduled' : run.state}, ${people}`,
      status: run.state === 'missed' || run.state === 'stopped' ? ICalEventStatus.CANCELLED : ICalEventStatus.CONFIRMED,
      url: `${of.address.replace(/\/$/, '')}/runs/${run.id}`,
    });
  }
  for (const { id, name, when, next_date } of of.series) {
    if (when.kind !== 'at') continue;
    for (const date of datesFrom(when, next_date, AHEAD)) {
      const { instant } = localInstant(date, when.time, of.zone);
      calendar.createEvent({
        id: `broadcast-${id}-${date}@${host}`,
        stamp,
        ...span(instant, instant),
        summary: `${oneLine(name) || 'no name'}, again`,
        description: `counted anew shortly before, ${wallClock(instant, of.zone).time} ${of.zone}`,
        status: ICalEventStatus.TENTATIVE,
        url: `${of.address.replace(/\/$/, '')}/broadcasts/${id}`,
      });
    }
  }
  return calendar.toString();
}

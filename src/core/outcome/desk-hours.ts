import { wallClock } from '../zones';

/** When somebody is at the desk: days 1 (Monday) to 7, from before to, in the workspace's zone; a `to` before `from` is past midnight. */
export interface DeskHours {
  days: readonly number[];
  from: string;
  to: string;
}

/** Whether somebody is at the desk at an instant (ms). Of hours past midnight the day they began on counts. */
export function atDesk(hours: DeskHours, now: number, zone: string): boolean {
  const { date, time } = wallClock(now, zone);
  const day = dayOfWeek(date);
  const yesterday = day === 1 ? 7 : day - 1;
  if (hours.from <= hours.to) return hours.days.includes(day) && time >= hours.from && time < hours.to;
  return (hours.days.includes(day) && time >= hours.from) || (hours.days.includes(yesterday) && time < hours.to);
}

/** ISO 8601 day of the week of a date. */
function dayOfWeek(date: string): number {
  const day = new Date(`${date}T00:00:00Z`).getUTCDay();
  return day === 0 ? 7 : day;
}

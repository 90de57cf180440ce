import { formatDay } from '../../merge/date-pattern';

type Hours = '12' | '24';

/** A wall-clock time as the workspace writes it: 4:30 PM or 16:30. @param time `HH:MM` */
export function shownTime(time: string, hours: Hours): string {
  if (hours === '24') return time.slice(0, 5);
  const hour = Number(time.slice(0, 2));
  return `${hour % 12 || 12}:${time.slice(3, 5)} ${hour < 12 ? 'AM' : 'PM'}`;
}

/** A wall-clock moment as people say it: Thu, Dec 3, 11:01 AM. */
export function shownMoment({ date, time }: { date: string; time: string }, hours: Hours): string {
  return `${formatDay(date, 'EEE, MMM d', 'en')}, ${shownTime(time, hours)}`;
}

import { wallClock } from '../../core/zones';

/** What stands in a cell of a file that is handed out: text, a number, a day, or a moment as the clock of a zone shows it. */
export type Cell = string | number | null | undefined | { day: string } | { at: string; zone: string };

/** A moment on the clock of a zone: `2026-12-02 16:30:05`. The zone stands in the heading. */
export function localTime(at: string, zone: string): string {
  const { date, minutes } = wallClock(Date.parse(at), zone);
  const seconds = Math.floor(Date.parse(at) / 1000) % 60;
  const two = (n: number) => String(n).padStart(2, '0');
  return `${date} ${two(Math.floor(minutes / 60))}:${two(minutes % 60)}:${two(seconds)}`;
}

/** A cell where there is only text (CSV). */
export function cellText(cell: Cell): string {
  if (cell === null || cell === undefined) return '';
  if (typeof cell === 'object') return 'day' in cell ? cell.day : localTime(cell.at, cell.zone);
  return String(cell);
}

const DAY = 86_400_000;
/** Day 0 of the 1900 date system as programs count it from March 1900 on (ECMA-376 part 1, §18.17.4.1). */
const DAY_ZERO = Date.UTC(1899, 11, 30);
/** Before it programs disagree, since one of them counts a February 29, 1900. */
const FIRST_SERIAL = 61;

/** A day or a local time as a workbook counts it, in days; undefined where programs would not agree on it: then it is text. */
export function serialOf(cell: { day: string } | { at: string; zone: string }): number | undefined {
  const utc = Date.parse('day' in cell ? `${cell.day}T00:00:00Z` : `${localTime(cell.at, cell.zone).replace(' ', 'T')}Z`);
  const serial = (utc - DAY_ZERO) / DAY;
  return Number.isFinite(serial) && serial >= FIRST_SERIAL ? serial : undefined;
}

import { Temporal } from 'temporal-polyfill';

export const WEEKDAYS = ['monday', 'tuesday', 'wednesday', 'thursday', 'friday', 'saturday', 'sunday'] as const;
export type Unit = 'day' | 'week' | 'month';

/** How a date moves: so many days, weeks or months on or back, or to the next such weekday (1 is Monday, as in ISO 8601). */
export type Move = { by: number; unit: Unit } | { next: number };

/**
 * Moves a calendar day. A month on from the 31st is the last day of a shorter month; the next Friday of a Friday is a week later.
 *
 * @param day `YYYY-MM-DD`
 */
export function movedDay(day: string, move: Move): string {
  const from = Temporal.PlainDate.from(day);
  if ('next' in move) return from.add({ days: ((move.next - from.dayOfWeek + 6) % 7) + 1 }).toString();
  return from.add({ [`${move.unit}s`]: move.by }).toString();
}

/** As it stands in a placeholder, with the space before it: ` + 2 weeks`, ` next friday`. */
export function moveSource(move: Move | undefined): string {
  if (!move) return '';
  if ('next' in move) return ` next ${WEEKDAYS[move.next - 1]}`;
  return ` ${move.by < 0 ? '-' : '+'} ${Math.abs(move.by)} ${move.unit}${Math.abs(move.by) === 1 ? '' : 's'}`;
}

/** In words for people: `+ 2 weeks`, `1 month before`, `the next Friday`. */
export function moveWords(move: Move | undefined): string {
  if (!move) return '';
  if ('next' in move) {
    const name = WEEKDAYS[move.next - 1];
    return `the next ${name.charAt(0).toUpperCase()}${name.slice(1)}`;
  }
  const much = `${Math.abs(move.by)} ${move.unit}${Math.abs(move.by) === 1 ? '' : 's'}`;
  return move.by < 0 ? `${much} before` : `+ ${much}`;
}

/** Reads what `moveSource` writes, of a placeholder's matched groups. */
export function readMove(groups: Record<string, string | undefined>): Move | undefined {
  const { sign, count, unit, weekday } = groups;
  if (weekday !== undefined) return { next: WEEKDAYS.indexOf(weekday as (typeof WEEKDAYS)[number]) + 1 };
  if (count === undefined || unit === undefined) return undefined;
  return { by: (sign === '-' ? -1 : 1) * Number(count), unit: unit as Unit };
}

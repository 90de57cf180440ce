import { Temporal } from 'temporal-polyfill';
import { fold } from '../text/fold';

const MONTHS: Record<string, number> = {};
const NAMES = [
  ['jan', 'january', 'janvier', 'enero', 'ene'],
  ['feb', 'february', 'fevrier', 'fev', 'febrero'],
  ['mar', 'march', 'mars', 'marzo'],
  ['apr', 'april', 'avril', 'avr', 'abril', 'abr'],
  ['may', 'mai', 'mayo'],
  ['jun', 'june', 'juin', 'junio'],
  ['jul', 'july', 'juillet', 'juil', 'julio'],
  ['aug', 'august', 'aout', 'agosto', 'ago'],
  ['sep', 'sept', 'september', 'septembre', 'septiembre'],
  ['oct', 'october', 'octobre', 'octubre'],
  ['nov', 'november', 'novembre', 'noviembre'],
  ['dec', 'december', 'decembre', 'diciembre', 'dic'],
];
NAMES.forEach((names, month) => names.forEach((name) => (MONTHS[name] = month + 1)));

/**
 * A calendar day (`YYYY-MM-DD`) from what people and spreadsheets write: ISO 8601, `3/9/2027` (day first or month first,
 * as told), `9 mars 2027`, `Mar 9, 2027`; a time behind it is left off. Undefined when it is no day that exists.
 */
export function dayOf(text: string, dayFirst: boolean): string | undefined {
  const bare = fold(text).replace(/[T ]\d{1,2}:\d{2}.*$/i, '');
  const iso = /^(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})$/.exec(bare);
  if (iso) return exists(Number(iso[1]), Number(iso[2]), Number(iso[3]));
  const numeric = /^(\d{1,2})[-/.](\d{1,2})[-/.](\d{4}|\d{2})$/.exec(bare);
  if (numeric) {
    const [a, b] = [Number(numeric[1]), Number(numeric[2])];
    const year = numeric[3].length === 4 ? Number(numeric[3]) : 2000 + Number(numeric[3]);
    return dayFirst ? exists(year, b, a) : exists(year, a, b);
  }
  const words =
    /^(?:(\d{1,2})(?:st|nd|rd|th|er)?\.?[ -](?:de )?([a-z]+)\.?,?[ -](?:de )?(\d{4})|([a-z]+)\.? (\d{1,2})(?:st|nd|rd|th)?,? (\d{4}))$/.exec(
      bare,
    );
  if (!words) return undefined;
  const month = MONTHS[words[2] ?? words[4]];
  return month === undefined ? undefined : exists(Number(words[3] ?? words[6]), month, Number(words[1] ?? words[5]));
}

function exists(year: number, month: number, day: number): string | undefined {
  try {
    return Temporal.PlainDate.from({ year, month, day }, { overflow: 'reject' }).toString();
  } catch {
    return undefined;
  }
}

/**
 * A birth date out of what people write. It is never in the future, so of a year of two digits only a century that has been
 * can be meant: `3/9/58` is 1958. Where both centuries are possible (`3/9/12`), `century` decides, and without it the answer
 * is `two`: it is asked, never guessed.
 *
 * @param today `YYYY-MM-DD`
 */
export function bornOf(text: string, dayFirst: boolean, today: string, century?: '19' | '20'): string | undefined | 'two' {
  const short = /^(\s*\d{1,2}[-/.]\d{1,2}[-/.])(\d{2})(?=\s*$|\s)/.exec(text);
  const past = (day: string | undefined) => (day !== undefined && day <= today ? day : undefined);
  if (!short) return past(dayOf(text, dayFirst));
  const [earlier, later] = ['19', '20'].map((first) => past(dayOf(`${short[1]}${first}${short[2]}`, dayFirst)));
  if (earlier === undefined || later === undefined) return later ?? earlier;
  return century === undefined ? 'two' : century === '20' ? later : earlier;
}

/** True when day and month could be told either way round: `3/9/2027`. */
export function isAmbiguousDay(text: string): boolean {
  const numeric = /^\s*(\d{1,2})[-/.](\d{1,2})[-/.](\d{4}|\d{2})/.exec(text);
  return numeric !== null && Number(numeric[1]) <= 12 && Number(numeric[2]) <= 12 && numeric[1] !== numeric[2];
}

/** Full years from one day to another, both `YYYY-MM-DD`. */
export function yearsBetween(born: string, today: string): number {
  return Temporal.PlainDate.from(born).until(Temporal.PlainDate.from(today), { largestUnit: 'year' }).years;
}

/** The day so many days after (or, negative, before) a day. */
export function addDays(day: string, days: number): string {
  return Temporal.PlainDate.from(day).add({ days }).toString();
}

import { parse as parseArray } from 'postgres-array';
import type { Param } from './db';

/**
 * The one place where values change form between JavaScript and PostgreSQL, so that both engines give and take the same.
 * Parameters travel as PostgreSQL's text form; results are parsed from it.
 */

/** A parameter in PostgreSQL's text form; null stays null. */
export function toText(value: Param): string | null {
  if (value === null || value === undefined) return null;
  if (typeof value === 'string') return value.includes('\0') ? value.replaceAll('\0', '') : value;
  if (typeof value === 'object') return value instanceof Date ? value.toISOString() : arrayText(value);
  return String(value);
}

/** One-dimensional array literal with every element but numbers quoted, so that commas, quotes and the word NULL are safe. */
function arrayText(values: readonly Param[]): string {
  return `{${values
    .map((value) => {
      if (typeof value === 'number') return String(value);
      const text = toText(value);
      if (text === null) return 'NULL';
      return `"${/[\\"]/.test(text) ? text.replace(/[\\"]/g, '\\$&') : text}"`;
    })
    .join(',')}}`;
}

/** A value of a COPY … (FORMAT text) line. */
export function toCopyText(value: Param): string {
  const text = toText(value);
  if (text === null) return '\\N';
  return /[\\\t\n\r]/.test(text)
    ? text.replace(/[\\\t\n\r]/g, (c) => (c === '\\' ? '\\\\' : c === '\t' ? '\\t' : c === '\n' ? '\\n' : '\\r'))
    : text;
}

function int8(text: string): number {
  const value = Number(text);
  if (!Number.isSafeInteger(value)) throw new RangeError(`The database holds the number ${text}, which is beyond 2^53.`);
  return value;
}

/** "2026-12-02 20:50:00.123456+00", of which milliseconds are kept; the sessions' zone is UTC. */
function instant(text: string): string {
  const parts = /^(\d{4}-\d\d-\d\d) (\d\d:\d\d:\d\d)(?:\.(\d{1,3})\d*)?\+00$/.exec(text);
  if (parts) return `${parts[1]}T${parts[2]}.${(parts[3] ?? '').padEnd(3, '0')}Z`;
  return new Date(text.replace(' ', 'T').replace(/([+-]\d\d)$/, '$1:00')).toISOString();
}
const identity = (text: string): string => text;
const arrayOf =
  <T>(element: (text: string) => T) =>
  (text: string): (T | null)[] =>
    parseArray(text, (value) => (value === null ? null : element(value))) as (T | null)[];

/** OID → parser of the text form. What is not listed stays text. */
export const PARSERS: Readonly<Record<number, (text: string) => unknown>> = {
  16: (text) => text === 't' || text === 'true',
  20: int8,
  21: Number,
  23: Number,
  26: Number,
  700: Number,
  701: Number,
  114: JSON.parse,
  3802: JSON.parse,
  1184: instant,
  17: identity,
  1082: identity,
  1114: identity,
  1186: identity,
  1700: identity,
  1000: arrayOf((text) => text === 't'),
  1005: arrayOf(Number),
  1007: arrayOf(Number),
  1016: arrayOf(int8),
  1009: arrayOf(identity),
  1015: arrayOf(identity),
  1185: arrayOf(instant),
};

import { Ajv, type ErrorObject, type ValidateFunction } from 'ajv';
import addFormats from 'ajv-formats';
import { Type, type TSchema } from 'typebox';
import { notFitting, placeInWords } from '../../core/api/not-fitting';
import { brokenPlace } from '../../core/text/tidy';
import { ownKey } from './bounded';
import { closed } from './closed';
import { Problem } from './problem';
import type { Route } from './route';

const bodies = addFormats.default(new Ajv({ allErrors: false, coerceTypes: false }));
// what stands in an address is text: numbers are read from it
const queries = addFormats.default(new Ajv({ allErrors: false, coerceTypes: true }));

/** What a route is checked by, each compiled when it is first needed and kept: there are hundreds, and few are asked in a day. */
export interface Checks {
  body: () => Check;
  query: () => ReturnType<typeof checkQuery>;
  answer: () => Check;
}
const kept = new WeakMap<Route, Checks>();

export function checksOf(route: Route): Checks {
  const known = kept.get(route);
  if (known) return known;
  const checks: Checks = {
    body: once(() => checkBody(route.body)),
    query: once(() => checkQuery(route.query, !route.path.startsWith('/api/'))),
    // what is sent as a file or a page has no schema
    answer: once(() => (route.gives === 'answer' ? checkAnswer(route) : () => undefined)),
  };
  kept.set(route, checks);
  return checks;
}

function once<T>(make: () => T): () => T {
  let made: { value: T } | undefined;
  return () => (made ??= { value: make() }).value;
}

/** Checks what was asked against its schema. @throws Problem 400 with the place, or 422 for text that no text may hold */
export type Check = (asked: unknown) => void;

/** Holds an answer against what its endpoint says it answers. @throws Error that names the place */
function checkAnswer(endpoint: { method: string; path: string; answer: TSchema }): Check {
  const validate = bodies.compile(endpoint.answer);
  return (answer) => {
    // as it goes over the wire: what is undefined is left out
    if (validate(JSON.parse(JSON.stringify(answer ?? {})))) return;
    const [first] = validate.errors ?? [];
    throw new Error(
      `${endpoint.method} ${endpoint.path} answers otherwise than it says: ${first.instancePath} ${first.message} ${JSON.stringify(first.params)}`,
    );
  };
}

/** Whether a value is one of a schema's: of what comes in elsewhere than in a body, a rule in an address. */
export function fitting(schema: TSchema): (value: unknown) => boolean {
  const validate = once(() => bodies.compile(schema));
  return (value) => validate()(value);
}

export function checkBody(schema: TSchema | undefined): Check {
  const validate = schema && bodies.compile(closed(schema));
  return (body) => {
    const own = ownKey(body);
    if (own !== undefined)
      throw new Problem(400, 'request', `“${own}” is no key that there is.`, { place: own, kept: 'Nothing was changed.' });
    if (validate) fits(validate, body, 'body');
    const large = beyond(body);
    if (large !== undefined)
      throw new Problem(400, 'request', 'A number in the request is larger than any there is.', { place: large });
    refuseBroken(body);
  };
}

/** The query's values as their schema has them. @param open what it does not name is left as it is: others add to addresses in texts */
export function checkQuery(
  schema: TSchema | undefined,
  open = false,
): (query: Record<string, unknown>) => Record<string, unknown> {
  const validate = queries.compile(open ? (schema ?? Type.Unknown()) : closed(schema ?? Type.Object({})));
  const numbers = numbersOf(schema);
  return (query) => {
    const read = { ...query };
    for (const key of numbers) {
      const value = read[key];
      // what else JavaScript reads as a number (0x1, 1e3, Infinity) is none in an address
      if (typeof value === 'string' && !/^-?\d{1,16}(?:\.\d{1,9})?$/.test(value))
        throw new Problem(400, 'request', `The request does not fit: ${placeInWords(`/${key}`)} must be a number in digits.`, {
          place: key,
        });
    }
    fits(validate, read, 'address');
    refuseBroken(read);
    return read;
  };
}

/** The keys of an address that hold numbers. */
function numbersOf(schema: TSchema | undefined): string[] {
  const { properties = {} } = (schema ?? {}) as { properties?: Record<string, { type?: string }> };
  return Object.keys(properties).filter((key) => ['integer', 'number'].includes(properties[key].type ?? ''));
}

/** @throws Problem 400: what does not fit and why, as one would say it; where it is, for programs, beside it */
function fits(validate: ValidateFunction, asked: unknown, whole: string): void {
  if (validate(asked)) return;
  const first = validate.errors?.[0];
  const path = first?.instancePath ?? '';
  const place = path.slice(1).replaceAll('/', '.');
  throw new Problem(400, 'request', first ? sentence(first, path, asked, whole) : 'The request does not fit.', { place });
}

function sentence(error: ErrorObject, path: string, asked: unknown, whole: string): string {
  const { missingProperty, additionalProperty } = error.params as { missingProperty?: string; additionalProperty?: string };
  if (missingProperty !== undefined) return `The request does not fit: ${placeInWords(`/${missingProperty}`)} is missing.`;
  if (additionalProperty !== undefined) return `The request does not fit: “${additionalProperty}” is no key that there is.`;
  return `The request does not fit: ${placeInWords(path) || `the ${whole}`}. ${notFitting(error, valueAt(asked, path))}`;
}

function valueAt(asked: unknown, path: string): unknown {
  return path
    .split('/')
    .slice(1)
    .reduce<unknown>((value, key) => (typeof value === 'object' && value !== null ? Reflect.get(value, key) : undefined), asked);
}

/** What no database keeps is refused with its place, whatever it is a part of. */
export function refuseBroken(asked: unknown): void {
  const place = brokenPlace(asked);
  if (place !== undefined)
    throw new Problem(422, 'text', 'The text holds a character that is none (a NUL, or half of one).', { place });
}

/** The place of a number beyond 2^53, where whole numbers end (ECMA-262, §21.1.2.6); JSON can hold any. */
function beyond(value: unknown, at = ''): string | undefined {
  if (typeof value === 'number') return Math.abs(value) > Number.MAX_SAFE_INTEGER ? at || 'body' : undefined;
  if (value === null || typeof value !== 'object') return undefined;
  for (const [key, each] of Object.entries(value)) {
    const place = beyond(each, at === '' ? key : `${at}.${key}`);
    if (place !== undefined) return place;
  }
  return undefined;
}

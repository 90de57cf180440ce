import { Type, type Static, type TObject, type TSchema } from 'typebox';
import type { Role } from './roles';
import { Shape } from './shapes';
import type { Topic } from './topics';

export type Method = 'get' | 'post' | 'put' | 'delete';

/** How often something may be asked; counted in the server's process, from the first time on. */
export interface Limit {
  most: number;
  seconds: number;
  /**
   * Whom it counts for: where it comes from, the session, or, where an account is asked for by its e-mail address, a device that has
   * signed in to it before; a stranger’s tries count by the address, by where they come from, and by both, and not for such a device.
   */
  by: 'origin' | 'session' | 'device' | 'stranger’s origin' | 'stranger’s address' | 'stranger’s address and origin';
  /** Only what was refused counts: right answers are not limited. */
  refusedOnly?: boolean;
}

/** What an endpoint gives: an answer by its schema, a file to keep, or another address to go on to. */
export type Gives = 'answer' | 'file' | 'address' | 'page';

/** Nothing but that it was done. */
const Done = Shape({});
type Done = typeof Done;

/**
 * One thing that can be asked of the server, as both sides know it: where, by whom, with what, and what is answered. The
 * server's route and the web's call are made from this same object, so no path and no answer is written twice.
 */
export interface Endpoint<
  Path extends string = string,
  Query extends TSchema = TSchema,
  Body extends TSchema = TSchema,
  Answer extends TSchema = TSchema,
  G extends Gives = Gives,
> {
  readonly method: Method;
  readonly path: Path;
  /** The least role; `anyone` needs no sign-in. */
  readonly role: Role | 'anyone';
  readonly says: string;
  /** What may stand behind the question mark; numbers are read from it. */
  readonly query?: Query;
  readonly body?: Body;
  readonly answer: Answer;
  readonly gives: G;
  /** A raw upload of at most so many bytes, streamed to a file, instead of JSON. */
  readonly upload?: number;
  readonly limits?: readonly Limit[];
  /** It is asked anew when one of these changes. */
  readonly live: readonly Topic[];
  /** These change when it is done. */
  readonly changes: readonly Topic[];
}

interface Declared<Path, Query, Body, Answer> {
  method: Method;
  path: Path;
  role: Role | 'anyone';
  says: string;
  query?: Query;
  body?: Body;
  answer?: Answer;
  upload?: number;
  limits?: readonly Limit[];
  live?: readonly Topic[];
  changes?: readonly Topic[];
}

/** Declares what can be asked. Without an answer's schema it answers an empty object. */
export function endpoint<
  const Path extends string,
  Query extends TSchema = TObject<Record<never, never>>,
  Body extends TSchema = TObject<Record<never, never>>,
  Answer extends TSchema = Done,
>(declared: Declared<Path, Query, Body, Answer>): Endpoint<Path, Query, Body, Answer, 'answer'> {
  return { live: [], changes: [], ...declared, answer: declared.answer ?? (Done as unknown as Answer), gives: 'answer' };
}

/** Declares a file that can be fetched. */
export function fileEndpoint<const Path extends string, Query extends TSchema = TObject<Record<never, never>>>(
  declared: Omit<Declared<Path, Query, TSchema, TSchema>, 'method' | 'body' | 'answer' | 'live' | 'changes'>,
): Endpoint<Path, Query, TSchema, TSchema, 'file'> {
  return { method: 'get', live: [], changes: [], answer: Type.Unknown(), gives: 'file', ...declared };
}

/** The names of what a path is asked with: `/api/people/:id` has `id`. */
export type ParamsOf<Path extends string> = Path extends `${string}:${infer Name}/${infer Rest}`
  ? Name | ParamsOf<`/${Rest}`>
  : Path extends `${string}:${infer Name}`
    ? Name
    : never;

/** What an endpoint answers. */
export type Answer<E> = E extends Endpoint<string, TSchema, TSchema, infer A> ? Static<A> : never;
/** What it is asked with. */
export type BodyOf<E> = E extends Endpoint<string, TSchema, infer B> ? Static<B> : never;
/** What a call says: parameters of the path, the query, the body. What an endpoint does not have is left out. */
export type Call<Path extends string, Query extends TSchema, Body extends TSchema> = ([ParamsOf<Path>] extends [never]
  ? { params?: undefined }
  : { params: Record<ParamsOf<Path>, string | number> }) & { query?: Static<Query>; body?: Static<Body> };

/** The address of a call: parameters and query in their places, encoded (RFC 3986). What is undefined is left out. */
export function addressOf(
  path: string,
  call: { params?: Readonly<Record<string, string | number>>; query?: unknown } = {},
): string {
  const filled = path.replace(/:([a-z_]+)/g, (_, name: string) => encodeURIComponent(String(call.params?.[name] ?? '')));
  const query = new URLSearchParams();
  for (const [key, value] of Object.entries(call.query ?? {}))
    if (typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean') query.set(key, String(value));
  const asked = query.toString();
  return asked === '' ? filled : `${filled}?${asked}`;
}

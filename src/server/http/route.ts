import type { Static, TSchema } from 'typebox';
import type { Role } from '../../core/api/roles';
import type { App } from './app-context';
import type { Limit } from './limits';

export interface Account {
  id: number;
  name: string;
  email: string;
  role: Role;
  own_number: string | null;
}

export interface Asked<Body, Query = Record<string, string | undefined>> {
  params: Record<string, string>;
  query: Query;
  body: Body;
  /** Who asks; undefined only on routes open to nobody in particular. */
  account: Account | undefined;
  /** The moment of asking, ms. */
  now: number;
  at: string;
  /** For sign-in: cookies are set through this. */
  cookie(name: string, value: string, maxAgeMs: number): void;
  token: string | undefined;
  /** HEAD: someone looks what is there, and nothing is to happen (RFC 9110, §9.2.1). */
  looking: boolean;
}

/** A file answer: served as a download. A long one is given piece by piece, so that memory does not grow with it. */
export class Download {
  constructor(
    readonly name: string,
    readonly type: string,
    readonly body: string | Uint8Array | AsyncIterable<string | Uint8Array>,
  ) {}
}

/** A body that was streamed to a file; it is removed once the answer is given, unless it was moved away. */
export interface Upload {
  path: string;
  size: number;
}

export interface Route {
  method: 'get' | 'post' | 'put' | 'patch' | 'delete';
  path: string;
  /** The least role; `anyone` needs no sign-in. */
  role: Role | 'anyone';
  says: string;
  body?: TSchema;
  /** What may stand behind the question mark, where it is more than text; numbers are read from it. */
  query?: TSchema;
  /** How often it may be asked. */
  limits?: readonly Limit[];
  /** A raw upload of at most so many bytes, streamed to a file, instead of JSON. */
  upload?: number;
  handle(app: App, asked: Asked<never>): Promise<unknown>;
}

/** Declares a route with its body typed by its schema. */
export function route<S extends TSchema>(
  declared: Omit<Route, 'handle' | 'body'> & { body: S; handle(app: App, asked: Asked<Static<S>>): Promise<unknown> },
): Route;
export function route<Q extends TSchema>(
  declared: Omit<Route, 'handle' | 'body' | 'query'> & {
    query: Q;
    handle(app: App, asked: Asked<undefined, Static<Q>>): Promise<unknown>;
  },
): Route;
export function route(
  declared: Omit<Route, 'handle' | 'body'> & { handle(app: App, asked: Asked<Upload>): Promise<unknown> },
): Route;
export function route(declared: unknown): Route {
  return declared as Route;
}

/** The account, where the route's role guarantees one. */
export function who(asked: { account: Account | undefined }): Account {
  if (!asked.account) throw new Error('A route that needs an account was declared open.');
  return asked.account;
}

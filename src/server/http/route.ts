import type { openerOf } from './opener';
import type { Static, TSchema } from 'typebox';
import type { Endpoint, Gives, ParamsOf } from '../../core/api/endpoint';
import type { Role } from '../../core/api/roles';
import type { App } from '../app-context';
import { nothingHere } from '../../core/api/refusal';

export interface Account {
  id: number;
  name: string;
  email: string;
  role: Role;
  own_number: string | null;
  /** Where they work, as it stands in texts they write; '' when they have not said. */
  place: string;
}

/** A body that was streamed to a file; it is removed once the answer is given, unless it was moved away. */
export interface Upload {
  path: string;
  size: number;
}

export interface Asked<Body = unknown, Query = unknown, Params extends string = string> {
  params: Record<Params, string>;
  query: Query;
  body: Body;
  /** Of endpoints that take a file. */
  upload: Upload | undefined;
  /** Who asks; undefined only on routes open to nobody in particular. */
  account: Account | undefined;
  /** The moment of asking, ms. */
  now: number;
  at: string;
  /** For sign-in: cookies are set through this. */
  cookie(name: string, value: string, maxAgeMs: number): void;
  token: string | undefined;
  /** `looks` is a HEAD: someone looks what is there, and nothing is to happen (RFC 9110, §9.2.1). */
  opener: ReturnType<typeof openerOf>;
}

/** A file answer: served as a download. A long one is given piece by piece, so that memory does not grow with it. */
export class Download {
  constructor(
    readonly name: string,
    readonly type: string,
    readonly body: string | Uint8Array | AsyncIterable<string | Uint8Array>,
  ) {}
}

/** A page for somebody without an account; written with the nonce of its response. */
export class Page {
  constructor(readonly html: (nonce: string) => string) {}
}

/** What a handler gives back: the endpoint's answer, a file, a page, or an address to go on to. */
type Given<A extends TSchema, G extends Gives> = G extends 'file'
  ? Download
  : G extends 'address'
    ? URL
    : G extends 'page'
      ? Page
      : Static<A>;

/** An endpoint with what answers it. */
export type Route = Endpoint & { handle(app: App, asked: Asked<never, never>): Promise<unknown> };

/** Answers an endpoint of the contract: its body and query come in by their schemas, and the answer goes out by its. */
export function route<Path extends string, Q extends TSchema, B extends TSchema, A extends TSchema, G extends Gives>(
  endpoint: Endpoint<Path, Q, B, A, G>,
  handle: (app: App, asked: Asked<Static<B>, Static<Q>, ParamsOf<Path>>) => Promise<Given<A, G>>,
): Route {
  return { ...endpoint, handle } as unknown as Route;
}

/** The account, where the route's role guarantees one. */
export function who(asked: { account: Account | undefined }): Account {
  if (!asked.account) throw new Error('A route that needs an account was declared open.');
  return asked.account;
}

/** The file of an endpoint that takes one. */
export function fileOf(asked: { upload: Upload | undefined }): Upload {
  if (!asked.upload) throw new Error('A route that takes a file was declared without one.');
  return asked.upload;
}

/** An id from the address; anything else is "nothing here". */
export function idOf(text: string | undefined): number {
  // digits and nothing else: what else JavaScript reads as a number is another way of writing the same
  if (text === undefined || !/^[1-9]\d{0,15}$/.test(text) || !Number.isSafeInteger(Number(text))) throw nothingHere();
  return Number(text);
}

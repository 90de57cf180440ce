import {
  keepPreviousData,
  useInfiniteQuery,
  useQuery,
  useQueryClient,
  type InfiniteData,
  type QueryClient,
  type UseInfiniteQueryResult,
  type UseQueryResult,
} from '@tanstack/react-query';
import { useCallback } from 'react';
import type { Static, TSchema } from 'typebox';
import { addressOf, type Call, type Endpoint, type Gives } from '../../core/api/endpoint';
import type { Topic } from '../../core/api/topics';
import { tellAway } from './away';

/** What the server says is wrong: RFC 9457 problem details. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    readonly body: { title: string; place?: string; kept?: string; act?: string; type?: string },
  ) {
    super([body.title, body.kept, body.act].filter(Boolean).join(' '));
    this.name = 'Refused';
  }
}

function unreachable(): never {
  throw new Refused(0, {
    title: 'The server cannot be reached just now.',
    kept: 'What you typed is still here.',
    act: 'Try again in a moment.',
  });
}

/** In characters, each of which may take three octets. */
const MOST_KEPT_ALIVE = 20_000;

/** Asks an endpoint of the contract. `keepalive`: also when the page is being left. @throws Refused with the server's sentence */
export async function ask<P extends string, Q extends TSchema, B extends TSchema, A extends TSchema>(
  endpoint: Endpoint<P, Q, B, A, 'answer'>,
  call: Call<P, Q, B>,
  { keepalive = false }: { keepalive?: boolean } = {},
): Promise<Static<A>> {
  const { method, path } = endpoint;
  const written: RequestInit =
    method === 'get'
      ? { headers: { accept: 'application/json' } }
      : { method: method.toUpperCase(), headers: { 'content-type': 'application/json' }, body: JSON.stringify(call.body ?? {}) };
  // goes on when the page is gone; browsers take no more than 64 KiB so (Fetch Standard, HTTP-network-or-cache fetch)
  if (keepalive && typeof written.body === 'string' && written.body.length < MOST_KEPT_ALIVE) written.keepalive = true;
  return read(await fetch(addressOf(path, call), written).catch(unreachable));
}

/** Hands a file to an endpoint that takes one. @throws Refused */
export async function handOver<P extends string, Q extends TSchema, B extends TSchema, A extends TSchema>(
  endpoint: Endpoint<P, Q, B, A, 'answer'>,
  call: Call<P, Q, B>,
  file: Blob,
): Promise<Static<A>> {
  const written = { method: 'POST', headers: { 'content-type': 'application/octet-stream' }, body: file };
  return read(await fetch(addressOf(endpoint.path, call), written).catch(unreachable));
}

async function read<T>(answer: Response): Promise<T> {
  const body = (await answer.json().catch(() => ({ title: 'The server gave no readable answer.' }))) as T & { title: string };
  tellAway(answer.status === 503 && (body as { type?: string }).type?.endsWith(':away') === true);
  if (!answer.ok) throw new Refused(answer.status, body);
  return body;
}

/** Where a file of the contract is fetched from. */
export function fileAt<P extends string, Q extends TSchema>(
  endpoint: Endpoint<P, Q, TSchema, TSchema, 'file'>,
  call: Call<P, Q, TSchema>,
): string {
  return addressOf(endpoint.path, call);
}

const keyOf = (endpoint: Endpoint<string, TSchema, TSchema, TSchema, Gives>, call: object | undefined) => [
  endpoint.path,
  call && addressOf(endpoint.path, call),
];

/**
 * A question to the server; asked again when one of the endpoint's topics changes. Without a call it is not asked (yet).
 * `keep`: the answer before stands until the next is there.
 */
export function useGet<P extends string, Q extends TSchema, B extends TSchema, A extends TSchema>(
  endpoint: Endpoint<P, Q, B, A, 'answer'>,
  call: Call<P, Q, B> | undefined,
  options: { every?: number; keep?: boolean } = {},
): UseQueryResult<Static<A>, Error> {
  return useQuery<Static<A>, Error>({
    queryKey: keyOf(endpoint, call),
    queryFn: () => ask(endpoint, call as Call<P, Q, B>),
    enabled: call !== undefined,
    meta: { live: endpoint.live },
    refetchInterval: options.every ?? false,
    placeholderData: options.keep ? keepPreviousData : undefined,
  });
}

/** A long list, page after page. `after` says what the next page is asked with, or that there is none. */
export function usePages<P extends string, Q extends TSchema, B extends TSchema, A extends TSchema, At>(
  endpoint: Endpoint<P, Q, B, A, 'answer'>,
  call: (at: At | undefined) => Call<P, Q, B>,
  after: (last: Static<A>, all: readonly Static<A>[]) => At | undefined,
  also: readonly unknown[] = [],
): UseInfiniteQueryResult<InfiniteData<Static<A>, At | undefined>, Error> {
  return useInfiniteQuery({
    queryKey: [...keyOf(endpoint, call(undefined)), 'pages', ...also],
    initialPageParam: undefined as At | undefined,
    queryFn: ({ pageParam }) => ask(endpoint, call(pageParam as At | undefined)),
    getNextPageParam: (last: Static<A>, all: Static<A>[]) => after(last, all),
    meta: { live: endpoint.live },
    placeholderData: keepPreviousData,
  });
}

/** Everything shown that depends on one of these topics is asked again. */
export function askAgain(client: QueryClient, topics: readonly Topic[]): Promise<void> {
  return client.invalidateQueries({
    predicate: ({ meta }) => (meta?.live as readonly Topic[] | undefined)?.some((topic) => topics.includes(topic)) ?? false,
  });
}

/**
 * Does something at the server; what it changes is asked again once it is done. `shown`: resolves when the answer to that is there, so
 * that what takes a row away cannot be pressed on the row that is gone.
 * @throws Refused
 */
export function useAct<P extends string, Q extends TSchema, B extends TSchema, A extends TSchema>(
  endpoint: Endpoint<P, Q, B, A, 'answer'>,
  { shown = false }: { shown?: boolean } = {},
): (call: Call<P, Q, B>) => Promise<Static<A>> {
  const client = useQueryClient();
  return useCallback(
    async (call: Call<P, Q, B>) => {
      const answer = await ask(endpoint, call);
      const asked = askAgain(client, endpoint.changes);
      if (shown) await asked;
      return answer;
    },
    [client, endpoint, shown],
  );
}

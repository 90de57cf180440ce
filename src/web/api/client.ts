import { keepPreviousData, useQuery, useQueryClient, type UseQueryResult } from '@tanstack/react-query';
import { useEffect } from 'react';

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

async function read<T>(answer: Response): Promise<T> {
  const body = (await answer.json().catch(() => ({ title: 'The server gave no readable answer.' }))) as T & { title: string };
  if (!answer.ok) throw new Refused(answer.status, body);
  return body;
}

export async function get<T>(path: string): Promise<T> {
  return read<T>(await fetch(path, { headers: { accept: 'application/json' } }).catch(unreachable));
}

export async function send<T>(method: 'POST' | 'PUT' | 'DELETE', path: string, body: unknown = {}): Promise<T> {
  return read<T>(
    await fetch(path, { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }).catch(unreachable),
  );
}

export async function upload<T>(path: string, body: Blob): Promise<T> {
  return read<T>(
    await fetch(path, { method: 'POST', headers: { 'content-type': 'application/octet-stream' }, body }).catch(unreachable),
  );
}

function unreachable(): never {
  throw new Refused(0, {
    title: 'The server cannot be reached just now.',
    kept: 'What you typed is still here.',
    act: 'Try again in a moment.',
  });
}

/** A question to the server, by its address; asked again when the live line says that its topic changed. */
export function useGet<T>(path: string | undefined, options: { every?: number; keep?: boolean } = {}): UseQueryResult<T, Error> {
  return useQuery<T, Error>({
    queryKey: [path],
    queryFn: () => get<T>(path ?? ''),
    enabled: path !== undefined,
    refetchInterval: options.every ?? false,
    placeholderData: options.keep ? keepPreviousData : undefined,
  });
}

const TOPICS: Record<string, RegExp> = {
  run: /^\/api\/(runs|today|outcomes|day|broadcasts)/,
  runs: /^\/api\/(today|day|outcomes|broadcasts|session)/,
  replies: /^\/api\/(replies|today|session|people|runs|phones)/,
  people: /^\/api\/(people|imports)/,
  import: /^\/api\/(imports|today|people\/sources)/,
  carrier: /^\/api\/(session|setup)/,
  balance: /^\/api\/(session|setup)/,
  clock: /^\/api\/(session|day|today)/,
};

/** One live line a tab: what changed is asked again, nothing else. */
export function useLive(on: boolean): void {
  const client = useQueryClient();
  useEffect(() => {
    if (!on) return;
    const source = new EventSource('/api/live');
    source.onmessage = (event: MessageEvent<string>) => {
      const changes = JSON.parse(event.data) as { topic: string; id?: number }[];
      const patterns = [...new Set(changes.map((change) => change.topic))].map((topic) => TOPICS[topic]);
      void client.invalidateQueries({
        predicate: (query) => patterns.some((pattern) => pattern?.test(String(query.queryKey[0]))),
      });
    };
    return () => source.close();
  }, [client, on]);
}

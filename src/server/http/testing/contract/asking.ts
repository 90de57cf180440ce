import { expect } from 'vitest';
import type { ValidateFunction } from 'ajv';
import { addressOf } from '../../../../core/api/endpoint';
import type { Desk } from '../desk';

export interface Call {
  params?: Record<string, string | number>;
  query?: Record<string, string | number>;
  body?: unknown;
  raw?: string;
  as?: 'manage' | 'write' | undefined;
}

/** Asks routes of a running server, each held against what that server says of it. */
export interface Asking {
  desk: Desk;
  /** What has been asked, as `method path`. */
  asked: Set<string>;
  /** Asks, expects that it is done, and holds the answer against the description. */
  call<T = Record<string, unknown>>(method: string, path: string, how?: Call): Promise<T>;
}

/** Who and what the calls are about. */
export interface There {
  list: number;
  tag: number;
  segment: number;
  ana: number;
  bo: number;
  cy: number;
  junior: number;
}

export function askingOf(desk: Desk, says: ReadonlyMap<string, ValidateFunction | undefined>): Asking {
  const asked = new Set<string>();
  async function call<T = Record<string, unknown>>(method: string, path: string, how: Call = {}): Promise<T> {
    const key = `${method} ${path}`;
    asked.add(key);
    const body = how.raw ?? JSON.stringify(how.body ?? {});
    const more =
      method === 'get'
        ? {}
        : { body, ...(how.raw === undefined ? {} : { headers: { 'content-type': 'application/octet-stream' } }) };
    const answer = await desk.ask(method, addressOf(path, how), 'as' in how ? how.as : 'manage', more);
    const text = await answer.text();
    expect([key, answer.status, answer.status < 400 ? '' : text]).toEqual([key, answer.status === 302 ? 302 : 200, '']);
    const validate = says.get(key);
    expect(says.has(key), `${key} is not described`).toBe(true);
    if (!validate) return {} as T;
    const value = JSON.parse(text) as T;
    expect([key, validate(value), validate.errors]).toEqual([key, true, null]);
    return value;
  }
  return { desk, asked, call };
}

import { EventEmitter } from 'node:events';
import type { ServerResponse } from 'node:http';
import { afterAll, beforeAll, beforeEach, describe, expect, test, vi } from 'vitest';
import { emptyDb } from '../db/testing/engines';
import { until } from '../engine/testing/sending';
import { allRoutes } from '../routes';
import { Bus } from '../desk/bus';
import { LiveStreams } from './live';
import { hashToken } from './passwords';
import { openDesk, type Desk } from './testing/desk';
import { cheapPasswords } from './testing/cheap-passwords';

/** The door: whatever is asked, in whatever shape, is answered or refused with a sentence; nothing is a fault of ours. */
let desk: Desk;
beforeAll(async () => {
  desk = await openDesk(await emptyDb('embedded'));
});
afterAll(() => desk.close());

interface Schema {
  type?: string;
  properties?: Record<string, Schema>;
  items?: Schema;
  anyOf?: Schema[];
  const?: unknown;
  minimum?: number;
}

/** Something that fits a schema. */
function fitting(schema: Schema): unknown {
  if (schema.const !== undefined) return schema.const;
  if (schema.anyOf) return fitting(schema.anyOf[schema.anyOf.length - 1]);
  switch (schema.type) {
    case 'object':
      return Object.fromEntries(Object.entries(schema.properties ?? {}).map(([key, each]) => [key, fitting(each)]));
    case 'array':
      return [];
    case 'integer':
    case 'number':
      return Math.max(1, schema.minimum ?? 0);
    case 'boolean':
      return true;
    case 'null':
      return null;
    default:
      return 'a';
  }
}

const WRONG: unknown[] = [
  null,
  [],
  {},
  '',
  -1,
  1.5,
  1e19,
  2 ** 31,
  9e15,
  true,
  'x'.repeat(5000),
  '\u202e',
  'https://[',
  '9999-12-31',
];

/** The fitting body with one of its values, wherever it stands, gone wrong. */
function* bodies(schema: Schema): Generator<unknown> {
  const whole = fitting(schema);
  yield whole;
  yield null;
  yield [];
  for (const key of Object.keys(schema.properties ?? {}))
    for (const wrong of WRONG) yield { ...(whole as Record<string, unknown>), [key]: wrong };
}

/** @throws when the answer is a fault of ours, or not one sentence */
async function sound(answer: Response, what: string): Promise<void> {
  const text = await answer.text();
  if (answer.status >= 400 && answer.headers.get('content-type')?.includes('problem+json')) {
    const { title } = JSON.parse(text) as { title: string };
    expect(title, what).toMatch(/^[A-Z“].*[.?]$/s);
  }
  expect([answer.status, what, answer.status >= 500 ? text.slice(0, 200) : '']).toEqual([
    answer.status < 500 || answer.status === 503 ? answer.status : 'no fault of ours',
    what,
    '',
  ]);
}

cheapPasswords();

// signing out ends the session of the tests after it; the carrier's desk is not there in tests
const routes = allRoutes.filter(({ path }) => path !== '/api/sign-out' && !path.startsWith('/api/phones'));

describe('no request is a fault of ours', () => {
  test.each(routes.map((each) => [each.method, each.path, each] as const))('%s %s', async (method, path, each) => {
    const at = (id: string) => path.replace(/:\w+/g, id);
    for (const id of path.includes(':')
      ? ['1', '0', '-1', '1.5', '1e19', '9007199254740993', '2147483648', 'a', '%00', '%ff', '..%2f']
      : ['1'])
      await sound(await desk.ask(method, at(id), 'manage'), `${method} ${at(id)}`);
    for (const query of [
      'skip=1e99',
      'skip=-1',
      'skip=1.5',
      'after=1e19',
      'after_id=1e19&after_key=a',
      'date=2026-99-99',
      'date=9999-12-31',
      'list=99999999999999999999',
      'rule={',
      'rule=null',
      'sort=%00',
      'search=%ED%A0%80',
      'skip=1&skip=2',
      '__proto__=1',
    ])
      if (method === 'get') await sound(await desk.ask(method, `${at('1')}?${query}`, 'manage'), `${path}?${query}`);
    if (method === 'get') return;
    for (const body of each.body ? bodies(each.body as Schema) : [{}, [], null, 'a'])
      await sound(
        await desk.ask(method, at('1'), 'manage', { body: JSON.stringify(body) }),
        `${path} ${JSON.stringify(body).slice(0, 120)}`,
      );
    const strange: Record<string, string>[] = [
      { 'content-encoding': 'bogus' },
      { 'content-encoding': 'gzip' },
      { 'content-type': 'text/plain' },
      { 'content-type': 'application/json; charset=bogus' },
      { origin: 'null' },
      { origin: 'not an address' },
    ];
    for (const headers of strange)
      await sound(await desk.ask(method, at('1'), 'manage', { headers, body: '{"a":1}' }), `${path} ${JSON.stringify(headers)}`);
  });

  test('addresses that lead out of the folder, and what is no address', async () => {
    for (const path of ['/assets/..%2f..%2fetc%2fpasswd', '/assets/%00', '/%ff', '/api/%ff', '/api/../x', '//', '/l/%2e%2e'])
      await sound(await desk.ask('get', path, undefined), path);
  });
});

describe('signing in', () => {
  // what was asked before has used up what may be tried
  beforeEach(async () => {
    await desk.close();
    desk = await openDesk(await emptyDb('embedded'));
  });
  const guess = async (email: string) =>
    (await desk.ask('post', '/api/sign-in', undefined, { body: JSON.stringify({ email, password: 'guess' }) })).status;

  test('ten wrong tries for an address, however it is written', async () => {
    const statuses: number[] = [];
    for (let i = 0; i < 12; i += 1)
      statuses.push(await guess(['who@ottermere.example', ' WHO@ottermere.example ', 'ｗho@ottermere.example'][i % 3]));
    expect(statuses).toEqual([...Array<number>(10).fill(401), 429, 429]);
    // a NUL makes it no other address, but none
    expect(await guess('who@ottermere.example\0')).toBe(422);
  });

  test('and so many from one place, over whatever addresses', async () => {
    const statuses: number[] = [];
    for (let i = 0; i < 40; i += 1) statuses.push(await guess(`who${i}@ottermere.example`));
    expect(statuses.filter((status) => status === 401).length).toBeLessThanOrEqual(30);
    expect(statuses[39]).toBe(429);
  });

  test('an invitation takes an address that is one, and a name that can be seen', async () => {
    const join = (part: object) =>
      desk.json<{ title: string }>('post', '/api/invitation', {
        token: 'x',
        name: 'Ana',
        email: 'ana@ottermere.example',
        password: 'heron and kittiwake',
        ...part,
      });
    expect(await join({ email: 'notanemail' })).toMatchObject({ status: 400, place: 'email' });
    expect(await join({ name: ' \u200b ' })).toMatchObject({ status: 422, place: 'name' });
    expect(await join({})).toMatchObject({ status: 410 });
  });

  test('making an account signs it in; its link is gone', async () => {
    await desk.app.db.query(
      `INSERT INTO invitation (token_hash, role, expires_at) VALUES ($1, 'write', '2099-01-01T00:00:00Z')`,
      [hashToken('a link')],
    );
    const form = { token: 'a link', name: 'Ana', email: 'Ana@Ottermere.example', password: 'heron and kittiwake' };
    const body = JSON.stringify(form);
    const made = await desk.ask('post', '/api/invitation', undefined, { body });
    expect(made.status).toBe(200);
    const cookie = /bell_session=[^;]+/.exec(made.headers.get('set-cookie') ?? '')?.[0] ?? '';
    const session = (await (await desk.ask('get', '/api/session', undefined, { headers: { cookie } })).json()) as object;
    expect(session).toMatchObject({ account: { name: 'Ana', email: 'ana@ottermere.example', role: 'write' } });
    expect((await desk.ask('post', '/api/invitation', undefined, { body })).status).toBe(410);
    // an address that has an account gets no second one, and the link is not used up by trying
    await desk.app.db.query(`INSERT INTO invitation (token_hash, role, expires_at) VALUES ($1, 'look', '2099-01-01T00:00:00Z')`, [
      hashToken('another'),
    ]);
    const again = (part: object) =>
      desk.ask('post', '/api/invitation', undefined, {
        body: JSON.stringify({ ...form, token: 'another', ...part }),
      });
    expect((await again({ email: 'ana@ottermere.example' })).status).toBe(409);
    expect((await again({ email: 'jo@ottermere.example' })).status).toBe(200);
  });
});

describe('what stays open', () => {
  test('a line that nobody speaks on, longer than whoever asks keeps it: a question on its way is never lost', async () => {
    // by the minute that proxies keep one (common practice); with the five seconds of before, what was asked after a pause was reset
    expect((await desk.ask('get', '/api/openapi.json', 'manage')).headers.get('keep-alive')).toBe('timeout=75');
  });

  const listen = async () => {
    const ended = new AbortController();
    const answer = await desk.ask('get', '/api/live', 'look', { signal: ended.signal });
    return { answer, end: () => ended.abort() };
  };

  test('a browser may hold a dozen event streams, and those it closes make room', async () => {
    const open = await Promise.all(Array.from({ length: 12 }, listen));
    expect(open.every(({ answer }) => answer.status === 200)).toBe(true);
    expect((await listen()).answer.status).toBe(429);
    open[0].end();
    await until(async () => (await listen()).answer.status === 200);
    for (const each of open) each.end();
  });

  test('signing out ends the stream', async () => {
    const { answer } = await listen().then(async (one) =>
      one.answer.status === 200
        ? one
        : until(async () => {
            const next = await listen();
            return next.answer.status === 200 ? next : undefined;
          }),
    );
    const reading = answer.text();
    expect((await desk.ask('post', '/api/sign-out', 'look')).status).toBe(200);
    expect(await reading).toContain('retry');
  });
});

test('nothing is written to a stream that was ended, though its other end has not closed yet', async () => {
  const streams = new LiveStreams();
  const bus = new Bus();
  const late: string[] = [];
  // an answer whose reader is slow: it is ended long before it closes
  const response = Object.assign(new EventEmitter(), {
    ended: false,
    writeHead: () => undefined,
    write: (text: string) => late.push(...(response.ended ? [text] : [])),
    end: () => (response.ended = true),
  });
  vi.useFakeTimers();
  try {
    const asked = response as unknown as ServerResponse;
    streams.begin({ bus }, 'a session', asked, () => Promise.resolve(true));
    bus.changed('people');
    streams.end('a session');
    bus.changed('people');
    await vi.advanceTimersByTimeAsync(60_000);
    expect(response.ended).toBe(true);
    expect(late).toEqual([]);
    expect(bus.listenerCount('change')).toBe(0);
  } finally {
    vi.useRealTimers();
  }
});

describe('a page that comes back', () => {
  /** What a stream is told at once and in its first second. */
  const told = async (bus: Bus, since: string | undefined, meanwhile: () => void = () => undefined) => {
    const written: string[] = [];
    const response = Object.assign(new EventEmitter(), {
      writeHead: () => undefined,
      write: (text: string) => written.push(text),
      end: () => undefined,
    });
    vi.useFakeTimers();
    try {
      const streams = new LiveStreams();
      streams.begin({ bus }, 'a session', response as unknown as ServerResponse, () => Promise.resolve(true), since);
      meanwhile();
      await vi.advanceTimersByTimeAsync(1000);
      streams.end('a session');
    } finally {
      vi.useRealTimers();
    }
    const events = written.join('').split('\n\n');
    return {
      changes: events.flatMap(
        (event) =>
          /^data: (.*)$/m
            .exec(event)
            ?.slice(1)
            .map((data) => JSON.parse(data) as unknown) ?? [],
      ),
      moment: events.flatMap((event) => /^id: (.*)$/m.exec(event)?.[1] ?? []).at(-1),
    };
  };

  test('is told what changed since, with what changes now, and knows where it stands', async () => {
    const bus = new Bus();
    bus.changed('people');
    const { moment } = bus;
    bus.changed('run', 7);
    const heard = await told(bus, moment, () => bus.changed('replies'));
    expect(heard).toEqual({ changes: [[{ topic: 'run', id: 7 }, { topic: 'replies' }]], moment: bus.moment });
    // asked again from there, nothing is told twice
    expect(await told(bus, heard.moment)).toEqual({ changes: [], moment: bus.moment });
  });

  test('after too long, or to another process, is told that it may be anything; one that says nothing is told nothing', async () => {
    const bus = new Bus();
    const before = bus.moment;
    for (let n = 0; n < 2500; n += 1) bus.changed('run', n);
    for (const since of [before, new Bus().moment, 'nonsense'])
      expect(await told(bus, since)).toEqual({ changes: ['all'], moment: bus.moment });
    expect((await told(bus, undefined)).changes).toEqual([]);
  });
});

test('a HEAD is no click, nor is a machine, and a link whose address is none is not pressed', async () => {
  const { db } = desk.app;
  await db.query(
    `INSERT INTO link (token, number, address) VALUES ('k7w2m4nq9cxy', '+12075550142', 'https://ferry.example/pass')`,
  );
  const clicked = async () => (await db.query<{ at: string | null }>(`SELECT clicked_at AS at FROM link`)).rows[0].at;
  const looked = await desk.ask('head', '/l/k7w2m4nq9cxy', undefined, { body: undefined });
  expect([looked.status, looked.headers.get('location')]).toEqual([302, 'https://ferry.example/pass']);
  expect(await clicked()).toBeNull();
  // a machine goes on to the address, too, and is told apart
  expect((await desk.ask('get', '/l/k7w2m4nq9cxy', undefined, { headers: { 'user-agent': 'ExampleBot/1.0' } })).status).toBe(302);
  expect(await clicked()).toBeNull();
  const phone = { 'user-agent': 'Mozilla/5.0 (Linux; Android 14; K) AppleWebKit/537.36 Chrome/131.0.0.0 Mobile Safari/537.36' };
  for (let n = 0; n < 2; n += 1)
    expect((await desk.ask('get', '/l/k7w2m4nq9cxy', undefined, { headers: phone })).status).toBe(302);
  expect(await clicked()).not.toBeNull();
  expect((await db.query(`SELECT opens, machine_at IS NOT NULL AS machine FROM link`)).rows).toEqual([
    { opens: 2, machine: true },
  ]);
});

test('a link that has ended, or never was, says so: to a browser as a page without a script, else as a problem', async () => {
  const { db } = desk.app;
  await db.query(
    `INSERT INTO link (token, number, address, expires_at) VALUES ('k7w2m4nq9cx2', '+12075550142', 'https://ferry.example/pass', '2020-01-01T00:00:00Z')`,
  );
  const html = { accept: 'text/html,application/xhtml+xml,*/*;q=0.8' };
  for (const [token, status, says] of [
    ['k7w2m4nq9cx2', 410, 'This link has ended. What it was about is over.'],
    ['k7w2m4nq9c22', 404, 'There is nothing at this address.'],
  ] as const) {
    const page = await desk.ask('get', `/l/${token}`, undefined, { headers: html });
    expect([page.status, page.headers.get('content-type')]).toEqual([status, 'text/html; charset=utf-8']);
    const text = await page.text();
    expect(text).toContain(`<p>${says}</p>`);
    expect(text).not.toContain('<script');
    const nonce = /<style nonce="([^"]+)"/.exec(text)?.[1];
    expect(page.headers.get('content-security-policy')).toContain(`'nonce-${nonce}'`);
    expect(await (await desk.ask('get', `/l/${token}`, undefined)).json()).toMatchObject({ status, title: says });
  }
});

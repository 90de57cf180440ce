import { Type } from 'typebox';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { emptyDb } from '../db/testing/engines';
import { ownKey, refuseBoundless } from './bounded';
import { checkBody, checkQuery } from './checked';
import { closed } from './closed';
import { openDesk, type Desk } from './testing/desk';

const bytes = (text: string) => Buffer.from(text);

describe('before anything is made of a request', () => {
  test.each([
    ['{"a":{"b":[1,2,3]}}', 'is read'],
    [`${'['.repeat(32)}${']'.repeat(32)}`, 'is read'],
    [`${'['.repeat(33)}${']'.repeat(33)}`, 'is nested deeper'],
    [`${'{"a":'.repeat(5000)}1${'}'.repeat(5000)}`, 'is nested deeper'],
    // what stands in a text opens nothing
    [JSON.stringify('{'.repeat(100)), 'is read'],
    [JSON.stringify(`\\"${'['.repeat(100)}`), 'is read'],
    [`[${'1,'.repeat(59_000)}1]`, 'is read'],
    [`[${'1,'.repeat(61_000)}1]`, 'holds more values'],
  ])('%.40s %s', (text, how) => {
    const read = () => refuseBoundless(bytes(text));
    if (how === 'is read') expect(read).not.toThrow();
    else expect(read).toThrow(how);
  });

  test('keys that every object has of itself are found wherever they stand', () => {
    expect(ownKey(JSON.parse('{"a":[{"b":{"__proto__":1}}]}'))).toBe('a.0.b.__proto__');
    expect(ownKey({ a: { constructor: 1 } })).toBe('a.constructor');
    expect(ownKey({ a: 'constructor' })).toBeUndefined();
  });
});

describe('schemas are closed', () => {
  const body = checkBody(
    Type.Object({
      words: Type.Record(Type.String({ pattern: '^[a-z]{2,3}$' }), Type.String()),
      of: Type.Optional(Type.Array(Type.Union([Type.Object({ id: Type.Integer() }), Type.Null()]))),
    }),
  );
  test.each([
    [{ words: { en: 'x' } }, undefined],
    [{ words: { a: 1 } }, '“a” is no key that there is'],
    [{ words: {}, more: 1 }, '“more” is no key that there is'],
    [{ words: {}, of: [{ id: 1 }, null] }, undefined],
    [{ words: {}, of: [{ id: 1, unnamed: 2 }] }, '“unnamed” is no key that there is'],
  ])('%j', (asked, says) => {
    if (says === undefined) expect(() => body(asked)).not.toThrow();
    else expect(() => body(asked)).toThrow(says);
  });

  test('what says that it is open stays so', () => {
    const open = Type.Object({}, { additionalProperties: Type.String() });
    expect(closed(open)).toEqual(open);
  });
});

describe('numbers in an address are written in digits', () => {
  const query = checkQuery(Type.Object({ skip: Type.Optional(Type.Integer({ minimum: 0 })) }));
  test('as they are', () => expect(query({ skip: '20' })).toEqual({ skip: 20 }));
  test.each(['0x1', '1e3', 'Infinity', 'NaN', ' 1', '1 ', '+1', '', '٣', '1_000', '99999999999999999999'])('not “%s”', (skip) =>
    expect(() => query({ skip })).toThrow('“skip” must be a number in digits'),
  );
  test('nothing that is not named; but links in texts may be added to', () => {
    expect(() => query({ fbclid: '1' })).toThrow('“fbclid” is no key that there is');
    expect(checkQuery(undefined, true)({ fbclid: '1' })).toEqual({ fbclid: '1' });
  });
});

describe('at the door', () => {
  let desk: Desk;
  beforeAll(async () => (desk = await openDesk(await emptyDb('embedded'))));
  afterAll(() => desk.close());
  const deep = `{"email":"a@b.c","password":"x","more":${'{"a":'.repeat(5000)}1${'}'.repeat(5000)}}`;

  test('five thousand deep, by nobody who has signed in', async () => {
    const answer = await desk.ask('post', '/api/sign-in', undefined, { body: deep });
    expect([answer.status, ((await answer.json()) as { title: string }).title]).toEqual([
      400,
      'The request is nested deeper than this server reads.',
    ]);
  });

  test.each(['2026-02-30', '0000-01-01', '9999-99-99', '2026-13-01'])('the day %s is none', async (day) => {
    expect((await desk.json('GET', `/api/outcomes?from=${day}`)).status).toBe(400);
    const { id } = await desk.json<{ id: number }>('POST', '/api/broadcasts', { name: '' });
    const { draft, version } = await desk.json<{ draft: object; version: number }>('GET', `/api/broadcasts/${id}`);
    const saved = (part: object) =>
      desk.json('PUT', `/api/broadcasts/${id}`, { name: '', draft: { ...draft, ...part }, version });
    const at = { kind: 'at', date: '2026-12-02', time: '10:00' };
    expect((await saved({ when: { ...at, date: day } })).status).toBe(400);
    expect((await saved({ when: { ...at, repeats: { every: 'week', n: 1, until: day } } })).status).toBe(400);
    expect((await saved({ when: { ...at, time: '25:61' } })).status).toBe(400);
    expect((await saved({ opt_out_words: { a: 1 } })).status).toBe(400);
  });
});

import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { emptyDb, ENGINES } from './testing/engines';
import { openDesk, type Desk } from '../http/testing/desk';

/** Names that cannot be told apart by looking (Unicode TR39 §4): е is Cyrillic in each second one. */
describe.each(ENGINES)('a name that looks like another, %s', (engine) => {
  let desk: Desk;
  beforeAll(async () => {
    desk = await openDesk(await emptyDb(engine));
  });
  afterAll(() => desk.close());

  type Said = { id: number; title?: string; place?: string };
  const rule = { op: 'all', of: [] };
  const sender = (name: string, address: string, kind = 'long') => ({ name, kind, address, parts_per_second: 1 });
  const codes = async (name: string) => {
    const answer = await desk.ask('POST', `/api/code-lists?name=${encodeURIComponent(name)}`, 'manage', {
      body: 'A1\nA2',
      headers: { 'content-type': 'application/octet-stream' },
    });
    return { ...((await answer.json()) as Said), status: answer.status };
  };
  const keyword = (word: string) =>
    desk.json<Said>('POST', '/api/keywords', {
      word,
      sender_id: 1,
      list_id: null,
      tag_id: null,
      purpose: 'service',
      consent_wording: 'By texting it you agree.',
      confirms: 'Thank you.',
      asks: '',
      asks_first: false,
      from_at: null,
      until_at: null,
    });

  test.each<[string, string, (name: string) => Promise<Said & { status: number }>]>([
    ['Crew', 'Crеw', (name) => desk.json<Said>('POST', '/api/lists', { name })],
    ['Late', 'Latе', (name) => desk.json<Said>('POST', '/api/tags', { name })],
    ['North', 'Nоrth', (name) => desk.json<Said>('POST', '/api/segments', { name, rule })],
    ['Class 1', 'Class l', (name) => codes(name)],
    [
      'Pier',
      'Piеr',
      (name) => desk.json<Said>('POST', '/api/setup/senders', sender(name, `+120755501${name === 'Pier' ? '60' : '61'}`)),
    ],
    ['PIKE', 'РIKЕ', (word) => keyword(word)],
    ['MILL0', 'millO', (word) => keyword(word)],
  ])('%s is there: %s is refused, and it is shown', async (name, alike, make) => {
    expect(await make(name)).toMatchObject({ status: 200 });
    expect(await make(alike)).toMatchObject({ status: 409, title: expect.stringContaining(`“${name}”`) as string });
  });

  test('the name that is the sender of texts, too', async () => {
    expect((await desk.json('POST', '/api/setup/senders', sender('By name', 'OTTER', 'name'))).status).toBe(200);
    expect(await desk.json<Said>('POST', '/api/setup/senders', sender('Another', '0TTER', 'name'))).toMatchObject({
      status: 409,
      place: 'address',
    });
  });

  test('nor is one named anew so; what is called so already can be changed', async () => {
    const { id } = await desk.json<Said>('POST', '/api/lists', { name: 'Heron' });
    expect((await desk.json('PUT', `/api/lists/${id}`, { name: 'Crеw' })).status).toBe(409);
    await desk.app.db.query(`UPDATE list SET name = 'Crеw' WHERE id = $1`, [id]);
    expect((await desk.json('PUT', `/api/lists/${id}`, { name: 'Crеw' })).status).toBe(200);
    expect((await desk.json('PUT', `/api/lists/${id}`, { name: 'Heron' })).status).toBe(200);
  });

  test('many are put on a new list by its name: also there', async () => {
    const put = (name: string) =>
      desk.json<Said>('POST', '/api/people/bulk', { filter: {}, what: 'everybody', act: { kind: 'put_on_new', name } });
    expect(await put('Сrew')).toMatchObject({ status: 409, title: expect.stringContaining('“Crew”') as string });
    expect((await put('Crew')).status).toBe(200);
  });
});

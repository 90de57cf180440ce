import { afterAll, beforeEach, describe, expect, test } from 'vitest';
import { emptyDb, ENGINES } from '../db/testing/engines';
import { openDesk, type Desk } from '../http/testing/desk';

interface Setup {
  workspace: Record<string, unknown>;
  can_change_money: boolean;
  missing: { part: string }[];
  rates: { prefix: string }[];
  address: { chosen: string; tried_at: string | null };
}

describe.each(ENGINES)('the setup, %s', (engine) => {
  let desk: Desk;
  beforeEach(async () => {
    await desk?.close();
    desk = await openDesk(await emptyDb(engine));
  });
  afterAll(() => desk.close());
  const get = () => desk.json<Setup>('GET', '/api/setup');
  const save = async (part: Record<string, unknown>) => {
    const { public_address: _own, ...kept } = (await get()).workspace;
    void _own;
    return desk.json<{ title?: string; place?: string }>('PUT', '/api/setup/workspace', { ...kept, ...part });
  };

  test('what a first text needs is missing until it is there, one thing after the other', async () => {
    const { db } = desk.app;
    await db.exec(
      `DELETE FROM rate; DELETE FROM sender; DELETE FROM balance_entry; UPDATE workspace SET begun = false, languages = '{en,de}', opt_out_wording = '{}'`,
    );
    const parts = async () => (await get()).missing.map((each) => each.part);
    expect(await parts()).toEqual(['start', 'senders', 'prices', 'balance', 'workspace', 'people']);
    await save({ opt_out_wording: { en: 'STOP', de: 'STOP' } });
    expect(await parts()).toEqual(['senders', 'prices', 'balance', 'people']);
    await desk.json('POST', '/api/setup/senders', { name: 'Desk', kind: 'short', address: '72301', parts_per_second: 1 });
    await desk.json('PUT', '/api/setup/rates', { rates: [{ prefix: '+1', destination: 'Here', price_micro: 1 }] });
    await desk.json('POST', '/api/setup/balance', { amount_micro: 1 });
    expect(await parts()).toEqual(['people']);
    const { missing } = await desk.json<{ missing: { part: string }[] }>('GET', '/api/today');
    expect(missing.map((each) => each.part)).toEqual(['people']);
  });

  test('country and currency change only while nothing has been sent; the rest always', async () => {
    expect((await save({ country: 'CA', currency: 'CAD' })).status).toBe(200);
    await desk.app.db.query(
      `INSERT INTO outbound (kind, number, sender_id, body, alphabet, parts, cost_micro, due_at, not_after)
       SELECT 'test', '+12075550142', id, 'x', 'gsm7', 1, 1, '2026-01-01T00:00:00Z', '2026-01-02T00:00:00Z' FROM sender LIMIT 1`,
    );
    const refused = await save({ currency: 'USD' });
    expect([refused.status, refused.place]).toEqual([409, 'currency']);
    expect((await save({ name: 'Ottermere', hours: '24' })).status).toBe(200);
    expect((await get()).can_change_money).toBe(false);
  });

  test.each([
    [{ zone: 'Lake/Ottermere' }, 422, 'zone'],
    [{ country: 'usa' }, 400, 'country'],
    [{ languages: [] }, 400, 'languages'],
    [{ quiet_from: '25:00' }, 400, 'quiet_from'],
  ])('%j is refused with its place', async (part, status, place) => {
    const answer = await save(part);
    expect([answer.status, answer.place]).toEqual([status, place]);
  });

  test('a sender that people know stays; one from which nothing ever came goes', async () => {
    const { id } = await desk.json<{ id: number }>('POST', '/api/setup/senders', {
      name: 'Spare',
      kind: 'short',
      address: '72302',
      parts_per_second: 1,
    });
    // a sender whose keyword stands on a poster stays
    await desk.app.db.query(
      `INSERT INTO keyword (word, folded, sender_id, purpose, consent_wording, confirms, from_at, created_at) VALUES ('FERRY', 'ferry', $1, 'service', 'x', 'x', '2026-01-01', '2026-01-01')`,
      [id],
    );
    expect((await desk.json('DELETE', `/api/setup/senders/${id}`)).status).toBe(409);
    await desk.app.db.query(`DELETE FROM keyword`);
    expect((await desk.json('DELETE', `/api/setup/senders/${id}`)).status).toBe(200);
    const { rows } = await desk.app.db.query<{ id: number }>(
      `INSERT INTO outbound (kind, number, sender_id, body, alphabet, parts, cost_micro, due_at, not_after)
       SELECT 'test', '+12075550142', id, 'x', 'gsm7', 1, 1, '2026-01-01T00:00:00Z', '2026-01-02T00:00:00Z' FROM sender LIMIT 1 RETURNING sender_id AS id`,
    );
    expect((await desk.json('DELETE', `/api/setup/senders/${rows[0].id}`)).status).toBe(409);
  });

  test('the password of a mail server goes to no other, and to none that speaks without TLS', async () => {
    const mail = {
      host: 'mail.ottermere.example',
      port: 465,
      secure: true,
      username: 'desk',
      from_address: 'desk@ottermere.example',
      answers_to: '',
    };
    const put = (part: object) => desk.json<{ place?: string }>('PUT', '/api/setup/mail', { ...mail, password: null, ...part });
    const kept = async () =>
      (await desk.app.db.query<{ password: string }>(`SELECT password FROM mail_setting`)).rows[0].password;
    expect((await put({ password: 'heron and kittiwake' })).status).toBe(200);
    expect((await put({ host: 'MAIL.ottermere.example', from_address: 'boat@ottermere.example' })).status).toBe(200);
    expect(await kept()).toBe('heron and kittiwake');
    for (const other of [{ host: 'mail.elsewhere.example' }, { port: 587 }, { secure: false }, { username: 'other' }])
      expect(await put(other)).toMatchObject({ status: 422, place: 'password' });
    expect(await kept()).toBe('heron and kittiwake');
    // where nobody signs in, none is needed; and it does not come back with the old server
    expect((await put({ host: 'mail.elsewhere.example', username: '' })).status).toBe(200);
    expect(await kept()).toBe('');
  });

  test('of one prefix named twice in a card the later stands; fields keep the order they are put in', async () => {
    await desk.json('PUT', '/api/setup/rates', {
      rates: [
        { prefix: '+49', destination: 'Germany', price_micro: 1 },
        { prefix: '+49', destination: 'Germany', price_micro: 61_000 },
      ],
    });
    expect((await get()).rates).toContainEqual({ prefix: '+49', destination: 'Germany', price_micro: 61_000 });
    for (const label of ['Alpha', 'Beta', 'Gamma']) await desk.json('POST', '/api/fields', { label, type: 'text' });
    const order = async () =>
      (await desk.json<{ fields: { slug: string }[] }>('GET', '/api/people/sources')).fields.map((field) => field.slug);
    expect(await order()).toEqual(['alpha', 'beta', 'gamma']);
    await desk.json('PUT', '/api/field-order/person', { slugs: ['gamma', 'alpha'] });
    expect(await order()).toEqual(['gamma', 'alpha', 'beta']);
  });

  test('chosen people are put on a list that is made for it, and written to', async () => {
    const ids: number[] = [];
    for (const [i, name] of ['Ana', 'Bo', 'Cy'].entries()) {
      const body = {
        given_name: name,
        family_name: '',
        number: `+1 207 555 014${i}`,
        reference: '',
        language: '',
        zone: '',
        fields: {},
      };
      ids.push((await desk.json<{ id: number }>('POST', '/api/people', body)).id);
    }
    const put = (name: string) =>
      desk.json<{ id: number; people: number }>('POST', '/api/people/bulk', {
        ids: ids.slice(0, 2),
        act: { kind: 'put_on_new', name },
        what: 'put on a list',
      });
    const done = await put('Winter crew');
    expect(done.people).toBe(2);
    // the same name again is the same list
    expect((await put('Winter crew')).people).toBe(0);
    const lists = async () =>
      (await desk.json<{ lists: { name: string; people: number }[] }>('GET', '/api/people/sources')).lists.filter(
        (list) => list.name === 'Winter crew',
      );
    expect((await lists()).map((list) => list.people)).toEqual([2]);
    await desk.json('POST', `/api/people/bulk/${done.id}/undo`);
    expect((await lists()).map((list) => list.people)).toEqual([0]);
    const { id } = await desk.json<{ id: number }>('POST', '/api/broadcasts', { name: 'Three', people: ids });
    const { draft } = await desk.json<{ draft: { to: unknown } }>('GET', `/api/broadcasts/${id}`);
    expect(draft.to).toEqual(ids.map((each) => ({ kind: 'person', id: each })));
  });

  test('the public address is chosen, tried by who gets here by it, and not touched by what is saved beside it', async () => {
    const choose = (address: string, here: string) =>
      desk.json<{ address?: string; title?: string }>('PUT', '/api/setup/public-address', { address, here });
    const there = async () => (await get()).address;
    expect(await choose('https://texts.example.org/path', 'x')).toMatchObject({ place: 'address', kept: 'Nothing was changed.' });
    await choose('texts.example.org', 'http://localhost:4180');
    expect(await there()).toEqual({ chosen: 'https://texts.example.org', tried_at: null });
    const { address } = await desk.json<{ address: string }>('POST', '/api/setup/public-address/try', {});
    expect(address).toMatch(/^https:\/\/texts\.example\.org\/try\//);
    expect((await desk.ask('GET', '/try/nothing', undefined)).status).toBe(404);
    expect((await desk.ask('GET', new URL(address).pathname, undefined)).status).toBe(200);
    expect((await there()).tried_at).not.toBeNull();
    await save({ name: 'Ottermere' });
    expect((await there()).chosen).toBe('https://texts.example.org');
    // another one is another thing to try; where one has got here by it, it is tried
    await choose('https://other.example.org', 'http://localhost:4180');
    expect((await there()).tried_at).toBeNull();
    await choose('https://other.example.org', 'https://other.example.org');
    expect((await there()).tried_at).not.toBeNull();
  });

  test('broadcasts are found by name and by their words, literally, and by state', async () => {
    const make = async (name: string, words: string) => {
      const { id } = await desk.json<{ id: number }>('POST', '/api/broadcasts', { name });
      const { draft } = await desk.json<{ draft: Record<string, unknown> }>('GET', `/api/broadcasts/${id}`);
      await desk.json('PUT', `/api/broadcasts/${id}`, { name, draft: { ...draft, words }, version: 1 });
    };
    await make('Fog', 'The first boat is late');
    await make('50% off', 'Kayaks');
    await make('Kayaks', 'at half the price');
    const found = async (query: string) =>
      (await desk.json<{ broadcasts: { name: string }[]; total: number }>('GET', `/api/broadcasts?${query}`)).broadcasts
        .map((each) => each.name)
        .sort();
    expect(await found('search=kayaks')).toEqual(['50% off', 'Kayaks']);
    expect(await found('search=FIRST+boat')).toEqual(['Fog']);
    expect(await found('search=50%25')).toEqual(['50% off']);
    expect(await found('search=_')).toEqual([]);
    expect(await found('state=ended')).toEqual([]);
    expect(await found('state=draft')).toEqual(['50% off', 'Fog', 'Kayaks']);
  });
});

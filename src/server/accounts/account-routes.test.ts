import { afterAll, beforeEach, describe, expect, test } from 'vitest';
import { hashPassword } from '../http/passwords';
import { cheapPasswords } from '../http/testing/cheap-passwords';
import { openDesk, type Desk } from '../http/testing/desk';
import { emptyDb, ENGINES } from '../db/testing/engines';

const WORDS = 'heron and kittiwake';

cheapPasswords();
describe.each(ENGINES)('accounts, %s', (engine) => {
  let desk: Desk;
  beforeEach(async () => {
    await desk?.close();
    desk = await openDesk(await emptyDb(engine));
  });
  afterAll(() => desk.close());

  const post = (path: string, body: unknown) => desk.json<{ title?: string; place?: string }>('POST', path, body);
  /** Signs in as a browser does; answers the session's cookie. */
  async function signIn(email: string, password: string): Promise<string | undefined> {
    const answer = await desk.ask('post', '/api/sign-in', undefined, { body: JSON.stringify({ email, password }) });
    return /bell_session=([^;]+)/.exec(answer.headers.get('set-cookie') ?? '')?.[1];
  }
  const as = (session: string, method: string, path: string, body: unknown = {}) =>
    desk.ask(method, path, undefined, {
      ...(method === 'get' ? {} : { body: JSON.stringify(body) }),
      headers: { cookie: `bell_session=${session}` },
    });
  const give = async (role: string) =>
    desk.app.db.query(`UPDATE account SET password_hash = $1 WHERE role = $2`, [await hashPassword(WORDS), role]);

  test('somebody who may manage has to remain, however it is tried', async () => {
    // the desk's accounts are look, write, send, manage: 1 to 4
    const demoted = await desk.json<{ title: string }>('PUT', '/api/accounts/4', { role: 'send' });
    expect([demoted.status, demoted.title]).toEqual([409, 'They are the only one who may manage and can sign in.']);
    expect((await desk.json('DELETE', '/api/accounts/4')).status).toBe(409);
    expect((await desk.json('PUT', '/api/accounts/3', { role: 'manage' })).status).toBe(200);
    expect((await desk.json('PUT', '/api/accounts/4', { role: 'send' })).status).toBe(200);
    expect((await desk.json('PUT', '/api/accounts/3', { role: 'look' })).status).toBe(403); // no longer theirs to say
  });

  test('the only one who can manage is not reset; and one who has no password yet does not count as another', async () => {
    expect((await desk.json('POST', '/api/accounts/4/reset')).status).toBe(409);
    expect((await desk.json('PUT', '/api/accounts/3', { role: 'manage' })).status).toBe(200);
    expect((await desk.json('POST', '/api/accounts/3/reset')).status).toBe(200);
    expect((await desk.json('PUT', '/api/accounts/4', { role: 'send' })).status).toBe(409);
    expect((await desk.json('DELETE', '/api/accounts/4')).status).toBe(409);
    expect((await desk.json('POST', '/api/accounts/4/reset')).status).toBe(409);
  });

  test.each(['0x3', '3e0', '03', '+3', '3.0', '%203', '３'])('%s is no account', async (id) => {
    expect((await desk.json('PUT', `/api/accounts/${encodeURI(id).replace('%25', '%')}`, { role: 'look' })).status).toBe(404);
  });

  test('of two links for a new password the older is none; using one closes every other way in', async () => {
    await give('write');
    const links = [];
    for (let i = 0; i < 2; i += 1) {
      const { path } = await desk.json<{ path: string }>('POST', '/api/accounts/2/reset');
      links.push(path.split('/')[2]);
    }
    expect((await post('/api/reset', { token: links[0], password: WORDS })).status).toBe(410);
    expect((await post('/api/reset', { token: links[1], password: WORDS })).status).toBe(200);
    expect((await post('/api/reset', { token: links[0], password: 'taken over by it' })).status).toBe(410);
    expect(await signIn('write@ottermere.example', WORDS)).toBeDefined();
  });

  test('a new password, a reset and its link each end the address of the calendar', async () => {
    await give('write');
    const begin = async (session: string) =>
      ((await (await as(session, 'post', '/api/session/calendar')).json()) as { path: string }).path;
    const good = async (path: string) => (await desk.ask('get', path, undefined)).status === 200;
    const session = (await signIn('write@ottermere.example', WORDS)) ?? '';
    const first = await begin(session);
    expect(await good(first)).toBe(true);
    await as(session, 'put', '/api/session/password', { old: WORDS, password: 'another one of them' });
    expect(await good(first)).toBe(false);
    const second = await begin(session);
    const { path } = await desk.json<{ path: string }>('POST', '/api/accounts/2/reset');
    expect(await good(second)).toBe(false);
    await post('/api/reset', { token: path.split('/')[2], password: WORDS });
    expect(await good(second)).toBe(false);
  });

  test('a stranger locks nobody out where they have signed in before, nor elsewhere from another place', async () => {
    await desk.close();
    desk = await openDesk(await emptyDb(engine), { trustProxy: 'loopback' });
    await give('write');
    const tries = async (from: string, password: string, cookie = '') => {
      const answer = await desk.ask('post', '/api/sign-in', undefined, {
        body: JSON.stringify({ email: 'write@ottermere.example', password }),
        headers: { 'x-forwarded-for': from, cookie },
      });
      return { status: answer.status, device: /bell_device=[^;]+/.exec(answer.headers.get('set-cookie') ?? '')?.[0] ?? '' };
    };
    const { device } = await tries('192.0.2.1', WORDS);
    expect(device).not.toBe('');
    for (let i = 0; i < 11; i += 1) await tries('192.0.2.66', 'guess');
    expect((await tries('192.0.2.66', WORDS)).status).toBe(429);
    // from the very same place, by a device that is known; and from another by one that is not
    expect((await tries('192.0.2.66', WORDS, device)).status).toBe(200);
    expect((await tries('192.0.2.2', WORDS)).status).toBe(200);
    // a device has a limit of its own, and no cookie that is made up is one
    for (let i = 0; i < 10; i += 1) await tries('192.0.2.1', 'guess', device);
    expect((await tries('192.0.2.1', WORDS, device)).status).toBe(429);
    expect((await tries('192.0.2.66', WORDS, 'bell_device=AAAA.BBBB')).status).toBe(429);
    // and from wherever strangers try, an address bears so many
    const statuses = [];
    for (let i = 0; i < 120; i += 1) statuses.push((await tries(`198.51.100.${i}`, 'guess')).status);
    expect(statuses.filter((status) => status === 401).length).toBeLessThanOrEqual(100);
  });

  test('the stream of whoever is removed, reset or signed out elsewhere ends before it tells anything more', async () => {
    await give('write');
    const acts = [
      (session: string) => as(session, 'post', '/api/session/end-others'),
      () => desk.json('POST', '/api/accounts/2/reset'),
      () => desk.json('DELETE', '/api/accounts/2'),
    ];
    for (const act of acts) {
      await give('write');
      const [listening, acting] = [
        await signIn('write@ottermere.example', WORDS),
        await signIn('write@ottermere.example', WORDS),
      ];
      const stream = await as(listening ?? '', 'get', '/api/live');
      expect(stream.status).toBe(200);
      await act(acting ?? '');
      desk.app.bus.changed('replies');
      // all that came until its end
      expect(await stream.text()).not.toContain('replies');
    }
  });

  test('two who take the last such role from one another at once: one is refused', async () => {
    await desk.json('PUT', '/api/accounts/3', { role: 'manage' });
    const answers = await Promise.all([
      desk.ask('put', '/api/accounts/4', 'manage', { body: '{"role":"look"}' }),
      desk.ask('put', '/api/accounts/3', 'send', { body: '{"role":"look"}' }),
    ]);
    const left = await desk.app.db.query(`SELECT 1 FROM account WHERE role = 'manage'`);
    expect([answers.map((each) => each.status).sort()[0], left.rowCount]).toEqual([200, 1]);
  });

  test('whoever is removed is out at once; their name stays with what they did, and their address is free', async () => {
    await give('write');
    const session = (await signIn('write@ottermere.example', WORDS)) ?? '';
    expect((await as(session, 'get', '/api/people/count')).status).toBe(200);
    await as(session, 'post', '/api/lists', { name: 'Crew' });
    expect((await desk.json('DELETE', '/api/accounts/2')).status).toBe(200);
    expect((await as(session, 'get', '/api/people/count')).status).toBe(401);
    expect(await signIn('write@ottermere.example', WORDS)).toBeUndefined();
    const { record } = await desk.json<{ record: { act: string; by: string | null }[] }>('GET', '/api/setup/record');
    expect(record.find((each) => each.act === 'made a list')?.by).toBe('write@ottermere.example');
    const { accounts } = await desk.json<{ accounts: { id: number }[] }>('GET', '/api/setup');
    expect(accounts.map((each) => each.id)).toEqual([1, 3, 4]);
    const { path } = await desk.json<{ path: string }>('POST', '/api/setup/invitations', { role: 'look' });
    const joined = await post('/api/invitation', {
      token: path.split('/')[2],
      name: 'Another',
      email: 'write@ottermere.example',
      password: WORDS,
    });
    expect(joined.status).toBe(200);
  });

  test('a password is changed with the old one; every other session ends, this one goes on', async () => {
    await give('send');
    const [here, there] = [await signIn('send@ottermere.example', WORDS), await signIn('send@ottermere.example', WORDS)];
    const change = (old: string, password: string) => as(here ?? '', 'put', '/api/session/password', { old, password });
    expect((await change('not it', 'a longer one than before')).status).toBe(422);
    expect((await change(WORDS, 'short')).status).toBe(422);
    expect((await change(WORDS, 'a longer one than before')).status).toBe(200);
    expect((await as(here ?? '', 'get', '/api/people/count')).status).toBe(200);
    expect((await as(there ?? '', 'get', '/api/people/count')).status).toBe(401);
    expect(await signIn('send@ottermere.example', WORDS)).toBeUndefined();
    expect(await signIn('send@ottermere.example', 'a longer one than before')).toBeDefined();
  });

  test('a password that is reset is none until another is chosen with the link, once', async () => {
    await give('send');
    const session = (await signIn('send@ottermere.example', WORDS)) ?? '';
    const { path } = await desk.json<{ path: string }>('POST', '/api/accounts/3/reset');
    expect((await as(session, 'get', '/api/people/count')).status).toBe(401);
    expect(await signIn('send@ottermere.example', WORDS)).toBeUndefined();
    expect(await signIn('send@ottermere.example', '')).toBeUndefined();
    const token = path.split('/')[2];
    // it makes no new account
    const joined = await post('/api/invitation', { token, name: 'X', email: 'x@ottermere.example', password: WORDS });
    expect(joined.status).toBe(410);
    expect((await post('/api/reset', { token, password: 'otter' })).status).toBe(422);
    expect((await post('/api/reset', { token, password: 'another one of them' })).status).toBe(200);
    expect((await post('/api/reset', { token, password: 'yet another of them' })).status).toBe(410);
    expect(await signIn('send@ottermere.example', 'another one of them')).toBeDefined();
  });

  test('an invitation chooses nobody’s password anew', async () => {
    const { path } = await desk.json<{ path: string }>('POST', '/api/setup/invitations', { role: 'manage' });
    expect((await post('/api/reset', { token: path.split('/')[2], password: WORDS })).status).toBe(410);
  });
});

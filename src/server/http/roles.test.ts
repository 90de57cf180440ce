import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { ROLES, mayDo, type Role } from '../../core/api/roles';
import { emptyDb } from '../db/testing/engines';
import { allRoutes } from '../routes';
import { openDesk, type Desk } from './testing/desk';

let desk: Desk;
beforeAll(async () => {
  desk = await openDesk(await emptyDb('embedded'));
});
afterAll(() => desk.close());

const ask = (method: string, path: string, role: Role | undefined, more: RequestInit = {}) =>
  desk.ask(
    method,
    path
      .replace(/:token/g, 'nothing-here')
      .replace(/:number/g, '12075550142')
      .replace(/:\w+/g, '999999'),
    role,
    more,
  );

describe('every route with every role and none', () => {
  test.each(allRoutes.filter((each) => each.role !== 'anyone').map((each) => [each.method, each.path, each.role] as const))(
    '%s %s needs %s',
    async (method, path, needed) => {
      expect((await ask(method, path, undefined)).status).toBe(401);
      expect((await ask(method, path, 'forged' as Role)).status).toBe(401);
      // signing out would end the role's session for the tests after it
      for (const role of ROLES.filter(() => path !== '/api/sign-out')) {
        const { status } = await ask(method, path, role);
        if (mayDo(role, needed as Role)) expect([role, status]).not.toEqual([role, 403]);
        else expect([role, status]).toEqual([role, 403]);
        expect(status).not.toBe(500);
      }
    },
  );

  test('what is open to anyone is only this', () => {
    expect(allRoutes.filter((each) => each.role === 'anyone').map((each) => `${each.method} ${each.path}`)).toEqual([
      'get /api/session',
      'post /api/sign-in',
      'post /api/invitation',
      'post /api/reset',
      'get /calendar/:token',
      'get /try/:token',
      'get /l/:token',
      'get /o/:token',
      'post /o/:token',
      'post /o/:token/marketing',
      'post /o/:token/back',
    ]);
  });

  test('nobody is told anything about the desk without a sign-in', async () => {
    expect(Object.keys((await (await ask('get', '/api/session', undefined)).json()) as object).sort()).toEqual([
      'account',
      'demo',
      'name',
      'now',
      'practice',
      'workspace',
    ]);
    expect((await ask('get', '/api/live', undefined)).status).toBe(401);
  });
});

describe('safety', () => {
  test('writes from another site are refused', async () => {
    expect((await ask('post', '/api/lists', 'manage', { headers: { origin: 'https://elsewhere.example' } })).status).toBe(403);
    expect((await ask('post', '/api/lists', 'manage', { headers: { 'sec-fetch-site': 'cross-site' } })).status).toBe(403);
  });

  test('the content security policy allows nothing inline', async () => {
    const policy = (await ask('get', '/api/session', undefined)).headers.get('content-security-policy') ?? '';
    expect(policy).toContain("default-src 'none'");
    expect(policy).not.toContain('unsafe');
    expect(policy).toMatch(/script-src 'self' 'nonce-[^']+'/);
    expect(policy).toMatch(/style-src 'self' 'nonce-[^']+'/);
  });

  test('bad requests are problem details with one sentence and no stack', async () => {
    for (const [body, status] of [
      ['{', 400],
      ['{"name":""}', 400],
      ['[]', 400],
    ] as const) {
      const answer = await ask('post', '/api/lists', 'manage', { body });
      expect(answer.status).toBe(status);
      expect(answer.headers.get('content-type')).toContain('application/problem+json');
      const said = (await answer.json()) as { title: string };
      expect(said.title).toMatch(/^[A-Z].*\.$/);
      expect(JSON.stringify(said)).not.toMatch(/at .*\.(ts|js):/);
    }
  });

  test('text that no database keeps is refused with its place, and a name of nothing but unseen marks is none', async () => {
    for (const [path, body, place] of [
      ['/api/lists', { name: 'a\0b' }, 'name'],
      ['/api/lists', { name: '\ud800' }, 'name'],
      ['/api/broadcasts', { name: 'x\0' }, 'name'],
    ] as const) {
      const answer = await desk.json<{ place: string }>('post', path, body);
      expect(answer).toMatchObject({ status: 422, place });
    }
    expect((await desk.ask('get', '/api/people?search=%00', 'look')).status).toBe(422);
    expect((await desk.json('post', '/api/lists', { name: '\u202e \u200b' })).status).toBe(422);
    expect((await desk.json('post', '/api/tags', { name: '\u2066' })).status).toBe(422);
  });

  const said = async (answer: Response) => `${answer.status} ${((await answer.json()) as { title: string }).title}`;

  test('a sender name of 12 characters, or with one that no sender can have', async () => {
    const add = (address: string) =>
      ask('post', '/api/setup/senders', 'manage', {
        body: JSON.stringify({ name: 'Ferry', kind: 'name', address, parts_per_second: 1 }),
      });
    expect(await said(await add('OttermereFer'))).toBe('422 “OttermereFer” has 12 characters; a name as sender has at most 11.');
    expect(await said(await add('Fähre–desk'))).toContain('a character that a sender');
    expect((await add('OttermereFB')).status).toBe(200);
  });

  test('files that cannot be read say why, and nothing is kept', async () => {
    const put = (body: string | Uint8Array<ArrayBuffer>, name = 'list.csv') =>
      ask('post', `/api/imports/file?name=${name}`, 'write', { body });
    const imports = async () =>
      ((await (await ask('get', '/api/imports', 'look')).json()) as { imports: unknown[] }).imports.length;
    const before = await imports();
    expect(await said(await put(''))).toBe('422 list.csv: The file is empty.');
    expect(await said(await put('PK\u0003\u0004 a workbook'))).toContain('list.csv: The workbook is damaged');
    expect(await said(await put(Uint8Array.from([0, 1, 2, 0, 0, 255])))).toContain('binary');
    expect(await said(await put('a,b\nc,"d\ne,f\n'))).toContain('Row 2 opens a quote');
    expect(await said(await put(Array.from({ length: 1000 }, (_, i) => i).join(',')))).toContain('1,000 columns');
    expect(await imports()).toBe(before);
  });

  test('a file without a phone column stays on the bench until someone says which it is', async () => {
    const { id } = (await (
      await ask('post', '/api/imports/file?name=names.csv', 'write', { body: 'First,Last\nAna,Reyes\nLeo,Holm\n' })
    ).json()) as { id: number };
    const { version } = await desk.json<{ version: number }>('get', `/api/imports/${id}`);
    const decide = () => desk.ask('post', `/api/imports/${id}/decide`, 'write', { body: JSON.stringify({ version }) });
    expect(await said(await decide())).toBe('422 No column is matched to “text number”, so nobody could be texted.');
  });

  test('an export comes piece by piece, whole, and as a download', async () => {
    await desk.app.db.query(
      `INSERT INTO person (given_name, family_name, number, sort_name, search, created_at, updated_at)
       SELECT 'P' || n, 'a;=1+1', '+1207300' || lpad(n::text, 4, '0'), 'p' || n, '', now(), now() FROM generate_series(1, 4500) AS n`,
    );
    const answer = await ask('get', '/api/people/export.csv', 'look');
    expect(answer.headers.get('content-disposition')).toContain('people.csv');
    const lines = (await answer.text()).trimEnd().split('\r\n');
    expect(lines).toHaveLength(4501);
    expect(new Set(lines).size).toBe(4501);
    // quoted, for programs that split at semicolons
    expect(lines[1]).toContain('"a;=1+1"');
    const cards = await (await ask('get', '/api/people/export.vcf', 'look')).text();
    expect(cards.match(/BEGIN:VCARD/g)).toHaveLength(4500);
    expect(
      (await desk.app.db.query(`SELECT 1 FROM record WHERE act = 'exported people' AND detail->>'people' = '4500'`)).rowCount,
    ).toBe(2);
  });

  test('too many wrong passwords are slowed down', async () => {
    const statuses: number[] = [];
    for (let i = 0; i < 12; i += 1)
      statuses.push(
        (
          await ask('post', '/api/sign-in', undefined, {
            body: JSON.stringify({ email: 'nobody@ottermere.example', password: 'guess' }),
          })
        ).status,
      );
    expect(statuses.slice(0, 10).every((status) => status === 401)).toBe(true);
    expect(statuses[11]).toBe(429);
  });
});

import { Ajv, type ValidateFunction } from 'ajv';
import addFormats from 'ajv-formats';
import { mkdtempSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { Mailbox } from '../../carrier/mailbox';
import { addressOf } from '../../core/api/endpoint';
import { EMPTY_DRAFT, type Draft } from '../../core/plan/draft';
import { emptyDb, ENGINES } from '../db/testing/engines';
import { hashPassword } from './passwords';
import { allRoutes } from './routes';
import { openDesk, type Desk } from './testing/desk';

/**
 * Every route is asked once for something that is there, and its answer is held against what the running server's own
 * description (/api/openapi.json) says of it, by a second validator.
 */
describe.each(ENGINES)('the contract, %s', (engine) => {
  let desk: Desk;
  let carrier: Server;
  let mailbox: Mailbox;
  let mailPort = 0;
  const says = new Map<string, ValidateFunction | undefined>();
  const asked = new Set<string>();

  beforeAll(async () => {
    desk = await openDesk(await emptyDb(engine));
    // the practice carrier's desk, as much of it as is asked
    carrier = createServer((request, response) => {
      response.setHeader('content-type', 'application/json');
      const screen = { direction: 'in', address: '72345', text: 'Hello', at: '2026-12-02T21:00:00Z', arrived: 1, total: 1 };
      if (request.url?.startsWith('/phones?'))
        response.end(JSON.stringify({ total: 1, phones: [{ number: '12075550142', lastAt: screen.at, texts: [screen] }] }));
      else if (request.url?.startsWith('/mails?')) response.end('{"mails":[]}');
      else if (request.url === '/mails/1/answer') response.end('{"said":"250 taken"}');
      else if (request.url === '/lookup') response.end(JSON.stringify({ kinds: ['mobile', 'mobile', 'mobile'] }));
      else response.end('{}');
    });
    await new Promise<void>((resolve) => carrier.listen(0, '127.0.0.1', resolve));
    const address = carrier.address();
    desk.app.practice = { url: `http://127.0.0.1:${address && typeof address === 'object' ? address.port : 0}` };
    desk.app.demo = true;
    mailbox = new Mailbox({ file: join(mkdtempSync(join(tmpdir(), 'mails-')), 'mails'), now: () => Date.now(), answersPort: 1 });
    mailPort = await mailbox.listen(0);
    const ajv = addFormats.default(new Ajv({ strict: false }));
    const { paths } = await desk.json<{ paths: Record<string, Record<string, Described>> }>('GET', '/api/openapi.json');
    for (const [path, methods] of Object.entries(paths))
      for (const [method, call] of Object.entries(methods)) {
        const schema = call.responses['200']?.content?.['application/json']?.schema;
        says.set(`${method} ${path.replace(/\{(\w+)\}/g, ':$1')}`, schema === undefined ? undefined : ajv.compile(schema));
      }
    asked.add('get /api/openapi.json');
  });
  afterAll(async () => {
    await desk.close();
    await mailbox.close();
    await new Promise((resolve) => carrier.close(resolve));
  });

  interface Described {
    responses: Record<string, { content?: Record<string, { schema?: object }> } | undefined>;
  }
  interface Call {
    params?: Record<string, string | number>;
    query?: Record<string, string | number>;
    body?: unknown;
    raw?: string;
    as?: 'manage' | 'write' | undefined;
  }
  /** Asks, expects that it is done, and holds the answer against the description. */
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

  test('every route answers as the running server says', async () => {
    const { id: list } = await call<{ id: number }>('post', '/api/lists', { body: { name: 'Crew' } });
    const { id: tag } = await call<{ id: number }>('post', '/api/tags', { body: { name: 'bicycle' } });
    await call('put', '/api/lists/:id', { params: { id: list }, body: { name: 'Crew and staff' } });
    await call('put', '/api/tags/:id', { params: { id: tag }, body: { name: 'dog aboard' } });
    await call('post', '/api/fields', { body: { label: 'Home landing', type: 'choice', choices: ['Mill Quay'] } });
    await call('post', '/api/fields', { body: { label: 'Class', type: 'text', about: 'dependant' } });
    await call('put', '/api/fields/:about/:slug', {
      params: { about: 'person', slug: 'home_landing' },
      body: { label: 'Landing', choices: ['Mill Quay', 'Pine Point'] },
    });
    await call('put', '/api/field-order/:about', { params: { about: 'person' }, body: { slugs: ['home_landing'] } });
    const person = (given_name: string, number: string) => ({
      given_name,
      family_name: 'Aalto',
      number,
      reference: `P-${number.slice(-4)}`,
      language: 'en',
      zone: 'America/New_York',
      fields: { home_landing: 'Mill Quay' },
    });
    const { id: ana } = await call<{ id: number }>('post', '/api/people', { body: person('Ana', '+1 207 555 0142') });
    const { id: bo } = await call<{ id: number }>('post', '/api/people', { body: person('Bo', '+1 207 555 0143') });
    const { id: cy } = await call<{ id: number }>('post', '/api/people', { body: person('Cy', '+1 207 555 0144') });
    await call('put', '/api/people/:id', {
      params: { id: ana },
      body: { ...person('Ana', '+1 207 555 0142'), quiet: '20:00-09:00' },
    });
    for (const id of [ana, bo, cy]) await call('put', '/api/lists/:id/members/:person', { params: { id: list, person: id } });
    await call('put', '/api/tags/:id/members/:person', { params: { id: tag, person: ana } });
    await call('delete', '/api/tags/:id/members/:person', { params: { id: tag, person: ana } });
    await call('delete', '/api/lists/:id/members/:person', { params: { id: list, person: cy } });
    const { id: junior } = await call<{ id: number }>('post', '/api/people/:id/dependants', {
      params: { id: ana },
      body: {
        dependant: { given_name: 'Otto', family_name: '', reference: '', born: '2016-05-01', fields: { class: 'Otters' } },
        guard: { contact: 1, must_not_receive: false },
      },
    });
    await call('put', '/api/dependants/:id', {
      params: { id: junior },
      body: { given_name: 'Otto', family_name: 'Aalto', reference: 'J-1', born: '2016-05-01', fields: { class: 'Pike' } },
    });
    await call('put', '/api/dependants/:id/contacts/:person', {
      params: { id: junior, person: bo },
      body: { contact: 2, must_not_receive: true },
    });
    await call('get', '/api/dependants');
    await call('post', '/api/people/:id/consent', {
      params: { id: ana },
      body: { purpose: 'marketing', act: 'granted', how: 'in person', evidence: '', wording: '' },
    });
    await call('get', '/api/people/:id', { params: { id: ana } });
    await call('get', '/api/people/:id/history', { params: { id: ana } });
    await call('delete', '/api/dependants/:id/contacts/:person', { params: { id: junior, person: bo } });
    const rule = { op: 'all', of: [{ on: 'field', field: 'home_landing', test: 'is', values: ['Mill Quay'] }] };
    const { id: segment } = await call<{ id: number }>('post', '/api/segments', { body: { name: 'Quay', rule } });
    await call('put', '/api/segments/:id', { params: { id: segment }, body: { name: 'Mill Quay', rule } });
    await call('get', '/api/segments');
    await call('post', '/api/segments/why', { body: { rule, person_id: ana } });
    await call('get', '/api/fields/:about/:slug/values', { params: { about: 'person', slug: 'home_landing' } });
    await call('get', '/api/people/sources');
    await call('get', '/api/people', { query: { segment, sort: 'number', down: '1' } });
    await call('get', '/api/people/count', { query: { list } });
    await call('get', '/api/people/:id/twins', { params: { id: ana } });
    const bulk = await call<{ id: number }>('post', '/api/people/bulk', {
      body: { ids: [ana, bo], act: { kind: 'put_on_new', name: 'Morning boat' }, what: 'put on “Morning boat”' },
    });
    await call('post', '/api/people/bulk/:id/undo', { params: { id: bulk.id } });
    for (const ending of ['csv', 'xlsx', 'vcf']) await call('get', `/api/people/export.${ending}`);

    // money, senders and settings
    const { workspace } = await call<{ workspace: Record<string, unknown> }>('get', '/api/setup');
    const { public_address: _own, ...settings } = workspace;
    void _own;
    await call('put', '/api/setup/workspace', { body: { ...settings, name: 'Ottermere', hours: '24' } });
    const { id: spare } = await call<{ id: number }>('post', '/api/setup/senders', {
      body: { name: 'Spare', kind: 'short', address: '72399', parts_per_second: 20 },
    });
    await call('put', '/api/setup/senders/:id', { params: { id: spare }, body: { name: 'Spare desk', parts_per_second: 10 } });
    await call('delete', '/api/setup/senders/:id', { params: { id: spare } });
    await call('put', '/api/setup/rates', {
      body: {
        rates: [
          { prefix: '+1', destination: 'North America', price_micro: 7500 },
          { prefix: '+44', destination: 'United Kingdom', price_micro: 31_000 },
        ],
      },
    });
    await call('delete', '/api/setup/rates/:prefix', { params: { prefix: '+44' } });
    await call('post', '/api/setup/balance', { body: { amount_micro: 50_000_000 } });
    await call('get', '/api/setup/balance');
    await call('get', '/api/people/lookup');
    await call('post', '/api/people/lookup', { body: { filter: {}, agreed: 10 } });
    await call('get', '/api/setup/record');

    // a broadcast, from its draft to its run
    const { id: broadcast } = await call<{ id: number }>('post', '/api/broadcasts', { body: { name: '', list_id: list } });
    const params = { id: broadcast };
    const { draft: first } = await call<{ draft: Draft }>('get', '/api/broadcasts/:id', { params });
    const later = new Date(desk.app.clock.now() + 30 * 86_400_000).toISOString().slice(0, 10);
    const draft: Draft = {
      ...EMPTY_DRAFT,
      ...first,
      to: [{ kind: 'list', id: list }],
      words: 'Ottermere: {given_name or "neighbor"}, the Heron is off.',
      when: { kind: 'at', date: later, time: '12:00' },
    };
    const { version } = await call<{ version: number }>('put', '/api/broadcasts/:id', {
      params,
      body: { name: 'Heron', draft, version: 1 },
    });
    await call('put', '/api/broadcasts/:id/labels', { params, body: { labels: ['ferry'] } });
    await call('get', '/api/labels');
    const given = await call<{ id: number }>('post', '/api/code-lists', { query: { name: 'Winter' }, raw: 'A-1\nA-2' });
    await call('post', '/api/code-lists/:id/codes', { params: { id: given.id }, raw: 'A-3' });
    await call('get', '/api/code-lists');
    await call('get', '/api/codes', { query: { search: 'A-1' } });
    await call('delete', '/api/code-lists/:id', { params: { id: given.id } });
    const words = { folder: 'Ferry', name: 'Late', words: { en: 'Late' }, links: [] };
    const prepared = await call<{ id: number }>('post', '/api/prepared-texts', { body: { ...words, kind: 'template' } });
    await call('get', '/api/prepared-texts', { query: { kind: 'template', search: 'late' } });
    await call('get', '/api/prepared-texts/folders');
    await call('put', '/api/prepared-texts/:id', { params: { id: prepared.id }, body: { ...words, name: 'Later', version: 1 } });
    await call('delete', '/api/prepared-texts/:id', { params: { id: prepared.id } });
    await call('put', '/api/session/place', { body: { place: 'Mill Quay' } });
    const xliff = await desk.ask('GET', `/api/broadcasts/${params.id}/xliff?language=fr`, 'manage');
    asked.add('get /api/broadcasts/:id/xliff');
    const translated = (await xliff.text()).replace(/<source[^>]*>([^]*?)<\/source>/g, '$&<target>$1</target>');
    await call('post', '/api/broadcasts/:id/xliff', { params, query: { language: 'fr' }, raw: translated });
    const { path } = await call<{ path: string }>('post', '/api/session/calendar');
    await call('get', '/calendar/:token', { params: { token: path.split('/')[2] }, as: undefined });
    await call('delete', '/api/session/calendar');
    await call('get', '/api/broadcasts', { query: { search: 'heron', label: 'ferry' } });
    const { digest, plan } = await call<{ digest: string; plan: { people: number; must_fix: unknown[] } }>(
      'post',
      '/api/broadcasts/:id/plan',
      { params, body: { draft } },
    );
    expect([plan.people, plan.must_fix]).toEqual([2, []]);
    await call('post', '/api/broadcasts/:id/shorter', { params, body: { draft, language: 'en' } });
    await call('post', '/api/broadcasts/:id/proof', { params, body: { draft, which: 'usual', index: 0 } });
    await call('post', '/api/broadcasts/:id/proofs', { params, body: { draft } });
    await call('post', '/api/broadcasts/:id/people', { params, body: { draft, step: 'will_get', skip: 0 } });
    await call('post', '/api/numbers/read', { body: { text: '+1 207 555 0142, 12' } });
    await call('put', '/api/session/own-number', { body: { number: '+1 207 555 0199' } });
    const code = await desk.app.db.query<{ body: string }>(
      `SELECT body FROM outbound WHERE kind = 'test' ORDER BY id DESC LIMIT 1`,
    );
    await call('post', '/api/session/own-number/code', { body: { code: code.rows[0].body.slice(0, 6) } });
    await call('post', '/api/links/check', { body: { addresses: ['http://127.0.0.1:1/'] } });
    await call('post', '/api/broadcasts/:id/here', { params, body: { tab: 'tab-of-a-test', place: 'words' } });
    await call('post', '/api/broadcasts/:id/rehearse', { params, body: { draft } });
    const tester = await call<{ id: number }>('post', '/api/testers', {
      body: { name: 'Pier', number: '+12075550190', copies: false },
    });
    await call('put', '/api/testers/:id', { params: { id: tester.id }, body: { copies: true } });
    await call('get', '/api/testers');
    await call('post', '/api/broadcasts/:id/test', {
      params,
      body: { draft, which: 'usual', index: 0, me: true, testers: [tester.id] },
    });
    await call('delete', '/api/testers/:id', { params: { id: tester.id } });
    const { run_id: run } = await call<{ run_id: number }>('post', '/api/broadcasts/:id/press', {
      params,
      body: { version, digest, press_id: 'contract-press-1' },
    });
    // it is planned in the background; the run answers in every state of it
    for (;;) {
      const { run: now } = await call<{ run: { state: string } }>('get', '/api/runs/:id', { params: { id: run } });
      if (now.state === 'waiting') break;
      await new Promise((resolve) => setTimeout(resolve, 10));
    }
    await desk.app.db.query(`UPDATE run SET asks = 'more people' WHERE id = $1`, [run]);
    await call('post', '/api/runs/:id/agree', { params: { id: run }, body: {} });
    await call('get', '/api/prepared-texts/earlier', { query: { search: 'a' } });
    const { recipients } = await call<{ recipients: { id: number }[] }>('get', '/api/runs/:id/recipients', {
      params: { id: run },
    });
    await call('get', '/api/runs/:id/recipients/kinds', { params: { id: run } });
    await call('get', '/api/runs/:id/recipients/:text/parts', { params: { id: run, text: recipients[0].id } });
    await call('get', '/api/runs/:id/recipients.xlsx', { params: { id: run }, query: { language: 'en' } });
    await call('put', '/api/lists/:id/rule', { params: { id: list }, body: { leave_after: 2 } });
    const { rows: alarm } = await desk.app.db.query<{ id: number }>(
      `INSERT INTO alarm (run_id, kind, words, at) VALUES ($1, 'slow', 'No receipts.', '2026-12-02') RETURNING id`,
      [run],
    );
    await call('post', '/api/alarms/:id/seen', { params: { id: alarm[0].id } });
    await call('get', '/api/runs/:id/recipients.csv', { params: { id: run } });
    await call('get', '/api/day', { query: { date: later } });
    await call('get', '/api/today');
    await call('post', '/api/broadcasts/:id/set-aside', { params, body: { as: 'draft' } });
    await desk.app.db.query(`UPDATE run SET state = 'sending', started_at = pressed_at WHERE id = $1`, [run]);
    await call('post', '/api/runs/:id/pause', { params: { id: run } });
    await call('post', '/api/runs/:id/resume', { params: { id: run } });
    await call('post', '/api/runs/:id/cancel-rest', { params: { id: run } });
    await call('get', '/api/outcomes', { query: { label: 'ferry', from: '2026-01-01' } });
    await call('get', '/api/outcomes/which');
    await call('get', '/api/outcomes/over-time', { query: { from: '2026-01-01' } });
    await call('get', '/api/runs/:id/tally', { params: { id: run } });
    await call('get', '/api/outcomes.csv');
    const { rows: columns } = await desk.app.db.query<{ names: string }>(
      `SELECT string_agg(column_name, ', ') AS names FROM information_schema.columns WHERE table_schema = 'public' AND table_name = 'run' AND is_generated = 'NEVER'`,
    );
    await desk.app.db.query(
      `INSERT INTO run (${columns[0].names}) SELECT ${columns[0].names} FROM (SELECT (jsonb_populate_record(NULL::run, to_jsonb(run) || '{"id": 9001, "press_id": "once more"}')).* FROM run WHERE id = $1) AS again`,
      [run],
    );
    await call('get', '/api/outcomes/compare', { query: { ids: `${run},9001` } });
    await desk.app.db.query(`DELETE FROM run WHERE id = 9001`);
    const { id: other } = await call<{ id: number }>('post', '/api/broadcasts', { body: { name: 'Gone', people: [ana] } });
    await call('delete', '/api/broadcasts/:id', { params: { id: other } });

    // replies, links and phones
    await desk.app.db.query(
      `INSERT INTO inbound (received_at, number, to_address, body, kind, person_id, applied) VALUES
         ('2026-01-01T00:00:00Z', '+12075550142', '72345', 'is it on?', 'reply', $1, true),
         ('2026-01-01T00:00:00Z', '+12075550143', '72345', 'who is this', 'reply', $2, true)`,
      [ana, bo],
    );
    const number = '+12075550142';
    await call('get', '/api/replies');
    await call('get', '/api/replies', { query: { view: 'all', search: 'is' } });
    const colleagues = await call<{ accounts: { id: number }[] }>('get', '/api/replies/desk');
    await call('post', '/api/replies/claim', { body: { number, account_id: colleagues.accounts[0].id, from: null } });
    await call('post', '/api/replies/proof', { body: { number, words: 'It is, {given_name or "neighbor"}.' } });
    const { seen, answered } = await call<{ seen: number; answered: number }>('get', '/api/replies/thread', {
      query: { number },
    });
    await call('post', '/api/replies/answer', { body: { number, words: 'It is.', seen, answered } });
    await call('post', '/api/people/:id/text', { params: { id: ana }, body: { words: 'It is.' } });
    await call('post', '/api/replies/:id/choice', { params: { id: seen }, body: { choice: 0 } });
    await call('post', '/api/replies/bring-back', { body: { number } });
    await call('post', '/api/replies/not-a-stop', { body: { number, seen } });
    await call('post', '/api/replies/put-away', { body: { number, seen, until: null } });
    await call('post', '/api/replies/opt-out', { body: { number: '+12075550143', wrong_number: false } });
    await desk.app.db.query(
      `INSERT INTO link (token, number, address) VALUES ('k7w2m4nq9cxy', '+12075550142', 'https://example.org/')`,
    );
    await call('get', '/l/:token', { params: { token: 'k7w2m4nq9cxy' }, as: undefined });
    await desk.app.db.query(
      `INSERT INTO link (token, number, address, opt_out) VALUES ('k7w2m4nq9cx5', '+12075550149', '', true)`,
    );
    await call('get', '/o/:token', { params: { token: 'k7w2m4nq9cx5' }, as: undefined });
    await call('post', '/o/:token', { params: { token: 'k7w2m4nq9cx5' }, as: undefined });
    const keyword = {
      word: 'FERRY',
      sender_id: 1,
      list_id: list,
      tag_id: tag,
      purpose: 'marketing',
      consent_wording: 'About two texts a month.',
      confirms: 'Ottermere: you are on the list. STOP ends it.',
      asks_first: true,
      asks: 'Ottermere: reply YES.',
      from_at: null,
      until_at: null,
    };
    const { id: ferry } = await call<{ id: number }>('post', '/api/keywords', { body: keyword });
    await call('put', '/api/keywords/:id', { params: { id: ferry }, body: { ...keyword, asks_first: false } });
    await call('get', '/api/keywords');
    const passRule = {
      what: 'keyword',
      keyword_id: ferry,
      broadcast_id: null,
      name: 'Pier',
      way: 'text',
      address: '+1 207 555 0150',
      any_hour: true,
    };
    const { id: passed } = await call<{ id: number }>('post', '/api/passing', { body: passRule });
    await call('get', '/api/passing');
    await call('post', '/api/passing/:id/again', { params: { id: passed } });
    const { rows: held } = await desk.app.db.query<{ id: number }>(
      `WITH p AS (INSERT INTO passed (pass_on_id, inbound_id, number, token, at, state, next_at) VALUES ($1, 1, $2, 'a-token-of-16-signs', '2026-12-02', 'sent', '2026-12-02') RETURNING id)
       INSERT INTO passed_answer (passed_id, number, at, words, state, reason) SELECT id, $2, '2026-12-02', 'Yes', 'held', 'somebody has answered' FROM p RETURNING id`,
      [passed, number],
    );
    await call('get', '/api/replies/thread', { query: { number } });
    await call('post', '/api/passing/answers/:id/settle', { params: { id: held[0].id } });
    await call('post', '/api/passing/:id/end', { params: { id: passed } });
    await call('post', '/api/keywords/:id/end', { params: { id: ferry } });
    const desk_ = await call<Record<string, unknown>>('get', '/api/setup/desk');
    const { accounts: _accounts, ...kept } = desk_;
    void _accounts;
    await call('put', '/api/setup/desk', { body: kept });
    const mailServer = {
      host: '',
      port: 587,
      secure: false,
      username: '',
      password: null,
      from_address: '',
      answers_to: '',
    };
    await call('put', '/api/setup/mail', { body: mailServer });
    await call('get', '/api/setup/mail');
    desk.app.mail = { practicePort: () => mailPort, answersPort: 1 };
    await call('post', '/api/setup/mail/try');
    await call('get', '/api/phones/mails', { query: { search: '' } });
    await call('post', '/api/phones/mails/:id/answer', { params: { id: 1 }, body: { text: 'Yes' } });
    await call('get', '/api/phones', { query: { search: '' } });
    await call('post', '/api/phones/:number/text', { params: { number: '12075550142' }, body: { to: '72345', text: 'Hello' } });
    await call('post', '/api/clock', { body: { minutes: 1 } });

    // a file, from the bench to its end, and another that is given up
    const csv = 'First name,Mobile\nDao,+1 207 555 0150\nEve,7\n';
    const { id: file } = await call<{ id: number }>('post', '/api/imports/file', { query: { name: 'a.csv' }, raw: csv });
    const checked = async (id: number) => {
      for (;;) {
        const staged = await call<{ state: string; at_row: number; version: number; settings: unknown }>(
          'get',
          '/api/imports/:id',
          { params: { id } },
        );
        if (staged.state !== 'reading' && staged.state !== 'writing' && staged.state !== 'undoing' && staged.at_row === 0)
          return staged;
        await new Promise((resolve) => setTimeout(resolve, 10));
      }
    };
    const staged = await checked(file);
    await call('get', '/api/imports/:id/rows', { params: { id: file } });
    await call('put', '/api/imports/:id/settings', { params: { id: file }, body: staged.settings });
    await call('put', '/api/imports/:id/source', { params: { id: file }, body: { delimiter: ',' } });
    const again = await checked(file);
    for (const ending of ['csv', 'xlsx']) {
      await call('get', `/api/imports/:id/rejects.${ending}`, { params: { id: file } });
      await call('get', `/api/imports/starter.${ending}`);
    }
    await call('post', '/api/imports/:id/decide', { params: { id: file }, body: { version: again.version } });
    expect((await checked(file)).state).toBe('done');
    await call('get', '/api/imports');
    await call('post', '/api/imports/:id/undo', { params: { id: file } });
    expect((await checked(file)).state).toBe('undone');
    await call('get', '/api/imports/:id/kept', { params: { id: file } });
    const { id: pasted } = await call<{ id: number }>('post', '/api/imports/text', { raw: 'Mobile\n+1 207 555 0151\n' });
    await checked(pasted);
    await call('post', '/api/imports/:id/use-once', { params: { id: pasted } });
    const { id: unwanted } = await call<{ id: number }>('post', '/api/imports/text', { raw: 'Mobile\n+1 207 555 0152\n' });
    await checked(unwanted);
    await call('delete', '/api/imports/:id', { params: { id: unwanted } });

    // people who go
    await call('post', '/api/people/:id/opt-out', { params: { id: cy }, body: { words: '' } });
    await call('post', '/api/people/:id/merge', { params: { id: ana }, body: { other_id: bo } });
    await call('delete', '/api/people/:id', { params: { id: cy } });
    await call('delete', '/api/dependants/:id', { params: { id: junior } });
    await call('delete', '/api/segments/:id', { params: { id: segment } });
    await call('delete', '/api/lists/:id', { params: { id: list } });
    await call('delete', '/api/tags/:id', { params: { id: tag } });
    await call('delete', '/api/fields/:about/:slug', { params: { about: 'person', slug: 'home_landing' } });

    // accounts
    await call('get', '/api/session');
    await call('get', '/api/session/layouts');
    await call('put', '/api/session/layouts/:table', {
      params: { table: 'people' },
      body: { hidden: ['zone'], order: ['name'], widths: { name: 120 } },
    });
    await call('get', '/api/session/layouts');
    const { path: invitation } = await call<{ path: string }>('post', '/api/setup/invitations', { body: { role: 'write' } });
    await call('post', '/api/invitation', {
      as: undefined,
      body: { token: invitation.split('/')[2], name: 'Noor', email: 'noor@ottermere.example', password: 'heron and kittiwake' },
    });
    await call('post', '/api/sign-in', {
      as: undefined,
      body: { email: 'noor@ottermere.example', password: 'heron and kittiwake' },
    });
    const { accounts } = await call<{ accounts: { id: number; email: string }[] }>('get', '/api/setup');
    const noor = accounts.find((each) => each.email === 'noor@ottermere.example')?.id ?? 0;
    await call('put', '/api/accounts/:id', { params: { id: noor }, body: { role: 'send' } });
    const { path: reset } = await call<{ path: string }>('post', '/api/accounts/:id/reset', { params: { id: noor } });
    await call('post', '/api/reset', { as: undefined, body: { token: reset.split('/')[2], password: 'pike and otter again' } });
    await call('delete', '/api/accounts/:id', { params: { id: noor } });
    await desk.app.db.query(`UPDATE account SET password_hash = $1 WHERE role = 'manage'`, [
      await hashPassword('heron and kittiwake'),
    ]);
    await call('put', '/api/session/password', { body: { old: 'heron and kittiwake', password: 'a longer one than before' } });
    await call('post', '/api/session/end-others');
    await call('post', '/api/sign-out', { as: 'write' });

    const left = allRoutes.map((each) => `${each.method} ${each.path}`).filter((key) => !asked.has(key));
    expect(left).toEqual([]);
  }, 120_000);
});

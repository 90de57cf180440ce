import { Ajv, type ValidateFunction } from 'ajv';
import addFormats from 'ajv-formats';
import { mkdtempSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { Mailbox } from '../../carrier/mailbox';
import { emptyDb, ENGINES } from '../db/testing/engines';
import { allRoutes } from './routes';
import { askAccounts } from './testing/contract/accounts';
import { askingOf } from './testing/contract/asking';
import { askBroadcasts } from './testing/contract/broadcasts';
import { askFiles } from './testing/contract/files';
import { askPeople } from './testing/contract/people';
import { askReplies } from './testing/contract/replies';
import { askSetup } from './testing/contract/setup';
import { askWhatGoes } from './testing/contract/leaving';
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
  });
  afterAll(async () => {
    await desk.close();
    await mailbox.close();
    await new Promise((resolve) => carrier.close(resolve));
  });

  interface Described {
    responses: Record<string, { content?: Record<string, { schema?: object }> } | undefined>;
  }

  test('every route answers as the running server says', async () => {
    const asking = askingOf(desk, says);
    const there = await askPeople(asking);
    await askSetup(asking);
    await askBroadcasts(asking, there);
    await askReplies(asking, there, mailPort);
    await askFiles(asking);
    await askWhatGoes(asking, there);
    await askAccounts(asking);
    asking.asked.add('get /api/openapi.json');
    const left = allRoutes.map((each) => `${each.method} ${each.path}`).filter((key) => !asking.asked.has(key));
    expect(left).toEqual([]);
  }, 120_000);
});

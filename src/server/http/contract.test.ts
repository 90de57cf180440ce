import { Ajv, type ValidateFunction } from 'ajv';
import addFormats from 'ajv-formats';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { Mailbox } from '../../carrier/mailbox';
import { emptyDb, ENGINES } from '../db/testing/engines';
import { allRoutes } from '../routes';
import { askAccounts } from './testing/contract/accounts';
import { askingOf } from './testing/contract/asking';
import { askBroadcasts } from './testing/contract/broadcasts';
import { askFiles } from './testing/contract/files';
import { askPeople } from './testing/contract/people';
import { askReplies } from './testing/contract/replies';
import { askSetup } from './testing/contract/setup';
import { askWhatGoes } from './testing/contract/leaving';
import { openDesk, type Desk } from './testing/desk';
import { quietCarrier, type QuietCarrier } from './testing/quiet-carrier';

/**
 * Every route is asked once for something that is there, and its answer is held against what the running server's own
 * description (/api/openapi.json) says of it, by a second validator.
 */
describe.each(ENGINES)('the contract, %s', (engine) => {
  let desk: Desk;
  let carrier: QuietCarrier;
  let mailbox: Mailbox;
  let mailPort = 0;
  const says = new Map<string, ValidateFunction | undefined>();

  beforeAll(async () => {
    desk = await openDesk(await emptyDb(engine));
    carrier = await quietCarrier();
    desk.app.practice = carrier;
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
    await carrier.close();
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
  });
});

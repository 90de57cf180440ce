import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join, relative } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { RunAnswer } from '../src/core/api/sending/runs';
import { openEmbedded } from '../src/server/db/embedded';
import { Desk, until } from '../harness/desk';
import { forget, freshDemo, type Demo } from '../harness/demo';

/**
 * Somebody is brought in by a file, texted, answers, is passed on, shown in a test, typed into a draft, and says what may mean stop; then
 * they are erased. What is left of them is looked for in every column of every table, and in every file of the data folder.
 */
const GIVEN = 'Zebulon';
const FAMILY = 'Quarrington';
const NUMBER = '+16055550137';
const WORDS = 'Zebulon would like two seats by the window';
const LEFT = [GIVEN, FAMILY, 'two seats', NUMBER.slice(1), '(605) 555-0137', '555-0137 / 0164'];

let demo: Demo;
let desk: Desk;
beforeAll(async () => {
  demo = await freshDemo({ CARRIER_PROFILE: '{"outcomes":"delivered"}' });
  desk = await new Desk(demo.url).signIn();
});
afterAll(() => forget(demo));

interface Draft {
  draft: Record<string, unknown>;
  version: number;
}

async function broadcast(name: string, who: object, more: object): Promise<{ id: number; draft: object; version: number }> {
  const { id } = await desk.ask<{ id: number }>('POST', '/api/broadcasts', { name, ...who });
  const made = await desk.ask<Draft>('GET', `/api/broadcasts/${id}`);
  const draft = { ...made.draft, ...more };
  const { version } = await desk.ask<{ version: number }>('PUT', `/api/broadcasts/${id}`, { name, draft, version: made.version });
  return { id, draft, version };
}

const texts = (words: string) => desk.ask('POST', `/api/phones/${NUMBER.slice(1)}/text`, { to: '72345', text: words });
const quiet = () =>
  until(async () => {
    const { kinds, kept } = await desk.ask<{
      kinds: { kind: string; waiting: number }[];
      kept: { words: string; rows: number }[];
    }>('GET', '/api/jobs');
    // the line's journal is trimmed every minute, and texts that were on their way are looked at again every ten
    await desk.ask('POST', '/api/clock', { minutes: 1 });
    return (
      kept.every(({ words, rows }) => words !== 'the line’s journal' || rows === 0) &&
      kinds.every(({ kind, waiting }) => kind !== 'erase' || waiting === 0)
    );
  });

test('of somebody who is erased nothing is left but a keyed hash, by which their stop is known again', async () => {
  const file = `Mobile,First,Last,Note\n(605) 555-0137,${GIVEN},${FAMILY},sits by the window\n(605) 555-0137 / 0164,${GIVEN},${FAMILY},\n`;
  const { id: imported } = await desk.upload<{ id: number }>('/api/imports/file?name=one.csv', Buffer.from(file));
  const bench = await until(async () => {
    const each = await desk.ask<{ state: string; at_row: number; version: number; counts: { new?: number } }>(
      'GET',
      `/api/imports/${imported}`,
    );
    return each.state === 'open' && each.at_row === 0 && each.counts.new !== undefined && each;
  });
  await desk.ask('POST', `/api/imports/${imported}/decide`, { version: bench.version });
  const person = await until(async () => {
    const { people } = await desk.ask<{ people: { id: number }[] }>('GET', `/api/people?search=${FAMILY}`);
    return people.at(0)?.id;
  });

  // replies are passed on, a test is written as them, a run goes to them, and their number is typed into a draft
  const rule = {
    what: 'all',
    keyword_id: null,
    broadcast_id: null,
    name: 'Mika',
    way: 'text',
    address: '+16125550172',
    any_hour: true,
  };
  await desk.ask('POST', '/api/passing', rule);
  const sent = await broadcast(
    'To one',
    { people: [person] },
    {
      words: '{given_name or "neighbor"}: the Heron is off. {link map}',
      link: { name: 'map', address: 'https://example.org/m' },
    },
  );
  const { testers } = await desk.ask<{ testers: { id: number }[] }>('GET', '/api/testers');
  await desk.ask('POST', `/api/broadcasts/${sent.id}/test`, {
    draft: sent.draft,
    which: 'usual',
    index: 0,
    me: false,
    testers: testers.map(({ id }) => id).slice(0, 1),
  });
  const typed = await broadcast(
    'Typed',
    {},
    { to: [{ kind: 'numbers', numbers: [NUMBER, '+12075550165'] }], words: 'Ottermere: hello.' },
  );
  const { digest } = await desk.ask<{ digest: string }>('POST', `/api/broadcasts/${sent.id}/plan`, { draft: sent.draft });
  const { run_id: run } = await desk.ask<{ run_id: number }>('POST', `/api/broadcasts/${sent.id}/press`, {
    version: sent.version,
    digest,
    press_id: 'forget-press',
  });
  await until(async () => (await desk.ask<RunAnswer>('GET', `/api/runs/${run}`)).run.state === 'waiting');
  await desk.ask('POST', '/api/clock', { minutes: 1 });
  await until(async () => (await desk.ask<RunAnswer>('GET', `/api/runs/${run}`)).run.ended_at !== null);
  await texts(WORDS);
  await until(async () => (await desk.cameTo('16125550172')).some((text) => text.includes('two seats')));
  // what may mean stop, and nobody decides
  await texts('Zebulon says please stop by');
  await until(
    async () =>
      (await desk.ask<{ conversations: unknown[] }>('GET', '/api/replies?view=all&search=please%20stop%20by')).conversations
        .length > 0,
  );

  await desk.ask('DELETE', `/api/people/${person}`);
  await quiet();
  const { draft } = await desk.ask<Draft>('GET', `/api/broadcasts/${typed.id}`);
  expect(draft.to).toEqual([{ kind: 'numbers', numbers: ['+12075550165'] }]);

  // who brings the number back is told that it has said stop
  await demo.stop();
  const found: string[] = [];
  const db = await openEmbedded({ dataDir: `${demo.folder}/db` });
  const { rows: tables } = await db.query<{ name: string }>(
    `SELECT tablename AS name FROM pg_tables WHERE schemaname = 'public'`,
  );
  for (const { name } of tables) {
    const { rows } = await db.query<{ row: string }>(`SELECT t::text AS row FROM "${name}" t`);
    for (const { row } of rows)
      for (const word of LEFT) if (row.includes(word)) found.push(`${name}: ${word} in ${row.slice(0, 300)}`);
  }
  const sealed = (await db.query(`SELECT 1 FROM register_sealed`)).rowCount;
  await db.close();
  // the database's files are the database's, and the practice carrier's journal is the carrier's
  for (const path of filesOf(demo.folder)) {
    if (/^db\/|^carrier\.journal/.test(path)) continue;
    const bytes = readFileSync(join(demo.folder, path), 'latin1');
    for (const word of LEFT) if (bytes.includes(word)) found.push(`${path}: ${word}`);
  }
  expect(found).toEqual([]);
  expect(sealed).toBe(1);
});

function filesOf(folder: string, at = folder): string[] {
  return readdirSync(at).flatMap((name) => {
    const path = join(at, name);
    return statSync(path).isDirectory() ? filesOf(folder, path) : [relative(folder, path)];
  });
}

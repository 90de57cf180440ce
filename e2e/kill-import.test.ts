import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { Desk, until } from '../harness/desk';
import { forget, freshDemo, openDemo, type Demo } from '../harness/demo';

/** `kill -9` of the real server while it reads, brings in and undoes an import: whole at the next start, or nothing. */
const ROWS = 12_000;
const FILE = Buffer.from(
  `Mobile,First,Last,Tags\n${Array.from({ length: ROWS }, (_, i) => `(605) ${220 + Math.floor(i / 10_000)}-${String(i % 10_000).padStart(4, '0')},P${i},Kill,${i % 3 === 0 ? 'third' : ''}`).join('\n')}\n`,
);

let demo: Demo;
let desk: Desk;
beforeAll(async () => {
  demo = await freshDemo();
  desk = await new Desk(demo.url).signIn();
});
afterAll(async () => {
  await demo.stop();
  forget(demo);
});

async function killAfter(ms: number): Promise<void> {
  await new Promise((resolve) => setTimeout(resolve, ms));
  await demo.stop('SIGKILL');
  demo = await openDemo(demo.folder);
  desk = desk.at(demo.url);
}
interface Import {
  state: string;
  at_row: number;
  version: number;
  counts: { new?: number };
}
const one = (id: number) => desk.ask<Import>('GET', `/api/imports/${id}`);
const people = async () => (await desk.ask<{ people: number }>('GET', '/api/people/count')).people;
const checked = (id: number) =>
  until(async () => {
    const each = await one(id);
    return each.state === 'open' && each.at_row === 0 && each.counts.new !== undefined && each;
  }, 120);

describe('an import under kill -9', () => {
  test('before the decision nothing is in; after it, everything, once; undone, nothing again', async () => {
    const before = await people();
    // while the file is read: the upload's answer may be lost, the import goes on
    void desk.upload('/api/imports/file?name=kill.csv', FILE).catch(() => undefined);
    await until(async () => (await desk.ask<{ imports: unknown[] }>('GET', '/api/imports')).imports.length > 0, 60);
    await killAfter(150);
    const { imports } = await desk.ask<{ imports: { id: number }[] }>('GET', '/api/imports');
    const { id } = imports[0];
    expect((await checked(id)).counts.new).toBe(ROWS);
    expect(await people()).toBe(before);

    await desk.ask('POST', `/api/imports/${id}/decide`, { version: (await one(id)).version });
    for (const ms of [400, 900, 100]) await killAfter(ms);
    await until(async () => (await one(id)).state === 'done', 120);
    expect(await people()).toBe(before + ROWS);

    await desk.ask('POST', `/api/imports/${id}/undo`, {});
    for (const ms of [300, 700]) await killAfter(ms);
    await until(async () => (await one(id)).state === 'undone', 120);
    expect(await people()).toBe(before);
    // the tag that came with it has gone with it
    const sources = await desk.ask<{ tags: { name: string }[] }>('GET', '/api/people/sources');
    expect(sources.tags.map((tag) => tag.name)).not.toContain('third');
  });
});

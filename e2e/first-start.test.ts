import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { startPostgres } from '../src/server/db/testing/global';
import { closeBrowser, visit } from '../harness/browser';
import { cutOffWhileMaking, forget, openDemo, openNew, type Demo } from '../harness/demo';

/** The first start as a new owner does it, on both engines: from the printed link to a text on a phone, by real presses. */
describe.each(['embedded', 'postgres'] as const)('a new workspace, %s', (engine) => {
  let server: Demo;
  let postgres: Awaited<ReturnType<typeof startPostgres>> | undefined;
  beforeAll(async () => {
    if (engine === 'postgres') postgres = await startPostgres();
    server = await openNew(postgres ? { DATABASE_URL: postgres.url } : {});
  });
  afterAll(async () => {
    await server.stop();
    forget(server);
    await postgres?.stop();
    if (engine === 'postgres') await closeBrowser();
  });

  test('from the one-time link to a first practice text in at most 12 clicks', async () => {
    const visitor = await visit();
    const { page } = visitor;
    const link = /(http:\S+\/join\/\S+)/.exec(server.said())?.[1] ?? '';
    await page.goto(link);
    await visitor.type('textbox', 'Your name', 'Ana Reyes');
    await visitor.type('textbox', 'E-mail address', 'ana@ottermere.example');
    await visitor.type('textbox', 'Password', 'heron and kittiwake');
    await visitor.click('button', 'Make the account');
    // nobody is asked to sign in again: what a first text needs comes next
    await visitor.sees('Before a first text');
    await visitor.type('textbox', 'Name', 'Ottermere Ferry');
    await visitor.click('button', 'Save the workspace');
    await visitor.sees('The workspace is set up.');
    await visitor.click('button', 'Add a sender');
    await visitor.sees('Ottermere Ferry, +1 207 555 0100');
    await visitor.click('button', 'Begin with the starter card');
    await visitor.sees(/\d destinations/);
    await visitor.click('button', 'Add to the balance');
    await visitor.sees('everything is there');
    await visitor.click('button', 'Write a first text');
    await visitor.sees('Nobody yet. A list, a segment');
    await visitor.click('button', 'Add');
    await visitor.click('button', 'Typed or pasted numbers…');
    await visitor.type('textbox', 'Numbers', '+1 207 555 0142');
    await visitor.click('button', 'Add 1');
    await (await visitor.find('textbox', 'Words')).focus();
    await page.keyboard.type('Ottermere Ferry: the first text of all.');
    // the clock of this server is the machine's: at night a text to a number waits for the morning, and that is as it should be
    await visitor.sees(/person will get it/);
    await visitor.click('button', 'Last look');
    await visitor.click('button', /^Send to 1 person (?:now|at .+)$/);
    await visitor.sees(/until the first of 1 goes|until .*, when the first of 1 goes|of 1 delivered/);
    expect(visitor.clicks.length, visitor.clicks.join('\n')).toBeLessThanOrEqual(12);
    await visitor.close();
  });

  test('Today says what is missing, with a way to it; the rest of the setup is found again', async () => {
    const visitor = await visit();
    const { page } = visitor;
    await page.goto(server.url);
    await visitor.type('textbox', 'E-mail address', 'ana@ottermere.example');
    await visitor.type('textbox', 'Password', 'heron and kittiwake');
    await visitor.click('button', 'Sign in');
    await visitor.sees('Nobody is in the address book.');
    await visitor.click('link', 'put it right');
    await visitor.sees('Bringing in people');
    await page.goto(`${server.url}/setup/prices`);
    await visitor.sees('United States, Canada');
    await visitor.close();
  });
});

test('a first start that is cut off leaves no half store: the next one makes it anew', async () => {
  const folder = await cutOffWhileMaking();
  expect(existsSync(join(folder, 'db.making'))).toBe(true);
  const server = await openDemo(folder, {}, 'dist/server.js');
  expect(server.said()).toMatch(/Make the owner's account here/);
  expect(existsSync(join(folder, 'db.making'))).toBe(false);
  await server.stop();
  forget(server);
});

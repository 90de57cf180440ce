import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { ElementHandle } from 'puppeteer-core';
import { closeBrowser, signIn, visit, type Visitor } from '../harness/browser';
import { forget, freshDemo, tryToOpen, type Demo } from '../harness/demo';

let demo: Demo;
beforeAll(async () => {
  demo = await freshDemo({ CARRIER_PROFILE: '{"outcomes":"delivered","latency":[50,400]}' });
});
afterAll(async () => {
  await closeBrowser();
  await demo.stop();
  forget(demo);
});

/** From the sign-in to a delivered text, as a newcomer would. Everything pressed is a click of the visitor. */
async function mainJob(visitor: Visitor, list: string): Promise<void> {
  const { page } = visitor;
  await signIn(visitor, demo.url);
  await visitor.click('link', 'People');
  await visitor.click('link', 'Bring in people');
  const [chooser] = await Promise.all([page.waitForFileChooser(), visitor.click('button', 'Choose a file')]);
  await chooser.accept([resolve('demo/files/summer-passes.csv')]);
  await visitor.sees('What will happen');
  // the hand count is in demo/files/README.md
  await visitor.sees('16 safe fixes applied');
  await visitor.sees(/new people\s+55/);
  await visitor.sees(/rejected\s+12/);
  await visitor.click('button', 'Text the first of 4');
  await visitor.click('button', 'Apply to 3');
  await visitor.sees(/new people\s+62/);
  await visitor.sees(/unchanged\s+1/);
  await visitor.sees(/same number twice\s+2/);
  await visitor.sees(/rejected\s+5/);
  await visitor.type('textbox', 'Add to list', list);
  await visitor.click('button', /^Bring in \d+ people$/);
  await visitor.click('button', `Write to “${list}”`);
  await visitor.sees('people will get it');
  await visitor.type('textbox', 'Name, for you only', 'Welcome to summer');
  await (await visitor.find('textbox', 'Words')).focus();
  await page.keyboard.type('{');
  await page.waitForSelector('.cm-tooltip-autocomplete');
  await page.keyboard.press('Enter');
  await page.keyboard.type(', your summer pass is ready at the Mill Quay desk. Ottermere Ferry');
  await visitor.sees(/Nothing to fix/);
  await visitor.click('button', 'Last look');
  await visitor.click('button', /^Send to \d+ people now$/);
  await visitor.sees(/until the first of|to go|delivered/);
  await visitor.click('link', /nothing leaves$/);
  await visitor.sees('your summer pass is ready at the Mill Quay desk');
}

describe('the main job', () => {
  test('is served on lines that are kept longer than whoever asks keeps them', async () => {
    expect((await fetch(demo.url)).headers.get('keep-alive')).toBe('timeout=75');
  });

  test('from a damaged file to delivered texts in at most 14 clicks', async () => {
    const visitor = await visit();
    await mainJob(visitor, 'Summer passes');
    expect(visitor.clicks.length, visitor.clicks.join('\n')).toBeLessThanOrEqual(14);
    await visitor.sees(/Henrik, your summer pass is ready/);
    await visitor.sees('STOP to opt out');
    await visitor.close();
  });

  test('at 390 px the main job passes too, and nothing scrolls sideways', async () => {
    const visitor = await visit({ width: 390, height: 844 });
    await mainJob390(visitor);
    await visitor.close();
  });

  test('a reply of STOP from a phone takes the number out at once', async () => {
    const visitor = await visit();
    await signIn(visitor, demo.url);
    await visitor.page.goto(`${demo.url}/phones`);
    const answer = await visitor.find('textbox', /^Answer as /);
    const number =
      (await (answer as ElementHandle<HTMLInputElement>).evaluate((element) => element.getAttribute('aria-label')))?.replace(
        'Answer as ',
        '',
      ) ?? '';
    await answer.focus();
    await visitor.page.keyboard.type('Stop!');
    await visitor.page.keyboard.press('Enter');
    // whoever it is, in their language
    await visitor.sees(/: (?:you are opted out|vous ne recevrez|no recibirá)/);
    await visitor.page.goto(`${demo.url}/people?search=${number}`);
    await visitor.sees('opted out');
    await visitor.close();
  });

  test('a public address that is none is said, and nothing is started', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'bell-nowhere-'));
    const tried = await tryToOpen(folder, { PUBLIC_ADDRESS: 'texts of ours' });
    expect(tried.code).toBe(1);
    expect(tried.said).toContain('PUBLIC_ADDRESS is “texts of ours”, which is not an address such as https://texts.example.org');
    expect(tried.said).not.toMatch(/\n\s+at /);
    rmSync(folder, { recursive: true, force: true });
  });

  test('a second process on the same data folder refuses with a clear sentence and harms nothing', async () => {
    const second = await tryToOpen(demo.folder);
    expect(second.code).toBe(1);
    expect(second.said).toMatch(
      new RegExp(
        `The data folder ${demo.folder}/db is in use by process ${demo.child.pid} since .*Nothing was opened or changed`,
      ),
    );
    const visitor = await visit();
    await signIn(visitor, demo.url);
    await visitor.close();
  });
});

async function mainJob390(visitor: Visitor): Promise<void> {
  const { page } = visitor;
  const sideways = async () =>
    expect(await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth), page.url()).toBeLessThanOrEqual(
      0,
    );
  await signIn(visitor, demo.url);
  await sideways();
  await visitor.click('link', 'Broadcasts');
  // the view itself is there: Today has such a button, too
  await visitor.find('combobox', 'Label');
  await sideways();
  await visitor.click('button', 'New broadcast');
  await visitor.sees('people will get it');
  await visitor.click('button', 'Add');
  await visitor.click('option', /^Parents, Pike/);
  await page.keyboard.press('Escape');
  await (await visitor.find('textbox', 'Words')).focus();
  await page.keyboard.type('Ottermere Boathouse: Pike class meets at 4 PM on the quay.');
  await sideways();
  await visitor.click('button', 'Last look');
  await visitor.sees('cannot be called back');
  await sideways();
  await visitor.click('button', /^Send to \d+ people now$/);
  await visitor.sees(/until the first of|delivered/);
  await sideways();
  for (const path of [
    '/people',
    '/replies',
    '/outcomes',
    '/setup/workspace',
    '/setup/fields',
    '/setup/team',
    '/start',
    '/setup/api',
    '/phones',
    '/people/bring-in',
  ]) {
    await page.goto(`${demo.url}${path}`);
    await page.waitForSelector('h1, h2');
    await sideways();
  }
}

import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { closeBrowser, signIn, visit } from '../harness/browser';
import { Desk, until } from '../harness/desk';
import { forget, freshDemo, type Demo } from '../harness/demo';

/** Everything the sheet can do, in one sitting, by real clicks. */
let demo: Demo;
let desk: Desk;
beforeAll(async () => {
  demo = await freshDemo({ CARRIER_PROFILE: '{"outcomes":"delivered","latency":[20,120]}' });
  desk = await new Desk(demo.url).signIn();
});
afterAll(async () => {
  await closeBrowser();
  await demo.stop();
  forget(demo);
});

interface Row {
  number: string;
  body: string;
}

describe('the whole sheet', () => {
  test('from the damaged spreadsheet to a scheduled, personalized, two-language, repeated broadcast with a link and codes in at most 25 clicks', async () => {
    const visitor = await visit();
    const { page } = visitor;
    await signIn(visitor, demo.url);
    await visitor.click('link', 'People');
    await visitor.click('link', 'Bring in people');
    const [chooser] = await Promise.all([page.waitForFileChooser(), visitor.click('button', 'Choose a file')]);
    await chooser.accept([resolve('demo/files/summer-passes.csv')]);
    await visitor.sees(/new people\s+55/);
    await visitor.click('button', 'Text the first of 4');
    await visitor.click('button', 'Apply to 3');
    await visitor.sees(/new people\s+62/);
    await visitor.type('textbox', 'Add to list', 'Summer passes');
    await visitor.click('button', /^Bring in \d+ people$/);
    await visitor.click('button', 'Write to “Summer passes”');
    await visitor.sees('people will get it');
    await visitor.type('textbox', 'Name, for you only', 'Summer codes');
    // the link
    await visitor.click('button', 'Add a link');
    await visitor.type('textbox', 'Address of link 1', 'https://example.org/ottermere/summer');
    // the codes
    await visitor.click('button', 'Codes');
    await visitor.click('button', 'bring in codes');
    await visitor.type('textbox', 'Name of the list of codes', 'Summer');
    // for two runs: each takes one for everyone
    const file = join(mkdtempSync(join(tmpdir(), 'codes-')), 'codes.txt');
    writeFileSync(file, Array.from({ length: 160 }, (_, i) => `LAKE-${i + 100}`).join('\n'));
    const [codeFile] = await Promise.all([page.waitForFileChooser(), visitor.click('button', 'Choose a file')]);
    await codeFile.accept([file]);
    await visitor.sees('160 codes brought in');
    // words in two languages, with name, code and link by the one key
    await (await visitor.find('textbox', 'Words')).focus();
    await page.keyboard.type('{');
    await page.waitForSelector('.cm-tooltip-autocomplete');
    await page.keyboard.press('Enter');
    await page.keyboard.type(', your code is {code}: {link more} Ottermere Ferry');
    await visitor.click('button', /^French \d+, no words$/);
    await (await visitor.find('textbox', 'Words')).focus();
    await page.keyboard.type('{given_name or "voisin"}, votre code : {code} {link more} Ottermere Ferry');
    await visitor.find('button', /^French \d+$/);
    // again and again
    await visitor.click('radio', 'Again and again');
    await visitor.sees(/Every week on \w+, beginning/);
    await visitor.sees(/Nothing to fix/);
    await visitor.click('button', 'Last look');
    await visitor.sees(/codes of “Summer”/);
    await visitor.sees(/Then again, every week on/);
    const [, people] = /Send to (\d+) people/.exec(await page.evaluate(() => document.body.innerText)) ?? [];
    await visitor.click('button', /^Send to \d+ people at/);
    await visitor.sees('Take it all back');
    expect(visitor.clicks.length, visitor.clicks.join('\n')).toBeLessThanOrEqual(25);

    const run = Number(/runs\/(\d+)/.exec(page.url())?.[1]);
    const stored = await until(async () => {
      const { recipients } = await desk.ask<{ recipients: Row[] }>('GET', `/api/runs/${run}/recipients`);
      return recipients.length === Number(people) && recipients;
    });
    const codes = stored.map(({ body }) => /LAKE-\d+/.exec(body)?.[0]);
    expect(new Set(codes).size).toBe(stored.length);
    expect(stored.some(({ body }) => body.includes('votre code'))).toBe(true);
    for (const { body } of stored) {
      expect(body).not.toMatch(/[{}]/);
      expect(body).toMatch(/\/l\/[a-z0-9]{12}/);
    }
    // who got which is found by the code
    const found = await desk.ask<{ codes: { code: string; number: string }[] }>('GET', `/api/codes?search=${codes[0] ?? ''}`);
    expect(found.codes).toMatchObject([{ code: codes[0], number: stored[0].number }]);
    await visitor.close();
  });

  test('the next run is planned by the server, shown on Today and the bell line, and skipped by a press; the series ends with another', async () => {
    const visitor = await visit();
    const { page } = visitor;
    await signIn(visitor, demo.url);
    const list = await desk.ask<{ broadcasts: { id: number; name: string; next_at: string | null; run_id: number }[] }>(
      'GET',
      '/api/broadcasts?search=Summer%20codes',
    );
    const [series] = list.broadcasts;
    await visitor.sees('Again, counted anew shortly before');
    // the first run goes at its time
    const left = (at: string) =>
      desk.ask<{ now: string }>('GET', '/api/session').then(({ now }) => (Date.parse(at) - Date.parse(now)) / 60_000);
    const first = await desk.ask<{ run: { due_at: string } }>('GET', `/api/runs/${series.run_id}`);
    await desk.ask('POST', '/api/clock', { minutes: Math.ceil(await left(first.run.due_at)) + 1 });
    await until(
      async () => (await desk.ask<{ run: { state: string } }>('GET', `/api/runs/${series.run_id}`)).run.state === 'finished',
      120,
    );
    // then to five minutes before the run after it, in steps that the clock may be moved by
    const minutes = async () => (await left(series.next_at ?? '')) - 5;
    for (let more = await minutes(); more > 1; more = await minutes())
      await desk.ask('POST', '/api/clock', { minutes: Math.min(720, Math.ceil(more)) });
    const next = await until(async () => {
      const { run } = await desk.ask<{ run: { id: number; state: string } }>('GET', `/api/broadcasts/${series.id}`);
      return run.id !== series.run_id && run.state === 'waiting' && run.id;
    }, 60);
    await page.goto(`${demo.url}/runs/${next}`);
    await visitor.click('button', 'Skip this one');
    await visitor.sees('Needs you');
    await until(async () => {
      const { run } = await desk.ask<{ run: { id: number } }>('GET', `/api/broadcasts/${series.id}`);
      return run.id === series.run_id;
    }, 60);
    await page.goto(`${demo.url}/broadcasts/${series.id}`);
    await visitor.sees('It goes every week on');
    await visitor.click('button', 'Cancel all that is to come');
    await visitor.sees('canceled');
    expect(await desk.ask('GET', `/api/broadcasts/${series.id}`)).toMatchObject({ state: 'canceled', next_at: null });
    await visitor.close();
  });

  test('what went is followed up: those who got it and did not answer, from the run itself', async () => {
    const visitor = await visit();
    await signIn(visitor, demo.url);
    const { runs } = await desk.ask<{ runs: { id: number; name: string; state: string; tally: Record<string, number> }[] }>(
      'GET',
      '/api/outcomes',
    );
    const run = runs.find((each) => each.name === 'Summer codes' && each.state === 'finished');
    expect(run?.tally.delivered).toBeGreaterThan(50);
    await visitor.page.goto(`${demo.url}/runs/${run?.id ?? 0}`);
    await visitor.click('button', 'Follow up');
    await visitor.click('menuitem', 'Those who got it and did not answer');
    await visitor.sees(/\d+\s+people will get it/);
    await visitor.sees('no answer');
    // the numbers of those who opted out meanwhile are no longer among them, and everyone is accounted for
    await visitor.sees(/Chosen\s+\d+/);
    await visitor.close();
  });

  test('an opt-out link: its page asks, one press does it, and the next plan has one fewer', async () => {
    const [person] = (await desk.ask<{ people: { id: number; number: string }[] }>('GET', '/api/people?search=Desta')).people;
    const { id } = await desk.ask<{ id: number }>('POST', '/api/broadcasts', { name: 'Link', people: [person.id] });
    const made = await desk.ask<{ draft: object; version: number }>('GET', `/api/broadcasts/${id}`);
    const draft = { ...made.draft, words: 'Ottermere: pier closed.', opt_out: 'link' };
    const { version } = await desk.ask<{ version: number }>('PUT', `/api/broadcasts/${id}`, {
      name: 'Link',
      draft,
      version: made.version,
    });
    const look = await desk.ask<{ digest: string; plan: { people: number; must_fix: unknown[] } }>(
      'POST',
      `/api/broadcasts/${id}/plan`,
      { draft },
    );
    expect([look.plan.people, look.plan.must_fix]).toEqual([1, []]);
    const { run_id } = await desk.ask<{ run_id: number }>('POST', `/api/broadcasts/${id}/press`, {
      version,
      digest: look.digest,
      press_id: 'opt-out-link-1',
    });
    const body = await until(async () => {
      const { recipients } = await desk.ask<{ recipients: Row[] }>('GET', `/api/runs/${run_id}/recipients`);
      return recipients[0]?.body;
    });
    const path = /\/o\/[a-z0-9]{12}/.exec(body)?.[0] ?? '';
    // on the phone of somebody who has no account
    const visitor = await visit({ width: 390, height: 700 });
    await visitor.page.goto(`${demo.url}${path}`);
    await visitor.sees('Nothing has changed yet.');
    const after = () =>
      desk.ask<{ plan: { people: number } }>('POST', `/api/broadcasts/${id}/plan`, { draft }).then(({ plan }) => plan.people);
    expect(await after()).toBe(1);
    await visitor.click('button', 'No more texts');
    await visitor.sees('Done.');
    expect(await after()).toBe(0);
    await visitor.close();
  });
});

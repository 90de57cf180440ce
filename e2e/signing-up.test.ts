import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Visitor } from '../harness/browser';
import { until, type Desk } from '../harness/desk';
import { openDemo, type Demo } from '../harness/demo';
import { getUp, sitDown } from './support/sit-down';

/** Keywords, passing on by mail, the desk out of hours, lists that clean themselves and trouble that announces itself, by real clicks. */
let demo: Demo;
let desk: Desk;
let ana: Visitor;
beforeAll(async () => {
  ({ demo, desk, ana } = await sitDown());
});
afterAll(() => getUp(demo, ana));

const STRANGER = '12075550177';
const screen = (number: string) => desk.cameTo(number);
const texts = (number: string, text: string) => desk.ask('POST', `/api/phones/${number}/text`, { to: '72345', text });

describe('signing up, passing on, being away', () => {
  test('a keyword is made, its look-alike pointed out, and somebody signs up by it', async () => {
    const { page } = ana;
    await page.goto(`${demo.url}/replies/keywords`);
    await ana.click('button', 'New keyword');
    await ana.type('textbox', 'The word', 'FERY');
    await ana.sees('easily taken for FERRY');
    await ana.click('textbox', 'The word');
    await page.keyboard.down('Control');
    await page.keyboard.press('a');
    await page.keyboard.up('Control');
    await page.keyboard.type('REGATTA');
    await ana.choose('Puts them on the list', 'Crew and staff');
    await ana.type('textbox', 'What they agree to, as the poster says it', 'Notices of the regatta weekend.');
    await ana.sees('Text REGATTA to 72345');
    await ana.click('button', 'Add the keyword');
    await ana.sees('“REGATTA” holds. Put up its poster.');
    await ana.click('link', 'its poster');
    await ana.sees('Ottermere Ferry & Boathouse: Notices of the regatta weekend.');
    await texts(STRANGER, 'Regatta!');
    await until(async () => (await screen(STRANGER)).length === 1);
    expect(await screen(STRANGER)).toEqual(['Ottermere Ferry & Boathouse: you are on the list. STOP to get no more.']);
    await page.goto(`${demo.url}/replies/keywords`);
    await ana.sees(/REGATTA to 72345\s+Crew and staff\s+1\s+now/);
    // nobody has to answer that
    expect((await desk.ask<{ counts: { waiting: number } }>('GET', '/api/replies')).counts.waiting).toBe(3);
  });

  test('all replies are passed on by mail; an answer out of the mailbox comes back as from the workspace', async () => {
    const { page } = ana;
    await page.goto(`${demo.url}/replies/passing-on`);
    await ana.sees('Pass on to somebody');
    await ana.type('textbox', 'Who', 'Pier office');
    await ana.choose('How', 'by mail');
    await ana.type('textbox', 'E-mail address', 'pier@ottermere.example');
    await ana.click('button', 'Pass on from now on');
    await ana.sees('Passed on to Pier office from now on.');
    await texts(STRANGER, 'Where do we meet?');
    await page.goto(`${demo.url}/phones?show=mailbox`);
    await ana.sees('Where do we meet?');
    await ana.type('textbox', 'Answer as pier@ottermere.example', 'At Mill Quay, at nine.');
    await ana.click('button', 'Send');
    await ana.sees('It was taken.');
    await until(async () => (await screen(STRANGER)).at(-1) === 'At Mill Quay, at nine.');
    await page.goto(`${demo.url}/replies?number=${encodeURIComponent(`+${STRANGER}`)}`);
    await ana.sees('passed on to Pier office');
    await ana.sees('by Pier office');
    await page.goto(`${demo.url}/replies/passing-on`);
    await ana.click('button', 'end it');
    await ana.click('button', 'end it');
    await ana.sees('Nothing is passed on');
  });

  test('when nobody is at the desk they are answered once', async () => {
    const { page } = ana;
    await page.goto(`${demo.url}/setup/desk`);
    await ana.click('checkbox', /^Answer whoever writes/);
    for (const day of ['Monday', 'Tuesday', 'Wednesday', 'Thursday']) await ana.click('button', day);
    await ana.type('textbox', 'What answers them, English', 'Nobody is here before Friday.');
    await ana.click('button', 'Save');
    await ana.sees('The hours of the desk are saved.');
    await texts('12075550178', 'Hello?');
    await texts('12075550178', 'Anybody?');
    await until(async () => (await screen('12075550178')).length === 1);
    expect(await screen('12075550178')).toEqual(['Nobody is here before Friday.']);
  });

  test('a list keeps itself clean, and trouble stands on Today and on the bell line until somebody has seen it', async () => {
    const { page } = ana;
    // the carrier refuses everything from now on
    await page.goto('about:blank');
    await demo.stop();
    demo = await openDemo(demo.folder, { CARRIER_PROFILE: '{"trouble":11}' });
    desk = desk.at(demo.url);
    const { lists } = await desk.ask<{ lists: { id: number; name: string }[] }>('GET', '/api/people/sources');
    const list = lists.find(({ name }) => name === 'Parents, Pike')?.id ?? 0;
    await page.goto(`${demo.url}/people?list=${list}`);
    await ana.choose('When people leave the list by themselves', 'leaves it at once');
    await until(async () =>
      (await desk.ask<{ lists: { id: number; leave_after: number | null }[] }>('GET', '/api/people/sources')).lists.some(
        (each) => each.id === list && each.leave_after === 1,
      ),
    );
    const before = (await desk.ask<{ people: number }>('GET', `/api/people/count?list=${list}`)).people;
    const id = (await desk.ask<{ id: number }>('POST', '/api/broadcasts', { name: 'Pike: off', list_id: list })).id;
    const made = await desk.ask<{ draft: Record<string, unknown>; version: number }>('GET', `/api/broadcasts/${id}`);
    const draft = { ...made.draft, words: 'No class today. Ottermere', opt_out: 'none' };
    const { version } = await desk.ask<{ version: number }>('PUT', `/api/broadcasts/${id}`, {
      name: 'Pike: off',
      draft,
      version: made.version,
    });
    const { digest } = await desk.ask<{ digest: string }>('POST', `/api/broadcasts/${id}/plan`, { draft });
    const { run_id } = await desk.ask<{ run_id: number }>('POST', `/api/broadcasts/${id}/press`, {
      version,
      digest,
      press_id: 'pike-off',
    });
    await until(async () => (await desk.ask<{ run: { state: string } }>('GET', `/api/runs/${run_id}`)).run.state === 'waiting');
    await desk.ask('POST', '/api/clock', { minutes: 1 });
    await until(
      async () => (await desk.ask<{ run: { ended_at: string | null } }>('GET', `/api/runs/${run_id}`)).run.ended_at !== null,
    );
    await page.goto(demo.url);
    await ana.sees(/Pike: off: \d+ of \d+ failed, all for one reason/);
    expect(await page.evaluate(() => document.querySelector('[aria-label="Runs of the day"]')?.textContent)).toContain('Wrong:');
    await ana.click('button', 'I have seen it');
    await page.waitForFunction(() => !document.body.innerText.includes('all for one reason'));
    await page.goto(`${demo.url}/runs/${run_id}`);
    await ana.sees('seen by Ana Reyes');
    await ana.sees(/left “Parents, Pike” after 1 not delivered/);
    const left = (await desk.ask<{ people: number }>('GET', `/api/people/count?list=${list}`)).people;
    expect(left).toBeLessThan(before);
    await ana.click('button', 'undo it');
    await ana.sees('as before.');
    expect((await desk.ask<{ people: number }>('GET', `/api/people/count?list=${list}`)).people).toBe(before);
  });
});

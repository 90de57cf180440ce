import type { HTTPRequest } from 'puppeteer-core';
import Papa from 'papaparse';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { OutcomeRow } from '../src/core/api/sending/outcomes';
import type { Recipient } from '../src/core/api/sending/recipients';
import type { RunAnswer } from '../src/core/api/sending/runs';
import type { Visitor } from '../harness/browser';
import { openDemo, type Demo } from '../harness/demo';
import { getUp, sitDown } from './support/sit-down';
import { until, type Desk } from '../harness/desk';

/** What one does after sending, each need of it by real clicks over Ottermere's past, and each next act with its undo. */
let demo: Demo;
let desk: Desk;
let ana: Visitor;
beforeAll(async () => {
  ({ demo, desk, ana } = await sitDown());
});
afterAll(() => getUp(demo, ana));

const outcomesOf = async (query: string) =>
  (await desk.ask<{ runs: OutcomeRow[]; total: number }>('GET', `/api/outcomes${query}`)).runs;
const see = (path: string) => ana.page.goto(`${demo.url}${path}`);
const rowsOf = (label: string) =>
  ana.page.evaluate((name) => document.querySelectorAll(`table[aria-label="${name}"] tbody tr`).length, label);
const asText = (path: string) => ana.page.evaluate((at) => fetch(at).then((answer) => answer.text()), path);
/** Waits until a draft stands open, and gives it. */
async function draftOpened(): Promise<{
  id: number;
  name: string;
  draft: { words: string; to: unknown[]; when: Record<string, unknown> };
}> {
  await ana.page.waitForFunction(() => /^\/broadcasts\/\d+$/.test(location.pathname));
  const id = await ana.page.evaluate(() => location.pathname.split('/')[2]);
  return desk.ask('GET', `/api/broadcasts/${id}`);
}

describe('after sending', () => {
  test('recipients are narrowed and found; one’s exact words, parts and times; what is shown is what the file has', async () => {
    const [winter] = await outcomesOf('?search=Winter');
    await see(`/runs/${winter.id}`);
    // clicks and answers of it stand beside it
    await ana.sees('clicked the link');
    await ana.choose('Which recipients', 'clicked');
    const { recipients } = await desk.ask<{ recipients: Recipient[] }>(
      'GET',
      `/api/runs/${winter.id}/recipients?outcome=clicked`,
    );
    await ana.page.waitForFunction(
      (n) => document.querySelectorAll('table[aria-label="Recipients"] tbody tr').length === n,
      {},
      Math.min(100, winter.clicked),
    );
    const someone = recipients[0];
    await ana.type('textbox', 'Find recipients', someone.number.slice(-8));
    await ana.page.waitForFunction(() => document.querySelectorAll('table[aria-label="Recipients"] tbody tr').length < 20);
    await ana.click('button', `${someone.given_name ?? ''} ${someone.family_name ?? ''}`.trim() || 'no name');
    await ana.sees(someone.body.slice(0, 60));
    await ana.sees(/part 1 of \d: handed over .*, taken .*, delivered/);
    await ana.click('button', 'Export');
    const csv = await (await ana.find('menuitem', 'CSV')).evaluate((each) => each.getAttribute('href') ?? '');
    await ana.page.keyboard.press('Escape');
    const { data } = Papa.parse<string[]>((await asText(csv)).trim(), { delimiter: ',' });
    // the words that are open are a row of the table's own
    expect(data.length - 1).toBe((await rowsOf('Recipients')) - 1);
    expect(data.flat()).toContain(someone.body);
  });

  test('a reason is acted on for all of it, and undone: marked, taken off; written to again, at a better hour', async () => {
    const [run] = await outcomesOf('?search=Berth');
    const said = await desk.ask<RunAnswer>('GET', `/api/runs/${run.id}`);
    const n = said.reasons.find(({ reason }) => reason === 'number does not exist')?.n ?? 0;
    expect(n).toBeGreaterThan(0);
    const tagged = async () =>
      (await desk.ask<{ tags: { name: string; people: number }[] }>('GET', '/api/people/sources')).tags.find(
        ({ name }) => name === 'needs a new number',
      )?.people ?? 0;
    await see(`/runs/${run.id}`);
    await ana.click('button', 'tag “needs a new number”');
    await ana.sees(/tagged “needs a new number”: \d+ (person|people)\./);
    await until(async () => (await tagged()) === n);
    await ana.click('button', 'Undo');
    await until(async () => (await tagged()) === 0);
    const members = async () =>
      (await desk.ask<{ lists: { name: string; people: number }[] }>('GET', '/api/people/sources')).lists.find(
        ({ name }) => name === 'Berth holders',
      )?.people;
    const before = await members();
    await see(`/runs/${run.id}`);
    await ana.click('button', 'take off “Berth holders”');
    await until(async () => (await members()) === (before ?? 0) - n);
    await ana.click('button', 'Undo');
    await until(async () => (await members()) === before);
    await ana.click('link', 'open them in People');
    await ana.sees(/number does not exist/);

    const off = (await outcomesOf('?search=Winter')).concat(await outcomesOf('?search=Fog'));
    const phoneOff = await until(async () => {
      for (const each of off) {
        const { reasons } = await desk.ask<RunAnswer>('GET', `/api/runs/${each.id}`);
        if (reasons.some(({ reason }) => reason === 'the phone was off too long')) return each;
      }
      return false;
    });
    await see(`/runs/${phoneOff.id}`);
    await ana.click('button', 'at a better hour');
    const later = await draftOpened();
    expect(later.draft.words).toBe(phoneOff.words);
    expect(later.draft.when).toMatchObject({ kind: 'at' });
    expect(later.name).toBe(`${phoneOff.name}, again`);
    await ana.sees('not delivered, the phone was off too long');

    const refused = (await outcomesOf('?search=Freight')).find(({ tally }) => (tally.not_delivered ?? 0) > 10);
    await see(`/runs/${refused?.id}`);
    await ana.sees('The carrier’s filter did not let it through.');
    await ana.click('button', 'write to them again');
    expect((await draftOpened()).draft).toMatchObject({ words: refused?.words, when: { kind: 'now' } });
  });

  test('those who said yes are written to, those who answered thanked, what was wrong put right', async () => {
    const [berths] = await outcomesOf('?search=Berth');
    const tally = await desk.ask<{ people: number[] }>('GET', `/api/runs/${berths.id}/tally`);
    await see(`/runs/${berths.id}`);
    await ana.click('button', `Write to the ${tally.people[0]} who say yes`);
    const yes = await draftOpened();
    await ana.sees('answered “yes”');
    const { plan } = await desk.ask<{ plan: { chosen: number } }>('POST', `/api/broadcasts/${yes.id}/plan`, {
      draft: { ...yes.draft, words: 'x' },
    });
    expect(plan.chosen).toBe(tally.people[0]);

    await see(`/runs/${berths.id}`);
    await ana.click('button', 'Follow up');
    await ana.click('menuitem', /^Thank those who answered/);
    expect((await draftOpened()).draft.words).toBe('Thank you, {given_name or "neighbor"}.');
    await ana.sees('It thanks for answers to');

    await see(`/runs/${berths.id}`);
    await ana.click('button', 'Correct it');
    const put = await draftOpened();
    await ana.sees('It puts right');
    expect(put.name).toBe(`Correction: ${berths.name}`);
  });

  test('the past by label, list, words and day; taken together over time, with a table behind each picture; as a file', async () => {
    await see('/outcomes');
    await ana.choose('Label', 'juniors');
    const juniors = await desk.ask<{ total: number }>('GET', '/api/outcomes?label=juniors');
    await ana.sees(new RegExp(`${juniors.total} runs`));
    await ana.choose('List', 'Parents, Pike');
    await ana.type('textbox', 'Find by name or words', 'slip as always');
    await ana.sees(/No such run|1 run/);
    await ana.click('button', 'all runs');
    await ana.choose('When', 'between two days');
    // how many they are stands beside the heading once they are counted; what is usual is another line
    const counted = () => /^(\d+) runs$/.exec(document.querySelector('h1 + [role=status]')?.textContent ?? '')?.[1];
    await ana.page.waitForFunction(counted);
    const file = await ana.page.evaluate(
      () => document.querySelector<HTMLAnchorElement>('a[download]')?.getAttribute('href') ?? '',
    );
    const shown = Number(await ana.page.evaluate(counted));
    expect((await asText(file)).trim().split('\n').length - 1).toBeGreaterThanOrEqual(shown);
    await ana.click('link', 'Over time');
    await ana.sees('Opted out of 1,000 delivered, by month');
    await ana.click('button', 'as a table');
    await ana.page.waitForFunction(
      () => document.querySelector('table[aria-label="Answers of 100 delivered, by the hour it went"]') !== null,
    );
    await see('/people/23');
    await ana.sees(/Broadcasts since/);
    expect(ana.trouble).toEqual([]);
  });
});

describe('answers', () => {
  test('HELP says who this is and how to stop, in the asker’s language, and somebody at the desk sees that it was asked', async () => {
    const [winter] = await outcomesOf('?search=Winter');
    const { recipients } = await desk.ask<{ recipients: Recipient[] }>(
      'GET',
      `/api/runs/${winter.id}/recipients?language=fr&state=delivered`,
    );
    const asker = recipients[0].number.slice(1);
    await desk.ask('POST', `/api/phones/${asker}/text`, { to: '72345', text: 'Help!' });
    // the phone has what it got before, too
    const help = 'Ottermere Ferry & Boathouse, le comptoir de Mill Quay. STOP pour ne plus recevoir de textos.';
    await until(async () => (await desk.cameTo(asker)).at(-1) === help);
    expect((await desk.cameTo(asker)).filter((each) => each === help)).toHaveLength(1);
    await see('/replies');
    await ana.click('button', /Help!/);
    await ana.sees(/le comptoir de Mill Quay/);
  });

  test('what means stop, and a wrong number: each by its press, and neither is texted again', async () => {
    await see('/replies');
    await ana.click('button', /Faisal Nakata/);
    await ana.click('button', 'It means stop');
    await ana.sees('Faisal Nakata is not texted again.');
    await ana.click('button', /Mabel Greenhalgh/);
    await ana.click('button', 'Wrong number');
    await ana.click('button', 'It is a wrong number');
    await ana.sees('is a wrong number and is not texted again.');
    const { people } = await desk.ask<{ people: { reach: string; number: string | null }[] }>(
      'GET',
      '/api/people?search=Mabel%20Greenhalgh',
    );
    expect(people.map(({ number }) => number)).toContain(null);
    // taken back where they say so themselves
    await see('/people?search=Faisal%20Nakata');
    await ana.sees('opted out');
  });

  test('a ready answer with the person’s own name, put in with a brace', async () => {
    // the ready answers come late, after the list of what can be put in was opened: they are in it all the same
    const held: HTTPRequest[] = [];
    const hold = (request: HTTPRequest) =>
      void (request.url().includes('/api/prepared-texts') ? held.push(request) : request.continue());
    await ana.page.setRequestInterception(true);
    ana.page.on('request', hold);
    await see('/replies');
    await ana.click('button', /Idris Fairweather/);
    await ana.click('button', 'Put in a field or a ready answer');
    await ana.sees('Of the person');
    expect(held.length).toBeGreaterThan(0);
    ana.page.off('request', hold);
    for (const request of held) await request.continue();
    await ana.page.setRequestInterception(false);
    await ana.sees('Ready answers');
    await ana.page.keyboard.press('Enter');
    await ana.page.waitForFunction(() => document.querySelector('[aria-label="As they get it"]') !== null);
    await ana.click('button', 'Send to Idris Fairweather');
    await ana.sees('Sent to Idris Fairweather.');
  });

  test('replies are passed on by text, and the answer goes back as from the workspace', async () => {
    const harbor = '16125550172';
    const asker = '12075550181';
    await see('/replies/passing-on');
    await ana.click('button', 'end it');
    await ana.type('textbox', 'Who', 'Mika');
    await ana.type('textbox', 'Number', '+16125550172');
    await ana.click('checkbox', /^At any hour/);
    await ana.click('button', 'Pass on from now on');
    await ana.sees('Passed on to Mika from now on.');
    await desk.ask('POST', `/api/phones/${asker}/text`, { to: '72345', text: 'May I moor at the quay tonight?' });
    const passed = await until(async () => (await desk.cameTo(harbor)).find((text) => text.includes('May I moor at the quay')));
    expect(passed).toContain('May I moor at the quay tonight?');
    await desk.ask('POST', `/api/phones/${harbor}/text`, { to: '72345', text: 'Yes, at the north side.' });
    await until(async () => (await desk.cameTo(asker)).includes('Yes, at the north side.'));
    await see(`/replies?number=%2B${asker}`);
    await ana.sees('passed on to Mika');
    await ana.sees('by Mika');
  });

  test('a sender that reads replies for two days says so; what comes later is marked, and counted by a person only', async () => {
    await see('/setup/senders');
    await ana.click('button', 'Change Ferry desk');
    await ana.type('textbox', 'Replies are read for so many days', '2');
    await ana.click('button', 'Keep it');
    await ana.sees('for 2 days');
    const { lists } = await desk.ask<{ lists: { id: number; name: string }[] }>('GET', '/api/people/sources');
    const list = lists.find(({ name }) => name === 'Parents, Otters')?.id;
    const { id } = await desk.ask<{ id: number }>('POST', '/api/broadcasts', { name: 'Otters: who comes?', list_id: list });
    const made = await desk.ask<{ draft: Record<string, unknown>; version: number }>('GET', `/api/broadcasts/${id}`);
    const draft = { ...made.draft, words: 'Ottermere Boathouse: do the Otters come on Friday? Reply 1 yes, 2 no' };
    await desk.ask('PUT', `/api/broadcasts/${id}`, { name: 'Otters: who comes?', draft, version: made.version });
    await see(`/broadcasts/${id}`);
    await ana.sees('Replies are read until Fri, Dec 4');
    await ana.click('button', 'Last look');
    await ana.click('button', /^Send to \d+/);
    await ana.page.waitForFunction(() => /^\/runs\/\d+$/.test(location.pathname));
    const run = await ana.page.evaluate(() => Number(location.pathname.split('/')[2]));
    await until(async () => (await desk.ask<RunAnswer>('GET', `/api/runs/${run}`)).run.state !== 'planning');
    await desk.ask('POST', '/api/clock', { minutes: 1 });
    await until(async () => (await desk.ask<RunAnswer>('GET', `/api/runs/${run}`)).run.ended_at !== null);
    await ana.sees('Replies are read until Fri, Dec 4, as the text says');
    const { recipients } = await desk.ask<{ recipients: Recipient[] }>('GET', `/api/runs/${run}/recipients`);
    const [soon, late] = recipients.filter(({ state }) => state === 'delivered').map(({ number }) => number.slice(1));
    await desk.ask('POST', `/api/phones/${soon}/text`, { to: '72345', text: '1' });
    await until(async () => (await desk.ask<{ people: number[] }>('GET', `/api/runs/${run}/tally`)).people[0] === 1);
    for (let day = 0; day < 3; day += 1) await desk.ask('POST', '/api/clock', { minutes: 1440 });
    await desk.ask('POST', `/api/phones/${late}/text`, { to: '72345', text: 'yes' });
    await ana.sees('after the last day for replies');
    expect((await desk.ask<{ people: number[] }>('GET', `/api/runs/${run}/tally`)).people).toEqual([1, 0]);
    await see(`/replies?number=%2B${late}`);
    await ana.sees('late: replies to it were read for 2 days, as it said');
    await see(`/runs/${run}`);
    await ana.click('button', / means yes$/);
    await until(async () => (await desk.ask<{ people: number[] }>('GET', `/api/runs/${run}/tally`)).people[0] === 2);
  });
});

test('a text of which the carrier never says anything is uncertain: it is written again only by whoever says that it may arrive twice', async () => {
  await see('/setup/senders');
  await ana.page.goto('about:blank');
  await demo.stop();
  demo = await openDemo(demo.folder, { CARRIER_PROFILE: '{"outcomes":"delivered","missing":1}' });
  desk = desk.at(demo.url);
  const { id } = await desk.ask<{ id: number }>('POST', '/api/broadcasts', { name: 'Nothing heard', people: [23] });
  const made = await desk.ask<{ draft: Record<string, unknown>; version: number }>('GET', `/api/broadcasts/${id}`);
  const draft = { ...made.draft, words: 'Ottermere: the slip is closed.' };
  const { version } = await desk.ask<{ version: number }>('PUT', `/api/broadcasts/${id}`, {
    name: 'Nothing heard',
    draft,
    version: made.version,
  });
  const { digest } = await desk.ask<{ digest: string }>('POST', `/api/broadcasts/${id}/plan`, { draft });
  const { run_id } = await desk.ask<{ run_id: number }>('POST', `/api/broadcasts/${id}/press`, {
    version,
    digest,
    press_id: 'nothing-heard',
  });
  await until(async () => (await desk.ask<RunAnswer>('GET', `/api/runs/${run_id}`)).run.state === 'waiting');
  await desk.ask('POST', '/api/clock', { minutes: 1 });
  await until(async () => (await desk.ask<RunAnswer>('GET', `/api/runs/${run_id}`)).tally.with_carrier === 1);
  for (let day = 0; day < 5; day += 1) await desk.ask('POST', '/api/clock', { minutes: 1440 });
  await until(async () => (await desk.ask<RunAnswer>('GET', `/api/runs/${run_id}`)).tally.uncertain === 1);
  await see(`/runs/${run_id}`);
  await ana.sees('the carrier never said what became of it');
  await ana.click('button', 'send it again, may arrive twice');
  await ana.sees('Whether they have it is not known.');
  await ana.click('button', 'Write it again');
  expect((await draftOpened()).draft.words).toBe('Ottermere: the slip is closed.');
  // on the sheet it is said once more
  await ana.sees('whoever has it gets this one, too');
});

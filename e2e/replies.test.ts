import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { closeBrowser, signIn, visit, type Visitor } from '../harness/browser';
import { forget, freshDemo, type Demo } from '../harness/demo';
import { Desk, until } from '../harness/desk';

/** Two people at one desk, by real clicks: what was answered, who answers whom, and what became of a run. */
let demo: Demo;
let desk: Desk;
let [ana, ben]: Visitor[] = [];
beforeAll(async () => {
  demo = await freshDemo({ CARRIER_PROFILE: '{"outcomes":"delivered","latency":[5,60]}' });
  desk = await new Desk(demo.url).signIn();
  const { accounts } = await desk.ask<{ accounts: { id: number; email: string }[] }>('GET', '/api/setup');
  const second = accounts.find(({ email }) => email.startsWith('ben'));
  await desk.ask('PUT', `/api/accounts/${second?.id}`, { role: 'send' });
  [ana, ben] = [await visit(), await visit()];
  await signIn(ana, demo.url);
  await signIn(ben, demo.url, 'ben@ottermere.example');
});
afterAll(async () => {
  await ana.close();
  await ben.close();
  await closeBrowser();
  await demo.stop();
  forget(demo);
});
/** What stands in the frame for how many replies wait. */
const badge = (visitor: Visitor, n: number) =>
  visitor.page.waitForFunction(
    (wanted) => [...document.querySelectorAll('nav a, header a')].some((each) => each.textContent === `Replies${wanted}`),
    {},
    n,
  );
const write = async (visitor: Visitor, name: string, words: string) => {
  await (await visitor.find('textbox', `Answer ${name}`)).focus();
  await visitor.page.keyboard.type(words);
};

describe('the desk', () => {
  test('a claim is seen by the other, both count alike, and what one answers the other does not answer again', async () => {
    for (const each of [ana, ben]) {
      await each.page.goto(`${demo.url}/replies`);
      await each.sees('Is the 5:20 still running today?');
      await badge(each, 3);
    }
    await ana.click('button', 'Claim it');
    await ana.sees('claimed by you');
    // for the other it waits no longer, and says who has it
    await badge(ben, 2);
    await badge(ana, 3);
    await ben.click('button', /^claimed by others/);
    await ben.click('button', /Mabel Greenhalgh/);
    await ben.sees('Ana Reyes has claimed this.');
    await ben.sees('Take it over from Ana Reyes');
    // both write; the one who is second is told what the first has said
    await write(ben, 'Mabel Greenhalgh', 'Yes.');
    await write(ana, 'Mabel Greenhalgh', '{given_name}, it runs from {home_landing}.');
    await ana.sees('Mabel, it runs from North Landing.');
    await ana.click('button', 'Send to Mabel Greenhalgh');
    await ana.sees('Sent to Mabel Greenhalgh.');
    await ben.sees('Mabel, it runs from North Landing.');
    await ben.sees('Nothing waits here any more');
    await badge(ben, 2);
    await badge(ana, 2);
    expect([...ana.trouble, ...ben.trouble]).toEqual([]);
  });

  test('put away, brought back, passed on; found by its words', async () => {
    await ana.page.goto(`${demo.url}/replies`);
    await ana.click('button', /Idris Fairweather/);
    await ana.click('button', 'Until later…');
    await ana.click('menuitem', /^tomorrow morning/);
    await badge(ana, 1);
    await ana.click('button', /^put away/);
    await ana.click('button', /Idris Fairweather/);
    await ana.click('button', 'Bring it back now');
    await badge(ana, 2);
    await ana.click('button', 'Pass on…');
    await ana.click('menuitem', 'to Ben Holm');
    await badge(ana, 1);
    await badge(ben, 2);
    await ana.click('button', 'all');
    await ana.type('textbox', 'Find conversations', 'leo come');
    await ana.click('button', /Idris Fairweather/);
    await ana.sees('Ben Holm has claimed this.');
  });

  test('what only sounds like stop is decided with one press', async () => {
    await ana.page.goto(`${demo.url}/replies`);
    await ana.click('button', /Faisal Nakata/);
    await ana.sees('may mean stop, not texted meanwhile');
    await ana.click('button', 'It does not');
    await ana.sees('They are texted again.');
    await ana.page.waitForFunction(() => !document.body.textContent?.includes('may mean stop, not texted'));
  });

  test('a question is counted while it is answered; a reason is acted on and undone; runs are compared; the summary accounts for everyone', async () => {
    const { runs } = await desk.ask<{ runs: { id: number; name: string }[] }>('GET', '/api/outcomes?search=Berth');
    await ana.page.goto(`${demo.url}/runs/${runs[0].id}`);
    await ana.sees('Asked: 1 yes, 2 no');
    const { doubtful } = await desk.ask<{ doubtful: { name: string }[] }>('GET', `/api/runs/${runs[0].id}/tally`);
    if (doubtful.length > 0) {
      await ana.click('button', `${doubtful[0].name} means none of them`);
      await until(async () =>
        (await desk.ask<{ doubtful: { name: string }[] }>('GET', `/api/runs/${runs[0].id}/tally`)).doubtful.every(
          ({ name }) => name !== doubtful[0].name,
        ),
      );
    }
    await ana.click('button', 'take off “Berth holders”');
    await ana.sees(/taken off “Berth holders”: \d+ people\./);
    await ana.click('button', 'Undo');
    await ana.page.waitForFunction(() => !document.body.textContent?.includes('working…'));
    await ana.click('link', 'Summary');
    await ana.sees('Everyone');
    await ana.sees('Why not everyone');
    await ana.page.goto(`${demo.url}/outcomes?search=Berth`);
    await ana.sees('Compare two to four');
    await ana.page.waitForFunction(() => document.querySelectorAll('td input[type=checkbox]').length >= 2);
    for (const box of (await ana.page.$$('td input[type=checkbox]')).slice(0, 2)) await box.click();
    await ana.click('button', 'Compare 2');
    await ana.sees('Comparing 2 runs');
    await ana.sees('the one the others are held against');
    expect([...ana.trouble, ...ben.trouble]).toEqual([]);
  });
});

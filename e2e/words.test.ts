import { beforeAll, describe, expect, test } from 'vitest';
import { signIn, visit } from '../harness/browser';
import { Desk, until } from '../harness/desk';
import { ownDemo } from './support/own-demo';

/** The editor as it is really used: chips changed where they stand, by hand and by keyboard, and words in a second language. */
const demo = ownDemo();
let desk: Desk;
beforeAll(async () => {
  desk = await new Desk(demo.url).signIn();
});

interface Draft {
  words: string;
  translations?: Record<string, string>;
}
async function draft(words: string): Promise<number> {
  const { lists } = await desk.ask<{ lists: { id: number; name: string }[] }>('GET', '/api/people/sources');
  const list_id = lists.find((each) => each.name === 'Pass holders')?.id;
  const { id } = await desk.ask<{ id: number }>('POST', '/api/broadcasts', { name: 'Words', list_id });
  const made = await desk.ask<{ draft: object; version: number }>('GET', `/api/broadcasts/${id}`);
  await desk.ask('PUT', `/api/broadcasts/${id}`, { name: 'Words', draft: { ...made.draft, words }, version: made.version });
  return id;
}
const saved = (id: number, is: (draft: Draft) => boolean) =>
  until(async () => {
    const { draft: now } = await desk.ask<{ draft: Draft }>('GET', `/api/broadcasts/${id}`);
    return is(now) && now;
  });

describe('the words', () => {
  test('a date chip is moved with the keyboard, and something is put in right before it', async () => {
    const id = await draft('{send_date as "EEE, MMM d"} the pier is closed. Ottermere');
    const visitor = await visit();
    await signIn(visitor, demo.url);
    await visitor.page.goto(`${demo.url}/broadcasts/${id}`);
    const { keyboard } = visitor.page;
    await (await visitor.find('textbox', 'Words')).focus();
    await keyboard.down('Control');
    await keyboard.press('Home');
    await keyboard.up('Control');
    await keyboard.down('Alt');
    await keyboard.press('Enter');
    await keyboard.up('Alt');
    await visitor.find('combobox', 'Which day');
    await visitor.choose('Which day', 'the next');
    await visitor.choose('Weekday', 'Monday');
    await visitor.click('button', 'Done');
    await visitor.sees('date it is sent, the next Monday');
    // the demo stands at Wed, Dec 2, 2026
    await visitor.sees('Mon, Dec 7 the pier is closed');
    await keyboard.down('Control');
    await keyboard.press('Home');
    await keyboard.up('Control');
    await keyboard.type('{');
    await visitor.page.waitForSelector('.cm-tooltip-autocomplete');
    await keyboard.press('Enter');
    // by hand, before a chip as anywhere; a space keeps them apart
    await keyboard.type(', ');
    await keyboard.press('Delete');
    await keyboard.type('{family_name or "all"}');
    const { words } = await saved(id, (now) => now.words.includes('"all"}'));
    expect(words).toBe(
      '{given_name or "neighbor"}, {family_name or "all"} {send_date next monday as "EEE, MMM d"} the pier is closed. Ottermere',
    );
    await visitor.close();
  });

  test('a chip is pressed: other words for those who have none, and it is taken out', async () => {
    const id = await draft('{given_name or "neighbor"}, the pier is closed. Ottermere');
    const visitor = await visit();
    await signIn(visitor, demo.url);
    await visitor.page.goto(`${demo.url}/broadcasts/${id}`);
    await (await visitor.page.waitForSelector('.cm-chip'))?.click();
    const field = await visitor.find('textbox', 'Words for those who have none');
    await field.click({ count: 3 });
    await visitor.page.keyboard.type('friend');
    await visitor.page.keyboard.press('Enter');
    await saved(id, (now) => now.words === '{given_name or "friend"}, the pier is closed. Ottermere');
    await (await visitor.page.waitForSelector('.cm-chip'))?.click();
    await visitor.click('button', 'Take it out');
    await saved(id, (now) => now.words === ', the pier is closed. Ottermere');
    await visitor.close();
  });

  test('words in French go to those who read it, and the proof shows one of them', async () => {
    const id = await draft('The pier is closed. Ottermere');
    const visitor = await visit();
    await signIn(visitor, demo.url);
    await visitor.page.goto(`${demo.url}/broadcasts/${id}`);
    await visitor.click('button', /^French \d+, no words$/);
    await visitor.sees('Until there are words in French, they get these.');
    await (await visitor.find('textbox', 'Words')).focus();
    await visitor.page.keyboard.type('Le quai est ferme. Ottermere');
    await visitor.find('button', /^French \d+$/);
    await visitor.page.waitForFunction(() =>
      document.querySelector('[data-proof]')?.textContent?.startsWith('Le quai est ferme. Ottermere'),
    );
    await visitor.sees('STOP pour ne plus recevoir');
    const { translations, words } = await saved(id, (now) => now.translations?.fr !== undefined);
    expect([words, translations]).toEqual(['The pier is closed. Ottermere', { fr: 'Le quai est ferme. Ottermere' }]);
    await visitor.close();
  });

  test('a text to two people: names, words, send, on one small sheet; each text stands there as it goes', async () => {
    const visitor = await visit();
    await signIn(visitor, demo.url);
    await visitor.page.goto(`${demo.url}/broadcasts`);
    await visitor.click('button', 'Short text');
    await visitor.sees('Nobody is chosen yet.');
    await visitor.click('button', 'Add');
    await visitor.page.keyboard.type('Rosalind');
    const found = await visitor.page.waitForFunction(() => {
      const shown = [...document.querySelectorAll('[role=option]')].map((each) => each.textContent ?? '');
      return shown.length >= 2 && shown.every((each) => each.startsWith('Rosalind')) ? shown : undefined;
    });
    // numbers elsewhere may be fixed lines, which take no texts
    const names = ((await found.jsonValue()) as string[]).filter((each) => each.includes('+1 ')).slice(0, 2);
    for (let i = 0; i < 2; i += 1)
      await visitor.click('option', new RegExp(`^${names[i].replace(/[^\p{L} ].*$/u, '').trim()}`, 'u'));
    await visitor.page.keyboard.press('Escape');
    await (await visitor.find('textbox', 'Words')).focus();
    await visitor.page.keyboard.type('{given_name or "neighbor"}, the desk opens at 9:00 AM. Ottermere');
    await visitor.page.waitForFunction(() => document.querySelectorAll('[aria-label=Texts] li').length === 2);
    await visitor.sees('Rosalind, the desk opens at 9:00 AM. Ottermere');
    await visitor.click('button', 'Send to 2 people now');
    await visitor.sees(/of 2 delivered/);
    const run = Number(/runs\/(\d+)/.exec(visitor.page.url())?.[1]);
    await until(async () => {
      const { tally } = await desk.ask<{ tally: Record<string, number> }>('GET', `/api/runs/${run}`);
      return Object.values(tally).reduce((sum, n) => sum + n, 0) === 2 && (tally.planned ?? 0) === 0;
    });
    await visitor.close();
  });

  test('two people on one draft see each other and where; what each changes is kept, and the same changed by both is asked about', async () => {
    const id = await draft('The pier is closed. Ottermere');
    const [ana, ben] = [await visit(), await visit()];
    await signIn(ana, demo.url);
    await signIn(ben, demo.url, 'ben@ottermere.example');
    for (const each of [ana, ben]) await each.page.goto(`${demo.url}/broadcasts/${id}`);
    await (await ben.find('textbox', 'Words')).focus();
    await ana.sees('Ben Holm in Words');
    await ben.sees('Ana Reyes');
    // one writes, the other names it: both stand on both sheets
    await ben.page.keyboard.press('End');
    await ben.page.keyboard.type(' Ferry');
    // the words, and not the name of the house at the head of the page
    await ana.sees('The pier is closed. Ottermere Ferry');
    await ana.type('textbox', 'Name, for you only', 'Pier');
    await ben.page.waitForFunction(() =>
      document.querySelector<HTMLInputElement>('[aria-label="Name, for you only"]')?.value.includes('Pier'),
    );
    // who saves second is told so by the server, and the browser tells its console
    expect([...ana.trouble, ...ben.trouble].filter((each) => !each.includes('409 (Conflict)'))).toEqual([]);
    // one of them without a line, both in the same words
    await ana.page.setOfflineMode(true);
    await (await ana.find('textbox', 'Words')).focus();
    await ana.page.keyboard.press('End');
    await ana.page.keyboard.type(', says Ana');
    await ana.sees('not saved');
    await ben.page.keyboard.type(', says Ben');
    await saved(id, ({ words }) => words.endsWith('says Ben'));
    await ana.page.setOfflineMode(false);
    await ana.page.keyboard.type('.');
    await ana.sees('Somebody else has changed the English words while you did');
    await ana.sees('The pier is closed. Ottermere Ferry, says Ben');
    await ana.click('button', 'Keep mine');
    await saved(id, ({ words }) => words === 'The pier is closed. Ottermere Ferry, says Ana.');
    await ben.sees('says Ana.');
    for (const each of [ana, ben]) {
      each.trouble.length = 0;
      await each.close();
    }
  });
});

import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { closeBrowser, signIn, visit } from './support/browser';
import { Desk, until } from './support/desk';
import { forget, freshDemo, type Demo } from './support/demo';

/** The editor as it is really used: chips changed where they stand, by hand and by keyboard, and words in a second language. */
let demo: Demo;
let desk: Desk;
beforeAll(async () => {
  demo = await freshDemo();
  desk = await new Desk(demo.url).signIn();
});
afterAll(async () => {
  await closeBrowser();
  await demo.stop();
  forget(demo);
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
});

import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { closeBrowser, signIn, visit, type Visitor } from '../harness/browser';
import { Desk, until } from '../harness/desk';
import { forget, freshDemo, type Demo } from '../harness/demo';

/** The life of a broadcast by real clicks: taken back, set aside, held, gone on with, ended early, overtaken by the world. */
let demo: Demo;
let desk: Desk;
let visitor: Visitor;
beforeAll(async () => {
  demo = await freshDemo({ CARRIER_PROFILE: '{"outcomes":"delivered","latency":[5,60]}' });
  desk = await new Desk(demo.url).signIn();
});
beforeEach(async () => {
  visitor = await visit();
  await signIn(visitor, demo.url);
});
afterEach(() => visitor.close());
afterAll(async () => {
  await closeBrowser();
  await demo.stop();
  forget(demo);
});

interface Tally {
  run: { id: number; state: string; people: number; due_at: string };
  tally: Record<string, number>;
}
const list = async (name: string) =>
  (await desk.ask<{ lists: { id: number; name: string }[] }>('GET', '/api/people/sources')).lists.find(
    (each) => each.name === name,
  )?.id;
/** A draft as far as it matters here; made through the API, since other tests make one by clicks. */
async function draft(words: string, to: string, part: Record<string, unknown>): Promise<number> {
  const { id } = await desk.ask<{ id: number }>('POST', '/api/broadcasts', { name: words.slice(0, 30), list_id: await list(to) });
  const made = await desk.ask<{ draft: Record<string, unknown>; version: number }>('GET', `/api/broadcasts/${id}`);
  await desk.ask('PUT', `/api/broadcasts/${id}`, {
    name: words.slice(0, 30),
    draft: { ...made.draft, words, ...part },
    version: made.version,
  });
  return id;
}
const runOf = (id: number) => desk.ask<Tally>('GET', `/api/runs/${id}`);
const runHere = () => Number(/\/runs\/(\d+)/.exec(visitor.page.url())?.[1]);
const stateOf = async (id: number) => (await desk.ask<{ state: string }>('GET', `/api/broadcasts/${id}`)).state;
const on = (path: RegExp) =>
  visitor.page.waitForFunction((source) => new RegExp(source).test(location.pathname), {}, path.source);

describe('the life of a broadcast', () => {
  test('taken back before its time, set aside and edited, and sent again with the new words', async () => {
    const id = await draft('Doors at seven tonight. Ottermere', 'Crew and staff', {
      when: { kind: 'at', date: '2026-12-02', time: '18:30' },
    });
    await visitor.page.goto(`${demo.url}/broadcasts/${id}/last-look`);
    await visitor.click('button', /^Send to \d+ people at/);
    await on(/^\/runs\/\d+$/);
    const first = runHere();
    await visitor.click('button', /^(Take it back|Call it off)$/);
    await on(new RegExp(`^/broadcasts/${id}$`));
    await visitor.sees('people will get it');
    expect(await stateOf(id)).toBe('draft');

    await visitor.click('button', 'Last look');
    await visitor.click('button', /^Send to \d+ people at/);
    await on(/^\/runs\/\d+$/);
    const second = runHere();
    expect(second).not.toBe(first);
    await until(async () => (await runOf(second)).run.state === 'waiting');
    await visitor.page.goto(`${demo.url}/broadcasts/${id}`);
    await visitor.click('button', 'Set aside and edit');
    await visitor.sees('Set aside: it does not go until you send it again');
    expect(await stateOf(id)).toBe('set_aside');

    // its old time passes: nothing of it goes
    await desk.ask('POST', '/api/clock', { minutes: 170 });
    const editor = await visitor.find('textbox', 'Words');
    await editor.focus();
    await visitor.page.keyboard.down('Control');
    await visitor.page.keyboard.press('End');
    await visitor.page.keyboard.up('Control');
    await visitor.page.keyboard.type('. Bring a chair');
    await visitor.sees(/saved \d/);
    await visitor.sees('That time is past.');
    await visitor.click('button', /^take /);
    await visitor.sees(/Nothing to fix|One hint|hints/);
    await visitor.click('button', 'Last look');
    await visitor.sees('Bring a chair');
    await visitor.click('button', /^Send to \d+ people/);
    await on(/^\/runs\/\d+$/);
    const third = runHere();
    // to its minute and not far past it: much too late it would not go by itself
    const due = Date.parse((await runOf(third)).run.due_at);
    const { now } = await desk.ask<{ now: string }>('GET', '/api/session');
    await desk.ask('POST', '/api/clock', { minutes: Math.max(1, Math.ceil((due - Date.parse(now)) / 60_000)) });
    const end = await until(async () => {
      const now = await runOf(third);
      return now.run.state === 'finished' && now;
    });
    expect(end.tally).toEqual({ delivered: end.run.people });
    // what was taken back is gone, and nothing of it ever went
    for (const run of [first, second]) await expect(runOf(run)).rejects.toThrow('404');
    const { phones } = await desk.ask<{ phones: { texts: { text: string }[] }[] }>('GET', '/api/phones');
    const arrived = phones.flatMap((phone) => phone.texts.map(({ text }) => text)).filter((text) => text.startsWith('Doors'));
    expect(arrived.length).toBe(end.run.people);
    expect(arrived.every((text) => text.includes('Bring a chair'))).toBe(true);
  });

  test('held, gone on with, and the rest of it canceled; everyone is accounted for', async () => {
    const id = await draft('Berths renew on Jan 15. Ottermere', 'Berth holders', { sender_id: 2, when: { kind: 'now' } });
    await visitor.page.goto(`${demo.url}/broadcasts/${id}/last-look`);
    await visitor.click('button', /^Send to \d+ people now$/);
    await on(/^\/runs\/\d+$/);
    const run = runHere();
    await visitor.click('button', 'Pause');
    await visitor.find('button', /^Go on with \d+$/);
    const held = await until(async () => {
      const now = await runOf(run);
      // what was in the carrier's hands when it was held has its last word
      return now.run.state === 'paused' && (now.tally.with_carrier ?? 0) + (now.tally.handing_over ?? 0) === 0 && now;
    });
    await desk.ask('POST', '/api/clock', { minutes: 10 });
    // but for what was on the wire when it was held
    expect((await runOf(run)).tally.planned).toBeGreaterThanOrEqual((held.tally.planned ?? 0) - 2);
    await visitor.click('button', /^Go on with \d+$/);
    await until(async () => ((await runOf(run)).tally.delivered ?? 0) > (held.tally.delivered ?? 0));
    await visitor.click('button', /^Cancel the other \d+$/);
    await visitor.sees(/stopped/);
    const end = await until(async () => {
      const now = await runOf(run);
      return (now.tally.delivered ?? 0) + (now.tally.not_sent ?? 0) === now.run.people && now;
    });
    expect(end.run.state).toBe('stopped');
    expect(end.tally.not_sent).toBeGreaterThan(0);
    await visitor.page.goto(`${demo.url}/runs/${run}`);
    await visitor.sees(/canceled/);
  });

  test('the world moved while the last look was open: nothing goes, it says what is different, and the next press sends that', async () => {
    const id = await draft('Freight stays on the quay. Ottermere', 'Crew and staff', { when: { kind: 'now' } });
    await visitor.page.goto(`${demo.url}/broadcasts/${id}/last-look`);
    const button = await visitor.find('button', /^Send to \d+ people now$/);
    const before = Number(/\d+/.exec((await button.evaluate((element) => element.textContent)) ?? '')?.[0]);
    const { proof } = await desk.ask<{ proof: { person_id: number } }>('POST', `/api/broadcasts/${id}/proof`, {
      draft: (await desk.ask<{ draft: unknown }>('GET', `/api/broadcasts/${id}`)).draft,
      which: 'usual',
      index: 0,
    });
    await desk.ask('POST', `/api/people/${proof.person_id}/opt-out`, { words: 'told us at the desk' });
    await visitor.click('button', `Send to ${before} people now`);
    await visitor.find('button', `Send to ${before - 1} people now`);
    await visitor.sees('Something has changed since your last look. Nothing was sent.');
    await visitor.sees(`people ${before - 1} (${before} before)`);
    visitor.trouble.length = 0; // the refusal is a 409 that the browser writes to its console
    expect(await stateOf(id)).toBe('draft');
    await visitor.click('button', `Send to ${before - 1} people now`);
    await on(/^\/runs\/\d+$/);
    expect((await runOf(runHere())).run.people).toBe(before - 1);
  });
});

import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, expect, test } from 'vitest';
import { MOST_CODES } from '../../core/plan/words/codes';
import { HandedIn, OverBudget } from './handed-in';

const folder = mkdtempSync(join(tmpdir(), 'bell-handed-'));
const file = (name: string, content: string) => {
  const path = join(folder, name);
  writeFileSync(path, content);
  return path;
};
let handedIn: HandedIn;
afterEach(() => handedIn.end());
const over = (of: string) => expect.objectContaining({ name: 'OverBudget', of }) as OverBudget;

test('what is read comes back; what is wrong with it, too, with its place', async () => {
  handedIn = new HandedIn();
  expect(await handedIn.read('codes', { path: file('codes', 'code\nA1\nA2\nA1\n') })).toMatchObject({
    codes: ['A1', 'A2'],
    twice: 1,
    heading: 'code',
  });
  const asked = { id: 'broadcast-1', source: 'x', to: 'fr' };
  expect(await handedIn.read('xliff', { path: file('x.xlf', '<a/>'), ...asked })).toEqual({
    wrong: 'This is no XLIFF 2.0 file.',
    place: 'xliff',
  });
  expect(
    await handedIn.read('mail', { bytes: Buffer.from('From: a@b.example\r\nSubject: =?utf-8?Q?R=C3=A9?=\r\n\r\nYes') }),
  ).toEqual({
    from: 'a@b.example',
    subject: 'Ré',
    words: 'Yes',
  });
});

test('beyond its time it is given up, what waits behind it is read, and its own thread goes on answering', async () => {
  const budget = { ms: 1, mb: 128 };
  handedIn = new HandedIn(budget);
  const long = file('long', Array.from({ length: 600_000 }, (_, i) => `CODE${i}`).join('\n'));
  let turns = 0;
  const turning = setInterval(() => (turns += 1), 0);
  const first = handedIn.read('codes', { path: long }).catch((error: unknown) => error);
  const behind = handedIn.read('codes', { path: file('short', 'A1') }).catch((error: unknown) => error);
  expect(await first).toEqual(over('time'));
  budget.ms = 60_000;
  await behind;
  expect((await handedIn.read('codes', { path: long })).codes).toHaveLength(MOST_CODES);
  clearInterval(turning);
  expect(turns).toBeGreaterThan(0);
});

test('beyond its memory its thread ends, and nothing else', async () => {
  const budget = { ms: 120_000, mb: 4 };
  handedIn = new HandedIn(budget);
  const small = file('small', 'A1');
  // less than the program itself takes
  await expect(handedIn.read('codes', { path: small })).rejects.toEqual(over('memory'));
  budget.mb = 128;
  expect((await handedIn.read('codes', { path: small })).codes).toEqual(['A1']);
});

test('a crowd is told to come again', async () => {
  handedIn = new HandedIn();
  const path = file('one', 'A1');
  const all = await Promise.allSettled(Array.from({ length: 100 }, () => handedIn.read('codes', { path })));
  const refused = all.filter((each) => each.status === 'rejected');
  expect(refused.length).toBeGreaterThan(40);
  expect(refused.every(({ reason }) => reason instanceof OverBudget && reason.of === 'busy')).toBe(true);
});

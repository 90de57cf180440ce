import { expect, test } from 'vitest';
import { Phones } from './phones';

const known = (texts: string[]) => [
  {
    number: '12075550142',
    texts: texts.map((text, i) => ({ direction: 'in' as const, address: '72345', text, at: `2026-12-02T1${i}:00:00.000Z` })),
  },
];
const onScreen = (phones: Phones) => phones.list('', 10).phones.map(({ texts }) => texts.map(({ text }) => text));

test('a carrier that has just begun says so, is told once what stood on the screens, and what has come since stays beneath it', () => {
  const phones = new Phones();
  phones.send('12075550142', '72345', 'Hello', '2026-12-02T15:00:00.000Z');
  expect(phones.list('', 10).told).toBe(false);
  phones.tell(known(['Fog.', 'Pool closed.']));
  expect(onScreen(phones)).toEqual([['Fog.', 'Pool closed.', 'Hello']]);
  expect(phones.list('', 10)).toMatchObject({ total: 1, told: true, phones: [{ lastAt: '2026-12-02T15:00:00.000Z' }] });
  // a second teller changes nothing
  phones.tell(known(['Twice.']));
  expect(onScreen(phones)).toEqual([['Fog.', 'Pool closed.', 'Hello']]);
});

test('what was there already is not there twice', () => {
  const phones = new Phones();
  phones.send('12075550142', '72345', 'Hello', '2026-12-02T10:30:00.000Z');
  phones.tell(known(['Before.', 'After.']));
  expect(onScreen(phones)).toEqual([['Before.', 'Hello']]);
});

import { describe, expect, test } from 'vitest';
import { openerOf } from './opener';

const PHONE = 'Mozilla/5.0 (Linux; Android 14; K) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/131.0.0.0 Mobile Safari/537.36';
const of = (agent: string | undefined, more: Record<string, string> = {}, method = 'GET') =>
  openerOf({ method, headers: { 'user-agent': agent, ...more } });

describe('who opens a link', () => {
  test.each([
    ['a phone', PHONE],
    [
      'another',
      'Mozilla/5.0 (iPhone; CPU iPhone OS 18_1 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.1 Mobile/15E148 Safari/604.1',
    ],
    ['a desk', 'Mozilla/5.0 (X11; Linux x86_64; rv:133.0) Gecko/20100101 Firefox/133.0'],
  ])('%s is a person', (_what, agent) => expect(of(agent)).toBe('person'));
  test.each([
    ['one that says nothing of itself', undefined],
    ['a crawler', 'Mozilla/5.0 (compatible; ExampleBot/2.1; +https://example.org/bot.html)'],
    ['a preview', 'ExampleLinkPreview/1.0'],
    ['a program', 'curl/8.9.1'],
    ['a scanner', 'python-requests/2.32'],
  ])('%s is a machine', (_what, agent) => expect(of(agent)).toBe('machine'));
  test('a phone that fetches ahead of anybody’s wish is one, too; and a HEAD only looks', () => {
    expect(of(PHONE, { 'sec-purpose': 'prefetch;prerender' })).toBe('machine');
    expect(of(PHONE, { purpose: 'preview' })).toBe('machine');
    expect(of(PHONE, {}, 'HEAD')).toBe('looks');
  });
});

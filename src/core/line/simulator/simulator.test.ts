import { describe, expect, test } from 'vitest';
import { gate } from '../../gate/gate';
import { onReceipt } from '../../outcome/states';
import { play } from './history';
import type { Mutation } from './line-processes';
import { planOf } from './plan';
import { shrink } from './shrink';

/** The first seed that a mutation is found by, or undefined within so many. */
function foundBy(mutation: Mutation, seeds: number): number | undefined {
  for (let seed = 1; seed <= seeds; seed += 1) if (play(planOf(seed), mutation).problems.length > 0) return seed;
  return undefined;
}

describe('the line, simulated whole', () => {
  test('a thousand histories: nobody twice, nobody lost, nothing outside the gate, the money right', () => {
    for (let seed = 1; seed <= 1000; seed += 1) {
      const { problems } = play(planOf(seed));
      if (problems.length > 0) {
        const shortest = shrink(planOf(seed));
        expect.fail(
          `seed ${seed}: ${problems.join('; ')}\n${JSON.stringify(shortest)}\n${play(shortest, {}, true).story.join('\n')}`,
        );
      }
    }
  });

  // a text dropped while its refused part was on its way back; a text put back beside an unposted intent of a lost commit;
  // a text with one part on its way back in the queue, and with another owner, while another part was still on its way
  test.each([27979, 41741, 360575])('seed %i, which once went wrong', (seed) => {
    expect(play(planOf(seed)).problems).toEqual([]);
  });

  test('the same plan is the same history', () => {
    const once = play(planOf(113), {}, true);
    expect(play(planOf(113), {}, true)).toEqual(once);
    expect(once.story.length).toBeGreaterThan(5);
  });

  const mutations: [string, Mutation][] = [
    ['no intent before the write', { writeFirst: true }],
    ['the gate is not asked again', { ask: (_facts, now) => ({ kind: 'go', until: now + 60_000 }) }],
    ['the gate does not look at the register', { ask: (facts, now, book) => gate({ ...facts, registered: false }, now, book) }],
    ['the gate does not look at the hours', { ask: (facts, now, book) => gate({ ...facts, asked: true }, now, book) }],
    ['a receipt moves backwards', { move: (part, receipt) => onReceipt(part === 'delivered' ? 'uncertain' : part, receipt) }],
    ['the lease is not fenced', { unfenced: true }],
  ];
  test.each(mutations)('%s: found within a thousand seeds', (_what, mutation) => {
    expect(foundBy(mutation, 1000)).toBeDefined();
  });
});

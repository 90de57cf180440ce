import { afterEach, describe, expect, test } from 'vitest';
import { forget, freshDemo, type Demo } from './support/demo';
import { Rounds } from './support/rounds';

const WINDOW = 50;
let demo: Demo | undefined;
afterEach(async () => {
  if (!demo) return;
  await demo.stop();
  forget(demo);
  demo = undefined;
});

/** Random moments, but the same in every run of the test. */
function moments(seed: number, count: number): number[] {
  let state = seed;
  return Array.from({ length: count }, () => {
    state = (Math.imul(state, 1_103_515_245) + 12_345) >>> 0;
    return 30 + (state % 700);
  });
}

async function rounds(echo: boolean, kills: ('server' | 'carrier' | 'both')[], seed: number): Promise<void> {
  const environment = { CARRIER_PROFILE: JSON.stringify({ outcomes: 'delivered', latency: [5, 150], echoReference: echo }) };
  demo = await freshDemo(environment);
  const at = await Rounds.on(demo, environment);
  for (const [i, wait] of moments(seed, kills.length).entries()) {
    const round = await at.run(`Round ${String.fromCharCode(65 + i)}`, kills[i], wait, echo);
    demo = at.demo;
    expect(round.people).toBeGreaterThan(500);
    expect(round.twice).toEqual([]);
    const uncertain = round.tally.uncertain ?? 0;
    expect((round.tally.delivered ?? 0) + uncertain, JSON.stringify(round)).toBe(round.people);
    expect(uncertain, JSON.stringify(round)).toBeLessThanOrEqual(echo ? 0 : WINDOW);
  }
}

describe('kill -9 while more than 500 texts go out', () => {
  test('the server, ten moments, references echoed: no number twice, nothing stays uncertain', () =>
    rounds(true, Array<'server'>(10).fill('server'), 7));
  test('the message center, ten moments, references echoed: the same', () =>
    rounds(true, Array<'carrier'>(10).fill('carrier'), 11));
  test('either and both without references: no number twice, at most the window stays uncertain', () =>
    rounds(false, ['server', 'carrier', 'both', 'server', 'carrier', 'both'], 13));
});

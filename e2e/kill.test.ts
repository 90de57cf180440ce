import { afterEach, describe, expect, test } from 'vitest';
import { forget, freshDemo, type Demo } from '../harness/demo';
import { broken, Rounds, type Moment, type Round } from '../harness/rounds';

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

async function rounds(echo: boolean, kills: [Round['killed'], Moment][], seed: number): Promise<void> {
  const environment = { CARRIER_PROFILE: JSON.stringify({ outcomes: 'delivered', latency: [5, 150], echoReference: echo }) };
  demo = await freshDemo(environment);
  const at = await Rounds.on(demo, environment);
  for (const [i, wait] of moments(seed, kills.length).entries()) {
    const [kill, moment] = kills[i];
    const round = await at.run(
      `Round ${String.fromCharCode(65 + i)}`,
      kill,
      moment,
      moment === 'planning' ? wait % 60 : wait,
      echo,
    );
    demo = at.demo;
    expect(round.people).toBeGreaterThan(500);
    expect(broken(round, echo, WINDOW), JSON.stringify(round)).toEqual([]);
  }
}

describe('kill -9 while more than 500 texts go out: nobody twice, nobody lost, the ledger is what the carrier took', () => {
  test('references echoed, so nothing stays uncertain', () =>
    rounds(
      true,
      [
        ['server', 'sending'],
        ['server', 'planning'],
        ['carrier', 'sending'],
        ['both', 'sending'],
        ['server', 'takeback'],
        ['server', 'pausing'],
        ['both', 'canceling'],
      ],
      7,
    ));
  test('without references: at most the window stays uncertain', () =>
    rounds(
      false,
      [
        ['server', 'sending'],
        ['carrier', 'sending'],
        ['server', 'canceling'],
      ],
      13,
    ));
});

import { BROKEN } from '../src/core/desk/simulator/desk-broken';
import { playDesk } from '../src/core/desk/simulator/desk-history';
import { deskPlanOf } from '../src/core/desk/simulator/desk-plan';
import type { DeskRules } from '../src/core/desk/simulator/desk-rules';
import { shrinkDesk } from '../src/core/desk/simulator/desk-shrink';
import { play, type Verdict } from '../src/core/line/simulator/history';
import { planOf } from '../src/core/line/simulator/plan';
import { shrink } from '../src/core/line/simulator/shrink';

/**
 * npm run simulate -- desk 100000 [first]: plays so many histories of the whole desk (`line`: of the line alone); a seed that fails prints
 * its shortest history. npm run simulate -- broken 20000: by which seed each rule that is broken on purpose is found.
 */
const [what = 'desk', many = '100000', from = '1'] = process.argv.slice(2);
const count = Number(many);
const first = Number(from);
const say = (line: string) => process.stdout.write(`${line}\n`);

interface Game {
  play(seed: number): Verdict;
  shortest(seed: number): { plan: unknown; verdict: Verdict };
}
const GAMES: Readonly<Record<string, Game>> = {
  line: {
    play: (seed) => play(planOf(seed)),
    shortest: (seed) => {
      const plan = shrink(planOf(seed));
      return { plan, verdict: play(plan, {}, true) };
    },
  },
  desk: {
    play: (seed) => playDesk(deskPlanOf(seed)),
    shortest: (seed) => {
      const plan = shrinkDesk(deskPlanOf(seed));
      return { plan, verdict: playDesk(plan, {}, true) };
    },
  },
};

function simulate({ play: playOne, shortest }: Game): number {
  const began = performance.now();
  let events = 0;
  let failed = 0;
  let played = 0;
  for (let seed = first; seed < first + count && failed < 5; seed += 1) {
    const verdict = playOne(seed);
    played += 1;
    events += verdict.events;
    if (verdict.problems.length === 0) continue;
    failed += 1;
    const short = shortest(seed);
    say(`seed ${seed}: ${verdict.problems.join('; ')}\n${JSON.stringify(short.plan)}\n${short.verdict.story.join('\n')}\n`);
  }
  const seconds = (performance.now() - began) / 1000;
  const shown = (n: number) => n.toLocaleString('en-US');
  say(`${what}: ${shown(played)} histories from seed ${first}, ${shown(events)} events, ${seconds.toFixed(1)} s`);
  say(`${shown(played - failed)} passed, ${failed} failed`);
  return failed;
}

/** Whether a history shows that a rule is broken; what cannot even go on shows it, too. */
function shows(seed: number, rules: DeskRules): boolean {
  try {
    return playDesk(deskPlanOf(seed), rules).problems.length > 0;
  } catch {
    return true;
  }
}

function broken(): number {
  let missed = 0;
  for (const [rule, rules] of BROKEN) {
    let seed = first;
    while (seed < first + count && !shows(seed, rules)) seed += 1;
    const found = seed < first + count;
    missed += found ? 0 : 1;
    say(`${found ? `found by seed ${seed}` : `not found within ${count}`}: ${rule}`);
  }
  return missed;
}

const game = GAMES[what];
process.exit((what === 'broken' ? broken() : game ? simulate(game) : 1) === 0 ? 0 : 1);

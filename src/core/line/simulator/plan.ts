import { Dice } from './dice';
import type { Temper } from './far-end';
import { SIM_DAY } from './store';

/** Something that happens in a history besides the sending itself. */
export interface Happening {
  at: number;
  what: 'kill' | 'stall' | 'cut' | 'pause' | 'resume' | 'cancel' | 'stop' | 'erase' | 'change' | 'withdraw' | 'jump';
  /** Which owner, run or number, modulo how many there are. */
  which: number;
  /** How long, where it lasts, ms. */
  ms: number;
}

/** A whole history, made from a seed; shrinking takes happenings and texts away. */
export interface Plan {
  seed: number;
  texts: number;
  owners: number;
  rate: number;
  notAfter: number;
  start: number;
  temper: Temper;
  happenings: Happening[];
}

const WHATS: readonly Happening['what'][] = [
  'kill',
  'kill',
  'kill',
  'stall',
  'cut',
  'cut',
  'pause',
  'resume',
  'resume',
  'cancel',
  'stop',
  'stop',
  'erase',
  'change',
  'withdraw',
  'jump',
];

export function planOf(seed: number): Plan {
  const dice = new Dice(seed);
  const share = (often: number, most: number) => (dice.chance(often) ? dice.roll() * most : 0);
  return {
    seed,
    texts: dice.between(2, 9),
    owners: dice.chance(0.35) ? 2 : 1,
    rate: dice.chance(0.3) ? 1 : dice.between(2, 50),
    notAfter: dice.chance(0.2) ? dice.between(5000, 60_000) : SIM_DAY * 4,
    start: dice.between(0, SIM_DAY),
    temper: {
      throttles: share(0.3, 0.6),
      refuses: share(0.2, 0.2),
      silent: share(0.25, 0.3),
      early: share(0.3, 0.5),
      doubled: share(0.3, 0.5),
      missing: share(0.2, 0.5),
      unknown: share(0.2, 0.5),
      echoes: dice.chance(0.6),
      looksUp: dice.chance(0.5),
      fails: share(0.3, 0.4),
      babbles: share(0.2, 0.6),
      breaks: 0,
    },
    happenings: Array.from({ length: dice.between(0, 7) }, () => ({
      at: dice.chance(0.7) ? dice.between(0, 3000) : dice.between(0, 60_000),
      what: WHATS[dice.between(0, WHATS.length - 1)],
      which: dice.between(0, 20),
      ms: dice.chance(0.7) ? dice.between(10, 3000) : dice.between(3000, 40_000),
    })).sort((a, b) => a.at - b.at),
  };
}

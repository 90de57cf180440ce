import { Dice } from '../../line/simulator/dice';
import { planOf, type Plan } from '../../line/simulator/plan';

/** Something that happens at the desk, or to it. */
export interface DeskHappening {
  at: number;
  what:
    | 'press'
    | 'back'
    | 'edit'
    | 'skip'
    | 'pause'
    | 'resume'
    | 'cancel'
    | 'agree'
    | 'stop text'
    | 'maybe text'
    | 'reply text'
    | 'decide'
    | 'import'
    | 'away'
    /** A process does nothing for longer than its leases hold. */
    | 'sleep';
  /** Which broadcast, run or number, modulo how many there are. */
  which: number;
  /** How long, where it lasts, ms. */
  ms: number;
}

/** A whole history of the desk, made from a seed: that of its line, and what people do beside. */
export interface DeskPlan {
  line: Plan;
  broadcasts: { kind: 'now' | 'at' | 'repeat' | 'import' | 'current'; after: number; every: number; times: number }[];
  happenings: DeskHappening[];
  /** How much longer than usual the database takes, and how often its answer is lost, 0…1. */
  slow: number;
  loses: number;
  /** How often a process sleeps through its leases in the middle of its work, 0…1. */
  sleeps: number;
}

const WHATS: readonly DeskHappening['what'][] = [
  'press',
  'press',
  'press',
  'press',
  'back',
  'back',
  'edit',
  'skip',
  'pause',
  'resume',
  'cancel',
  'agree',
  'stop text',
  'stop text',
  'maybe text',
  'reply text',
  'decide',
  'import',
  'away',
  'sleep',
  'sleep',
];
/** How long things happen, ms. */
export const STORMY = 120_000;

export function deskPlanOf(seed: number): DeskPlan {
  const dice = new Dice(seed * 7 + 3);
  const line = planOf(seed);
  const kinds = ['now', 'at', 'repeat', 'repeat', 'import', 'current'] as const;
  return {
    line: {
      ...line,
      texts: dice.between(2, 6),
      owners: dice.chance(0.6) ? 2 : 1,
      temper: { ...line.temper, breaks: dice.chance(0.25) ? dice.roll() * 0.3 : 0 },
      // what the line's own histories do to their one run is done here by people of the desk
      happenings: line.happenings
        .filter(({ what }) => !['pause', 'resume', 'cancel', 'stop'].includes(what))
        .map((each) => ({ ...each, at: dice.chance(0.5) ? each.at : dice.between(0, STORMY) })),
    },
    broadcasts: Array.from({ length: dice.between(1, 2) }, () => ({
      kind: kinds[dice.between(0, kinds.length - 1)],
      after: dice.between(3000, 30_000),
      every: dice.between(12_000, 40_000),
      times: dice.between(2, 4),
    })),
    slow: dice.chance(0.6) ? 1 : dice.chance(0.5) ? 20 : 120,
    loses: dice.chance(0.8) ? 0.015 : dice.roll() * 0.4,
    sleeps: dice.chance(0.7) ? 0 : dice.roll() * 0.08,
    happenings: [
      // somebody sends at least one of them
      { at: dice.between(0, 2000), what: 'press' as const, which: 0, ms: dice.between(0, 500) },
      ...Array.from({ length: dice.between(0, 9) }, () => ({
        at: dice.chance(0.6) ? dice.between(0, 8000) : dice.between(0, STORMY - 1000),
        what: WHATS[dice.between(0, WHATS.length - 1)],
        which: dice.between(0, 20),
        ms: dice.chance(0.7) ? dice.between(10, 2000) : dice.between(2000, 15_000),
      })),
    ].sort((a, b) => a.at - b.at),
  };
}

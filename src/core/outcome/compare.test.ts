import { describe, expect, test } from 'vitest';
import { differenceWords, otherwise, shareOf, type Compared } from './compare';

const run = (part: Partial<Compared> = {}): Compared => ({
  people: 1000,
  delivered: 950,
  answered: 95,
  clicked: 0,
  linked: 0,
  opted_out: 5,
  parts: 1000,
  due_at: '2026-12-02T20:00:00Z',
  sender: 'Ferry desk',
  words: 'Ottermere: the Heron is off on Thursday.',
  purpose: 'service',
  ...part,
});
const wall = (at: string) => {
  const date = new Date(at);
  return {
    date: at.slice(0, 10),
    minutes: date.getUTCHours() * 60 + date.getUTCMinutes(),
    weekday: ['Sunday', 'Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday'][date.getUTCDay()],
  };
};

describe('comparing runs', () => {
  test('the same denominators: delivered of all, the rest of those who got it, clicks of those who had a link', () => {
    expect(shareOf(run(), 'delivered')).toEqual({ k: 950, n: 1000 });
    expect(shareOf(run(), 'answered')).toEqual({ k: 95, n: 950 });
    expect(shareOf(run(), 'clicked')).toBeUndefined();
    expect(shareOf(run({ linked: 1000, clicked: 300 }), 'clicked')).toEqual({ k: 300, n: 950 });
    expect(shareOf(run({ delivered: 0 }), 'answered')).toBeUndefined();
  });

  test('points more or fewer with how sure that is; small numbers are doubted, not told', () => {
    expect(differenceWords('answered', run({ answered: 209 }), run())).toBe('12 points more answers (8.7 to 15)');
    expect(differenceWords('opted_out', run({ opted_out: 40 }), run())).toMatch(/^3\.7 points more opt-outs/);
    expect(differenceWords('answered', run({ people: 4, delivered: 4, answered: 1 }), run())).toBe(
      'answers alike as far as such numbers tell (+15)',
    );
    expect(differenceWords('answered', run(), run())).toBe('as many answers');
    expect(differenceWords('clicked', run(), run())).toBeUndefined();
  });

  test('what else is different stands beside it', () => {
    expect(
      otherwise(
        run({
          due_at: '2026-12-03T22:10:00Z',
          words: 'Ottermere: Heron is off.',
          parts: 1600,
          sender: 'Boathouse',
          linked: 1000,
        }),
        run(),
        wall,
      ),
    ).toEqual([
      'sent 2 hours later in the day',
      'on a Thursday instead of a Wednesday',
      '40 % shorter',
      '1.6 parts a person instead of 1.0',
      'from Boathouse',
      'with a link',
    ]);
    expect(otherwise(run(), run(), wall)).toEqual(['the same words']);
  });
});

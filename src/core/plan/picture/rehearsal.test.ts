import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { deskPace, quantile, rehearse, type PastFigures } from './rehearsal';

const AT = Date.UTC(2026, 11, 2, 21, 30);
const past = (part: Partial<PastFigures> = {}): PastFigures => ({
  texts: 1000,
  hours: 24,
  failed: 0.02,
  delays: [1, 2, 4],
  answered: 0.1,
  lags: [1, 10, 90],
  ...part,
});

describe('a rehearsal', () => {
  test('a worked example: a hundred at once, of which two fail and a tenth of the others answer', () => {
    const played = rehearse(new Float64Array(100).fill(AT), past());
    expect(played).toMatchObject({ texts: 100, fails: 2, last_goes: '2026-12-02T21:30:00.000Z' });
    expect(played?.answers).toBeCloseTo(9.8);
    // no text takes longer than the slowest of the past
    expect(Date.parse(played?.last_arrives ?? '') - AT).toBeGreaterThan(3800);
    expect(Date.parse(played?.last_arrives ?? '') - AT).toBeLessThanOrEqual(4000);
    expect(played?.hours[0]).toMatchObject({ at: '2026-12-02T21:00:00.000Z', texts: 100 });
    // those that answer within half an hour do in the first: up to the quantile of 30 minutes, 0.5 + 20/80/2
    expect(played?.hours[0].answers).toBeCloseTo(9.8 * 0.625, 0);
  });

  test('hours hold every text and every answer (property)', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 0, max: 40 * 3_600_000 }), { minLength: 1, maxLength: 300 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (offsets, failed, answered) => {
          const played = rehearse(
            offsets.map((offset) => AT + offset),
            past({ failed, answered }),
          );
          const sum = (of: 'texts' | 'answers') => played?.hours.reduce((total, hour) => total + hour[of], 0) ?? 0;
          expect(sum('texts')).toBe(offsets.length);
          expect(sum('answers')).toBeCloseTo(played?.answers ?? NaN, 6);
        },
      ),
    );
  });

  test('nobody to text, or nobody who ever answered, is no trouble', () => {
    expect(rehearse([], past())).toBeNull();
    expect(rehearse([AT], past({ answered: 0, lags: [] }))?.answers).toBe(0);
    expect(deskPace(past({ answered: 0 }), 30)).toBeUndefined();
  });

  test('a pace at which the desk keeps up brings no more answers an hour than it can give', () => {
    // 60 answers an hour, one of ten texts answered: ten texts a minute
    expect(deskPace({ failed: 0, answered: 0.1 }, 60)).toBe(10);
    fc.assert(
      fc.property(fc.double({ min: 0.005, max: 1, noNaN: true }), fc.integer({ min: 60, max: 2000 }), (answered, able) => {
        const texts = deskPace({ failed: 0, answered }, able) ?? 0;
        expect(texts === 1 || texts * 60 * answered <= able + 1e-9).toBe(true);
      }),
    );
  });

  test('quantiles lie between their neighbors', () => {
    expect([0, 0.25, 0.5, 1].map((q) => quantile([0, 10, 30], q))).toEqual([0, 5, 10, 30]);
  });
});

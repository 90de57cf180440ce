import { describe, expect, test } from 'vitest';
import { NOON, person, planFor } from '../testing';

const idsOf = (plan: ReturnType<typeof planFor>, step: string) =>
  plan.hinted
    .get(step)
    ?.people.map(({ id }) => id)
    .sort((a, b) => a - b);

describe('who goes later, and why', () => {
  test('whose hours are shut at the start waits for them, and the remark is a way to them', () => {
    const plan = planFor({}, [person(1), person(2, { zone: 'Europe/London' }), person(3, { zone: 'Asia/Kathmandu' })], {
      now: NOON + 2 * 3_600_000, // 5:50 PM Eastern, 10:50 PM in London, 4:35 AM in Kathmandu
    });
    const hint = plan.summary.hints.find(({ check }) => check === 'quiet hours');
    expect(hint).toMatchObject({ step: 'quiet', message: '2 people are in quiet hours then and get it when they end.' });
    expect(idsOf(plan, 'quiet')).toEqual([2, 3]);
    expect(idsOf(plan, 'spilled')).toEqual([]);
  });

  test('whom the sender does not reach before their hours shut waits for the sender', () => {
    const crowd = Array.from({ length: 20 }, (_, i) => person(i + 1));
    const plan = planFor({}, crowd, { now: Date.parse('2026-12-03T01:50:00Z'), sender: { parts_per_second: 0.01 } });
    const shut = Date.parse('2026-12-03T02:00:00Z');
    const late = plan.texts.people.filter((_, i) => plan.texts.due[i] >= shut).map(({ id }) => id);
    expect(late.length).toBeGreaterThan(10);
    expect(plan.summary.hints.find(({ step }) => step === 'spilled')?.message).toContain(`${late.length} people do not get it`);
    expect(idsOf(plan, 'spilled')).toEqual(late.sort((a, b) => a - b));
    expect(idsOf(plan, 'quiet')).toEqual([]);
  });
});

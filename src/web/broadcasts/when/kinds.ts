import type { Draft } from '../../../core/plan/draft/draft';
import { weekdayOf } from '../../../core/plan/times/repeat-words';
import { wallClock } from '../../../core/zones';

/** The ways in which a broadcast may go, as they are chosen. */
export type WhenKind = 'now' | 'once' | 'again' | 'say' | 'import';

export const WHEN_KINDS: readonly (readonly [WhenKind, string])[] = [
  ['now', 'now'],
  ['once', 'once, at a time'],
  ['again', 'again and again'],
  ['say', 'whenever I say'],
  ['import', 'with each import'],
];

export function kindOf({ when }: Pick<Draft, 'when'>): WhenKind {
  if (when.kind === 'import') return 'import';
  if (when.kind === 'now') return when.again ? 'say' : 'now';
  return when.repeats ? 'again' : 'once';
}

const HALF_HOUR = 1_800_000;

/** What is chosen begins with what there is: the time that was said before stays. @param list the one whose imports count */
export function whenOf(kind: WhenKind, draft: Draft, now: number, zone: string, list: number | undefined): Draft['when'] {
  const { date, time } = wallClock(Math.ceil((now + 20 * 60_000) / HALF_HOUR) * HALF_HOUR, zone);
  const before = draft.when.kind === 'at' ? draft.when : { kind: 'at' as const, date, time: time.slice(0, 5) };
  switch (kind) {
    case 'now':
      return { kind: 'now' };
    case 'say':
      return { kind: 'now', again: true };
    case 'import':
      return { kind: 'import', list_id: list ?? 0 };
    case 'once':
      return { ...before, repeats: undefined };
    case 'again':
      return {
        ...before,
        current: undefined,
        repeats: before.repeats ?? { every: 'week', n: 1, days: [weekdayOf(before.date)], wait: 20 },
      };
  }
}

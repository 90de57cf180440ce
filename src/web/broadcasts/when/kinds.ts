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

type At = Extract<Draft['when'], { kind: 'at' }>;
const atOf = (when: Draft['when'] | undefined): At | undefined => (when?.kind === 'at' ? when : undefined);

/** The list whose imports are meant: that of To, where there is one; nothing is guessed of several. */
export function listOf({ to }: Pick<Draft, 'to'>): number {
  const lists = [...new Set(to.flatMap((source) => (source.kind === 'list' ? [source.id] : [])))];
  return lists.length === 1 ? lists[0] : 0;
}

/**
 * What is chosen begins with what there is: the time that was said before stays, and what was chosen of this way before is chosen again.
 *
 * @param before what was chosen of each way (`keepChosen`)
 */
export function whenOf(
  kind: WhenKind,
  draft: Draft,
  now: number,
  zone: string,
  before: Partial<Record<WhenKind, Draft['when']>>,
): Draft['when'] {
  const { date, time } = wallClock(Math.ceil((now + 20 * 60_000) / HALF_HOUR) * HALF_HOUR, zone);
  const once = atOf(before.once);
  const again = atOf(before.again);
  // the time is that of the way that is left; where that has none, that of this way as it was left, or of the other
  const said = atOf(draft.when) ?? atOf(before[kind]) ?? once ?? again;
  const at: At = {
    kind: 'at',
    date: said?.date ?? date,
    time: said?.time ?? time.slice(0, 5),
    ...(said?.own ? { own: true } : {}),
  };
  switch (kind) {
    case 'now':
      return { kind: 'now' };
    case 'say':
      return { kind: 'now', again: true };
    case 'import':
      return before.import?.kind === 'import' ? before.import : { kind: 'import', list_id: listOf(draft) };
    case 'once':
      return { ...at, ...(once?.current ? { current: once.current } : {}) };
    case 'again':
      return { ...at, repeats: again?.repeats ?? { every: 'week', n: 1, days: [weekdayOf(at.date)], wait: 20 } };
  }
}

import type { PlanSummary } from '../../api/sending/plan';
import { LEFT_OUT_WORDS, type LeftOutStep } from '../reach/reach';

/** One figure that two plans do not share: what it is of, before and after. Money is in millionths, times are instants. */
export interface Difference {
  of: string;
  kind: 'count' | 'money' | 'time' | 'words';
  before: number | string | null;
  after: number | string | null;
}

type Compared = Pick<
  PlanSummary,
  'chosen' | 'people' | 'parts' | 'cost_micro' | 'first' | 'last' | 'dropped' | 'fallback' | 'sender' | 'opt_out_words'
>;

const minute = (instant: string | null): number | null => (instant === null ? null : Math.floor(Date.parse(instant) / 60_000));

/**
 * What a second look at a plan shows that the first did not, the most important first: whom, what it costs, when, and why not.
 * Times count by the minute, as they are shown. Empty when the figures agree; then other people, or other words for them, may
 * still stand behind the same figures.
 */
export function differences(before: Compared, after: Compared): Difference[] {
  const found: Difference[] = [];
  const compare = <T extends number | string | null>(of: string, kind: Difference['kind'], a: T, b: T) => {
    if (a !== b) found.push({ of, kind, before: a, after: b });
  };
  compare('people', 'count', before.people, after.people);
  compare('text parts', 'count', before.parts, after.parts);
  compare('cost', 'money', before.cost_micro, after.cost_micro);
  compare('sender', 'words', before.sender?.name ?? null, after.sender?.name ?? null);
  compare('opt-out wording', 'words', before.opt_out_words, after.opt_out_words);
  for (const end of ['first', 'last'] as const)
    if (minute(before[end]) !== minute(after[end])) compare(end, 'time', before[end], after[end]);
  compare('chosen', 'count', before.chosen, after.chosen);
  for (const reason of Object.keys({ ...before.dropped, ...after.dropped }) as LeftOutStep[])
    compare(LEFT_OUT_WORDS[reason], 'count', before.dropped[reason] ?? 0, after.dropped[reason] ?? 0);
  compare('words to use instead', 'count', before.fallback, after.fallback);
  return found;
}

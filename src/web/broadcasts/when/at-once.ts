import type { PlanSummary } from '../../../core/api/sending/plan';
import type { Draft } from '../../../core/plan/draft/draft';

/** What begins within this time begins now: a plan is some seconds old, and there are seconds to take a press back, ms. */
const AT_ONCE = 120_000;

/** Whether the first goes at the press. Also what is to go now waits where it is night for everybody: then its hour is said, not "now". */
export function beginsAtOnce({ when }: Pick<Draft, 'when'>, { first }: Pick<PlanSummary, 'first'>, now: number): boolean {
  return when.kind === 'now' && first !== null && Date.parse(first) <= now + AT_ONCE;
}

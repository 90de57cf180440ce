import { keepPreviousData, useQuery, type UseQueryResult } from '@tanstack/react-query';
import { broadcasts, type BroadcastAnswer } from '../../../core/api/sending/broadcasts';
import type { PlanSummary } from '../../../core/api/sending/plan';
import type { Topic } from '../../../core/api/topics';
import type { Draft } from '../../../core/plan/draft/draft';
import { ask } from '../../api/client';
import { useSettled } from '../../pieces/small';

/** What a plan is made from beside its draft: when one of these changes, it is counted anew. */
const MOVES_A_PLAN: readonly Topic[] = ['people', 'runs', 'balance', 'setup', 'codes'];

/** The plan of a draft as it is typed: asked a moment after the last change. `wanted` is what it was asked of. */
export function usePlanOf(
  id: number,
  state: BroadcastAnswer['state'] | undefined,
  draft: Draft | undefined,
): { wanted: Draft | undefined; counted: UseQueryResult<{ plan: PlanSummary; digest: string }> } {
  const wanted = useSettled(draft, 180);
  const editable = state === 'draft' || state === 'set_aside';
  const counted = useQuery({
    // of one that is set aside the plan is another: its own run no longer fills the line
    queryKey: ['plan of a draft', id, state, wanted],
    queryFn: () => ask(broadcasts.plan, { params: { id }, body: { draft: wanted as Draft } }),
    enabled: wanted !== undefined && editable,
    placeholderData: keepPreviousData,
    meta: { live: MOVES_A_PLAN },
    // a time that was to come is over, quiet hours draw nearer
    refetchInterval: 60_000,
    gcTime: 20_000,
    retry: false,
  });
  return { wanted, counted };
}

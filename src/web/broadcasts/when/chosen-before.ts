import type { Draft } from '../../../core/plan/draft/draft';
import { kindOf, type WhenKind } from './kinds';

/** What was chosen of each way a broadcast may go. */
export type Chosen = Partial<Record<WhenKind, Draft['when']>>;

const keyOf = (broadcast: number): string => `yellow-bell-when-${broadcast}`;

/** What was chosen before of the ways that were looked at; kept for this tab, also through a reload. */
export function chosenBefore(broadcast: number): Chosen {
  try {
    return JSON.parse(sessionStorage.getItem(keyOf(broadcast)) ?? '{}') as Chosen;
  } catch {
    return {};
  }
}

/** Another way is looked at: what was chosen of this one is kept. */
export function keepChosen(broadcast: number, draft: Pick<Draft, 'when'>): Chosen {
  const chosen = { ...chosenBefore(broadcast), [kindOf(draft)]: draft.when };
  sessionStorage.setItem(keyOf(broadcast), JSON.stringify(chosen));
  return chosen;
}

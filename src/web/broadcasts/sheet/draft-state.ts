import { useCallback, useEffect, useState } from 'react';
import { broadcasts, type BroadcastAnswer } from '../../../core/api/sending/broadcasts';
import type { PlanSummary } from '../../../core/api/sending/plan';
import type { Draft } from '../../../core/plan/draft/draft';
import { mergeDrafts, type Clash, type NamedDraft } from '../../../core/plan/draft/merge-drafts';
import { ask, useGet } from '../../api/client';
import { useDesk } from '../../api/session';
import { useSettled } from '../../pieces/small';
import type { Kept } from './draft-keeper';
import { heldDraft } from './held-drafts';
import { usePlanOf } from './plan-of-draft';
import { useSaving } from './saving';

export interface DraftState {
  answer: BroadcastAnswer | undefined;
  name: string;
  draft: Draft | undefined;
  plan: PlanSummary | undefined;
  planning: boolean;
  /** Of the plan that is shown. */
  digest: string | undefined;
  /** The world has moved, as the server says: what is shown is counted anew. */
  countAnew(): void;
  saved: string;
  error: unknown;
  /** Why there is no plan. */
  uncounted: unknown;
  /** What somebody else has changed while it was changed here, too; it is not saved until one of the two stands. */
  clashes: readonly Clash[];
  settle(keep: 'mine' | 'theirs'): void;
  setName(name: string): void;
  change(part: Partial<Draft>): void;
  /** Saves what is not saved yet; resolves with the version to press. */
  flush(): Promise<number | undefined>;
}

/** The draft saves itself a moment after the last change, with its version; the plan follows the words. */
export function useDraft(id: number): DraftState {
  const query = useGet(broadcasts.get, { params: { id } });
  const held = heldDraft(id);
  const { keeper } = held;
  const [name, setNameState] = useState(keeper.value?.name ?? '');
  const [draft, setDraft] = useState(keeper.value?.draft);
  const { languages } = useDesk().workspace;
  const [clash, setClash] = useState<{ clashes: Clash[]; mine: NamedDraft; theirs: NamedDraft; server: Kept<NamedDraft> }>();
  const [shown, setShown] = useState(id);
  if (shown !== id) {
    // another broadcast in the same view: nothing of the one before may be shown, or saved, as if it were of this one
    setShown(id);
    setNameState(keeper.value?.name ?? '');
    setDraft(keeper.value?.draft);
    setClash(undefined);
  }
  const { data } = query;
  useEffect(() => {
    // an answer may cross what is typed: the keeper decides which of the two stands
    if (!data || !keeper.heard({ value: { name: data.name, draft: data.draft }, version: data.version })) return;
    setNameState(data.name);
    setDraft(data.draft);
  }, [data, keeper]);

  const stand = useCallback(
    (server: Kept<NamedDraft>, value: NamedDraft) => {
      keeper.rebase(server, value);
      setNameState(value.name);
      setDraft(value.draft);
    },
    [keeper],
  );
  /** Somebody else has saved since: what only one of us has changed is put together; true when that can be saved. */
  const takeIn = useCallback(async (): Promise<boolean> => {
    const theirs = await ask(broadcasts.get, { params: { id } });
    const { agreed, value } = keeper;
    if (!agreed || !value || (theirs.state !== 'draft' && theirs.state !== 'set_aside')) return false;
    const server = { value: { name: theirs.name, draft: theirs.draft }, version: theirs.version };
    const merged = mergeDrafts(agreed, value, server.value, languages);
    if (merged.clashes.length > 0) {
      setClash({ ...merged, server });
      return false;
    }
    stand(server, merged.mine);
    return true;
  }, [id, keeper, languages, stand]);

  const { saved, error, save } = useSaving(id, held, takeIn);
  const touched = useSettled(draft, 500);
  const touchedName = useSettled(name, 500);
  useEffect(() => {
    // a conflict is for a person to settle; what failed for want of a server is tried again with the next change
    if (keeper.unsaved) save().catch(() => undefined);
  }, [touched, touchedName, save, keeper]);

  const { wanted, counted } = usePlanOf(id, data?.state, draft);

  return {
    answer: data,
    name,
    draft,
    plan: counted.data?.plan,
    digest: counted.data?.digest,
    countAnew: () => void counted.refetch(),
    // from the first letter on: what is shown is of the words before
    planning: wanted !== draft || counted.isPlaceholderData || (counted.isPending && counted.isFetching),
    saved,
    error: clash ? undefined : (error ?? query.error),
    uncounted: counted.error,
    clashes: clash?.clashes ?? [],
    settle(keep) {
      const { agreed, value } = keeper;
      if (!clash || !agreed || !value) return;
      // with what was typed since it was asked
      stand(clash.server, mergeDrafts(agreed, value, clash.server.value, languages)[keep]);
      setClash(undefined);
    },
    setName(next) {
      if (!keeper.value) return;
      keeper.type({ ...keeper.value, name: next });
      setNameState(next);
    },
    change(part) {
      if (!keeper.value) return;
      const next = { ...keeper.value.draft, ...part };
      keeper.type({ ...keeper.value, draft: next });
      setDraft(next);
    },
    async flush() {
      await save();
      return keeper.version;
    },
  };
}

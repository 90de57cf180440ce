import { useCallback, useEffect, useRef, useState } from 'react';
import { broadcasts, type BroadcastAnswer } from '../../core/api/broadcasts';
import type { PlanSummary } from '../../core/api/plan';
import type { Draft } from '../../core/plan/draft';
import { ask, useGet } from '../api/client';
import { useSettled } from '../pieces/small';
import { DraftKeeper } from './draft-keeper';

export interface DraftState {
  answer: BroadcastAnswer | undefined;
  name: string;
  draft: Draft | undefined;
  plan: PlanSummary | undefined;
  planning: boolean;
  saved: string;
  error: unknown;
  setName(name: string): void;
  change(part: Partial<Draft>): void;
  /** Saves what is not saved yet; resolves with the version to press. */
  flush(): Promise<number | undefined>;
}

/** The draft saves itself a moment after the last change, with its version; the plan follows the words. */
export function useDraft(id: number): DraftState {
  const query = useGet(broadcasts.get, { params: { id } });
  const [name, setNameState] = useState('');
  const [draft, setDraft] = useState<Draft>();
  const [saved, setSaved] = useState('');
  const [error, setError] = useState<unknown>();
  const [plan, setPlan] = useState<PlanSummary>();
  const [planning, setPlanning] = useState(false);
  const [keeper] = useState(() => new DraftKeeper<{ name: string; draft: Draft }>());
  const saving = useRef<Promise<void> | undefined>(undefined);
  const { data } = query;
  useEffect(() => {
    // an answer may cross what is typed: the keeper decides which of the two stands
    if (!data || !keeper.heard({ value: { name: data.name, draft: data.draft }, version: data.version })) return;
    setNameState(data.name);
    setDraft(data.draft);
  }, [data, keeper]);

  const save = useCallback(async () => {
    for (;;) {
      if (saving.current) await saving.current;
      const next = keeper.begin();
      if (!next) return;
      setSaved('saving');
      saving.current = ask(broadcasts.save, { params: { id }, body: { ...next.value, version: next.version } })
        .then((answer) => {
          keeper.done(answer.version);
          setSaved(answer.updated_at);
          setError(undefined);
        })
        .catch((refused: unknown) => {
          keeper.failed();
          setError(refused);
          setSaved('not saved');
          throw refused;
        })
        .finally(() => (saving.current = undefined));
      await saving.current;
    }
  }, [id, keeper]);

  const touched = useSettled(draft, 500);
  const touchedName = useSettled(name, 500);
  useEffect(() => {
    // a conflict is for a person to settle; what failed for want of a server is tried again with the next change
    if (keeper.unsaved) save().catch(() => undefined);
  }, [touched, touchedName, save, keeper]);

  const wanted = useSettled(draft, 180);
  useEffect(() => {
    if (!wanted) return;
    let current = true;
    setPlanning(true);
    ask(broadcasts.plan, { params: { id }, body: { draft: wanted } })
      .then((answer) => current && setPlan(answer.plan))
      .catch((refused: unknown) => current && setError(refused))
      .finally(() => current && setPlanning(false));
    return () => {
      current = false;
    };
  }, [wanted, id]);

  return {
    answer: data,
    name,
    draft,
    plan,
    planning,
    saved,
    error: error ?? query.error,
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

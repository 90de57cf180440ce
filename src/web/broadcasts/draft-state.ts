import { useCallback, useEffect, useRef, useState } from 'react';
import type { PlanSummary } from '../../core/api/plan';
import type { Draft } from '../../core/plan/draft';
import { Refused, send, useGet } from '../api/client';
import { useSettled } from '../pieces/small';

export interface BroadcastAnswer {
  id: number;
  name: string;
  state: string;
  draft: Draft;
  version: number;
  updated_at: string;
  run: { id: number; state: string; people: number; due_at: string } | null;
  senders: { id: number; name: string; kind: 'long' | 'short' | 'name'; address: string }[];
}

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
  const query = useGet<BroadcastAnswer>(`/api/broadcasts/${id}`);
  const [name, setNameState] = useState('');
  const [draft, setDraft] = useState<Draft>();
  const [saved, setSaved] = useState('');
  const [error, setError] = useState<unknown>();
  const [plan, setPlan] = useState<PlanSummary>();
  const [planning, setPlanning] = useState(false);
  const version = useRef(0);
  const dirty = useRef(false);
  const latest = useRef<{ name: string; draft: Draft | undefined }>({ name: '', draft: undefined });
  const saving = useRef<Promise<void> | undefined>(undefined);
  useEffect(() => {
    if (!query.data || (dirty.current && latest.current.draft)) return;
    version.current = query.data.version;
    latest.current = { name: query.data.name, draft: query.data.draft };
    setNameState(query.data.name);
    setDraft(query.data.draft);
  }, [query.data]);

  const save = useCallback(async () => {
    while (dirty.current) {
      if (saving.current) {
        await saving.current;
        continue;
      }
      dirty.current = false;
      setSaved('saving');
      saving.current = send<{ version: number; updated_at: string }>('PUT', `/api/broadcasts/${id}`, {
        ...latest.current,
        version: version.current,
      })
        .then((answer) => {
          version.current = answer.version;
          setSaved(answer.updated_at);
          setError(undefined);
        })
        .catch((refused: unknown) => {
          setError(refused);
          setSaved('not saved');
          // another try is safe when the server was only away; a conflict is for a person to settle
          if (refused instanceof Refused && (refused.status === 0 || refused.status >= 500)) dirty.current = true;
          throw refused;
        })
        .finally(() => (saving.current = undefined));
      await saving.current;
    }
    if (saving.current) await saving.current;
  }, [id]);

  const touched = useSettled(draft, 500);
  const touchedName = useSettled(name, 500);
  useEffect(() => {
    if (dirty.current) save().catch(() => undefined);
  }, [touched, touchedName, save]);

  const wanted = useSettled(draft, 180);
  useEffect(() => {
    if (!wanted) return;
    let current = true;
    setPlanning(true);
    send<{ plan: PlanSummary }>('POST', `/api/broadcasts/${id}/plan`, { draft: wanted })
      .then((answer) => current && setPlan(answer.plan))
      .catch((refused: unknown) => current && setError(refused))
      .finally(() => current && setPlanning(false));
    return () => {
      current = false;
    };
  }, [wanted, id]);

  return {
    answer: query.data,
    name,
    draft,
    plan,
    planning,
    saved,
    error: error ?? query.error,
    setName(next) {
      dirty.current = true;
      latest.current = { ...latest.current, name: next };
      setNameState(next);
    },
    change(part) {
      if (!latest.current.draft) return;
      dirty.current = true;
      const next = { ...latest.current.draft, ...part };
      latest.current = { ...latest.current, draft: next };
      setDraft(next);
    },
    async flush() {
      await save();
      return version.current;
    },
  };
}

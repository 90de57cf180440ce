import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { layouts, type Layout } from '../../../core/api/layouts';
import { ask, useGet } from '../../api/client';

/** How somebody likes a table, and what changes it. */
export interface TableLayout extends Layout {
  widen(key: string, width: number): void;
  show(key: string, shown: boolean): void;
  /** The columns in another order. */
  arrange(order: readonly string[]): void;
  reset(): void;
}

const SETTLES_MS = 600;
const NARROWEST = 40;
const WIDEST = 800;

/** The columns of a table as the account last had them; what is changed is remembered for it. */
export function useTableLayout(table: string, start: { hidden?: readonly string[] } = {}): TableLayout {
  const begun = useMemo<Layout>(() => ({ hidden: [...(start.hidden ?? [])], order: [], widths: {} }), [start.hidden]);
  const kept = useGet(layouts.get, {}).data?.[table];
  const [own, setOwn] = useState<Layout>();
  const now = own ?? kept ?? begun;
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const waiting = useRef<Layout>(undefined);
  const keep = useCallback(() => {
    clearTimeout(timer.current);
    if (waiting.current === undefined) return;
    const body = waiting.current;
    waiting.current = undefined;
    // how a table looks is not worth an error
    void ask(layouts.keep, { params: { table }, body }).catch(() => undefined);
  }, [table]);
  useEffect(() => keep, [keep]);
  const change = useCallback(
    (to: Layout) => {
      setOwn(to);
      waiting.current = to;
      clearTimeout(timer.current);
      timer.current = setTimeout(keep, SETTLES_MS);
    },
    [keep],
  );
  return {
    ...now,
    widen: (key, width) =>
      change({ ...now, widths: { ...now.widths, [key]: Math.round(Math.min(WIDEST, Math.max(NARROWEST, width))) } }),
    show: (key, shown) =>
      change({ ...now, hidden: shown ? now.hidden.filter((each) => each !== key) : [...new Set([...now.hidden, key])] }),
    arrange: (order) => change({ ...now, order: [...order] }),
    reset: () => change(begun),
  };
}

import { useCallback, useRef, useState } from 'react';

/** Something that is being done: whether it is, and what went wrong with it. */
export interface Work {
  /** Does it, after what was begun before; answers whether it was done. What goes wrong is kept to be shown. */
  work(what: () => Promise<unknown>): Promise<boolean>;
  busy: boolean;
  error: unknown;
  forget(): void;
}

export function useWork(): Work {
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<unknown>();
  const open = useRef(0);
  const before = useRef<Promise<unknown>>(Promise.resolve());
  const work = useCallback(async (what: () => Promise<unknown>) => {
    setError(undefined);
    open.current += 1;
    setBusy(true);
    try {
      // in the order in which they were pressed: of two changes of one thing the later one stands
      const mine = before.current.then(what);
      before.current = mine.catch(() => undefined);
      await mine;
      return true;
    } catch (refused) {
      setError(refused);
      return false;
    } finally {
      open.current -= 1;
      setBusy(open.current > 0);
    }
  }, []);
  const forget = useCallback(() => setError(undefined), []);
  return { work, busy, error, forget };
}

import { useEffect, type ReactNode } from 'react';
import { useBlocker } from 'react-router';
import { Sure } from '../Sure';

/** What is not saved, form by form: a page may have several, and a router asks one. */
const unsaved = new Set<symbol>();

/** While there is something that is not saved, leaving the view or the page asks first. */
export function useUnsaved(is: boolean): void {
  useEffect(() => {
    if (!is) return;
    const mine = Symbol('unsaved');
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    unsaved.add(mine);
    window.addEventListener('beforeunload', ask);
    return () => {
      unsaved.delete(mine);
      window.removeEventListener('beforeunload', ask);
    };
  }, [is]);
}

/** Asks whoever leaves something that is not saved; once, beside everything that may be left. */
export function LeavingAsks(): ReactNode {
  const blocker = useBlocker(
    ({ currentLocation, nextLocation }) => unsaved.size > 0 && currentLocation.pathname !== nextLocation.pathname,
  );
  if (blocker.state !== 'blocked') return null;
  return (
    <Sure
      title="What you typed is not saved"
      stay="Stay here"
      act="Leave without it"
      leave={() => blocker.reset()}
      confirm={() => blocker.proceed()}
    >
      If you leave, it is gone.
    </Sure>
  );
}

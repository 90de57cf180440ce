import { useEffect } from 'react';
import { useBlocker } from 'react-router';

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
export function LeavingAsks(): null {
  const blocker = useBlocker(
    ({ currentLocation, nextLocation }) => unsaved.size > 0 && currentLocation.pathname !== nextLocation.pathname,
  );
  useEffect(() => {
    if (blocker.state !== 'blocked') return;
    if (window.confirm('What you typed is not saved. Leave it?')) blocker.proceed();
    else blocker.reset();
  }, [blocker]);
  return null;
}

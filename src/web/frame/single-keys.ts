import { useSyncExternalStore } from 'react';

/**
 * Whether single keys do anything. Whoever speaks to their computer, or strikes keys by accident, turns them off
 * (WCAG 2.2, 2.1.4 Character Key Shortcuts); kept in this browser, since it is about this keyboard.
 */
const KEY = 'bell-single-keys';
const listeners = new Set<() => void>();

function watch(changed: () => void): () => void {
  listeners.add(changed);
  return () => listeners.delete(changed);
}
const on = () => localStorage.getItem(KEY) !== 'off';

/** True while single keys work. */
export const useSingleKeys = (): boolean => useSyncExternalStore(watch, on);

export function chooseSingleKeys(work: boolean): void {
  if (work) localStorage.removeItem(KEY);
  else localStorage.setItem(KEY, 'off');
  for (const listener of listeners) listener();
}

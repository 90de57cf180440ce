import { useSyncExternalStore } from 'react';

/** Whether the server last said that its database cannot be reached: told by every answer, shown on every page. */
let away = false;
const listeners = new Set<() => void>();

export function tellAway(now: boolean): void {
  if (now === away) return;
  away = now;
  for (const heard of [...listeners]) heard();
}

const listen = (heard: () => void) => {
  listeners.add(heard);
  return () => void listeners.delete(heard);
};

export function useAway(): boolean {
  return useSyncExternalStore(listen, () => away);
}

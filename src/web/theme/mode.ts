import type { Mode } from './theme';

/** Light or night: what was chosen here, else what the system says. */
const KEY = 'bell-mode';
const system = window.matchMedia('(prefers-color-scheme: dark)');
const listeners = new Set<() => void>();

export function chosenMode(): Mode | 'system' {
  const kept = localStorage.getItem(KEY);
  return kept === 'light' || kept === 'night' ? kept : 'system';
}

export function currentMode(): Mode {
  const chosen = chosenMode();
  return chosen === 'system' ? (system.matches ? 'night' : 'light') : chosen;
}

export function chooseMode(mode: Mode | 'system'): void {
  if (mode === 'system') localStorage.removeItem(KEY);
  else localStorage.setItem(KEY, mode);
  for (const listener of listeners) listener();
}

export function watchMode(changed: () => void): () => void {
  listeners.add(changed);
  system.addEventListener('change', changed);
  return () => {
    listeners.delete(changed);
    system.removeEventListener('change', changed);
  };
}

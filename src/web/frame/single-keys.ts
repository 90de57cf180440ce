import { useSyncExternalStore } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';

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

/** What takes letters, or chooses by them. */
const TYPED_INTO =
  'input, textarea, select, [contenteditable]:not([contenteditable=false]), .cm-editor, [role=textbox], [role=searchbox], [role=combobox], [role=spinbutton], [role=listbox], [role=menu]';
/** What lies over the page while it is open. */
const LIES_OVER = '[role=dialog], [role=alertdialog], [role=menu], [role=listbox], .MuiModal-root, .MuiPopover-root, .cm-tooltip';

/** A letter that may be meant for something else than the page: for what it is typed into, or for what lies over it. */
export function meantElsewhere(event: Pick<KeyboardEvent, 'target' | 'isComposing'>): boolean {
  if (event.isComposing) return true;
  for (const at of [event.target, document.activeElement]) if (at instanceof Element && at.closest(TYPED_INTO)) return true;
  // what is kept mounted while it is shut is hidden
  return [...document.querySelectorAll(LIES_OVER)].some((each) => each.closest('[hidden], [aria-hidden=true]') === null);
}

/** A single key of the page: nothing while it could be meant for typing, or anything lies over the page. */
export function useSingleKey(
  keys: string | readonly string[],
  act: (event: KeyboardEvent) => void,
  options: { useKey?: boolean; preventDefault?: boolean } = {},
): void {
  const enabled = useSingleKeys();
  useHotkeys(keys as string | string[], act, { ...options, enabled, ignoreEventWhen: meantElsewhere });
}

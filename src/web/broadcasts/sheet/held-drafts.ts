import type { NamedDraft } from '../../../core/plan/draft/merge-drafts';
import { DraftKeeper } from './draft-keeper';

/** A draft that somebody has open here, or left a moment ago with something that is not saved yet. */
export interface Held {
  keeper: DraftKeeper<NamedDraft>;
  saving: Promise<void> | undefined;
  /** How many views show it. */
  shown: number;
}

const held = new Map<number, Held>();

/**
 * The draft of a broadcast, one for all views of this tab: what was typed on the sheet a moment ago stands on the next view, whether it is
 * saved by then or not, and is there when one comes back where it could not be saved.
 */
export function heldDraft(id: number): Held {
  let found = held.get(id);
  if (!found) held.set(id, (found = { keeper: new DraftKeeper(), saving: undefined, shown: 0 }));
  return found;
}

/** Nobody shows it and all of it is saved: the next who opens it asks the server. */
export function letGoOf(id: number): void {
  const found = held.get(id);
  if (found && found.shown === 0 && !found.keeper.unsaved && !found.keeper.isSending) held.delete(id);
}

/** For tests: as in a new tab. */
export function forgetDrafts(): void {
  held.clear();
}

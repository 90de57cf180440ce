import { useState } from 'react';

/**
 * Things in the order in which they stood while they are held: what is new comes last, and nothing moves under the hand. Let go, they stand
 * in their own order again.
 */
export function inHeldOrder<T>(all: readonly T[], idOf: (one: T) => string, held: readonly string[] | undefined): readonly T[] {
  if (held === undefined) return all;
  const at = new Map(held.map((id, i) => [id, i]));
  const place = (one: T) => at.get(idOf(one)) ?? held.length;
  // sorting keeps the order of those that are new
  return [...all].sort((a, b) => place(a) - place(b));
}

/** The same, held while something within has the focus: put the props on what is around them. */
export function useHeldOrder<T>(all: readonly T[], idOf: (one: T) => string) {
  const [held, setHeld] = useState<readonly string[]>();
  const shown = inHeldOrder(all, idOf, held);
  return {
    shown,
    around: {
      onFocus: () => setHeld((before) => before ?? shown.map(idOf)),
      onBlur: (event: React.FocusEvent) => {
        if (!event.currentTarget.contains(event.relatedTarget)) setHeld(undefined);
      },
    },
  };
}

/** A text that came in, by what tells whether the carrier hands the very same over once more. */
export interface Came {
  to: string;
  /** Its words, or its octets where it could not be read. */
  words: string;
  at: number;
  /** The carrier's own id, where it gives one. */
  id: string | null;
  /** `session:place`; null where it is not known. */
  by: string | null;
}

/** A carrier that heard no answer hands a text over again within this time, ms (common practice: minutes). */
export const HANDED_OVER_AGAIN = 30 * 60_000;

/**
 * Whether a text is the latest one of its number, handed over once more: the carrier's id says it; without one, the same words on
 * another session do, since a text is handed over again after a line that broke, or the very same place on the same session. A person who
 * writes the same twice comes by the same session at another place, and has written twice.
 */
export function isRedelivery(latest: Came | undefined, now: Came): boolean {
  if (!latest || latest.to !== now.to || latest.words !== now.words || now.at - latest.at > HANDED_OVER_AGAIN) return false;
  if (latest.id !== null && now.id !== null) return latest.id === now.id;
  if (latest.by === null || now.by === null) return false;
  const session = (by: string) => by.slice(0, by.lastIndexOf(':'));
  return latest.by === now.by || session(latest.by) !== session(now.by);
}

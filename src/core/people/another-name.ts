import { fold } from '../text/fold';

export interface Called {
  given_name: string;
  family_name: string;
}

/** A name as it is shown: empty where there is none. */
export const calledName = (of: Called): string => `${of.given_name} ${of.family_name}`.trim();

const wordsOf = (of: Called): string[] =>
  fold(calledName(of))
    .split(/[\s,.]+/)
    .filter((word) => word !== '');

/**
 * The two are called otherwise: both have a name, and neither is a shorter or a turned form of the other. "Baker, Ann" and "Ann" are
 * Ann Baker; Bob Baker is somebody else.
 */
export function anotherName(one: Called, other: Called): boolean {
  const [a, b] = [wordsOf(one), wordsOf(other)];
  if (a.length === 0 || b.length === 0) return false;
  const [few, many] = a.length <= b.length ? [a, b] : [b, a];
  return !few.every((word) => many.includes(word));
}

import { parseText } from '../merge/syntax';

/** What went before and what goes besides, as a new broadcast is held against it. */
export interface History {
  /** The people of the last runs, the latest first. */
  sizes: readonly number[];
  /** How often each number was texted in the last days, by runs. */
  texted: ReadonlyMap<string, number>;
  /** Runs that are scheduled or going, of other broadcasts. */
  others: readonly { name: string; by: string | null; at: number; words: string }[];
}

/** Fewer are no history to be unusual against. */
const FEWEST = 5;
/** So many texts in so many days are much (common practice: a handful a week). */
export const MUCH = 3;
export const LATELY_DAYS = 7;
const ALIKE = 0.5;

/** The largest of the last runs, where this one is far larger; undefined where it is usual. */
export function unusualSize(sizes: readonly number[], people: number): number | undefined {
  if (sizes.length < FEWEST) return undefined;
  const largest = Math.max(...sizes);
  return people > largest * 1.5 && people > 20 ? largest : undefined;
}

const wordsOf = (source: string): Set<string> =>
  new Set(
    parseText(source).nodes.flatMap((node) =>
      node.kind === 'words' ? (node.text.toLowerCase().match(/[\p{L}\p{N}]{3,}/gu) ?? []) : [],
    ),
  );

/** How much two texts say the same: of all their words (of three letters and more), the share that stands in both (Jaccard, 1901). */
export function alike(a: string, b: string): number {
  const [of, other] = [wordsOf(a), wordsOf(b)];
  const both = [...of].filter((word) => other.has(word)).length;
  const all = of.size + other.size - both;
  return all === 0 ? 0 : both / all;
}

/** Others that say much the same. */
export function onTheSameMatter(others: History['others'], words: string): History['others'] {
  return words.trim() === '' ? [] : others.filter((other) => alike(other.words, words) >= ALIKE);
}

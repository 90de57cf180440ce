import { CONTRARY_WORDS, phraseIn } from '../words/relative-words';
import { parseText } from '../../merge/syntax';

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

/** Fewer words in common are another matter. */
const SAME_MATTER = 0.5;
const TIME = /\b\d{1,2}(?::\d{2})?\s?(?:[ap]m\b|[ap]\.m\.)|\b\d{1,2}:\d{2}\b/gi;

/**
 * Others about the same matter that say something else of it: another time, or the contrary word. One that says all that this says and
 * more contradicts nothing.
 */
export function contradicting(
  others: History['others'],
  words: string,
): { name: string; at: number; theirs: string; mine: string }[] {
  return others.flatMap(({ name, at, words: said }) => {
    if (alike(said, words) < SAME_MATTER) return [];
    const differs = otherTime(said, words) ?? contrary(said, words);
    return differs ? [{ name, at, ...differs }] : [];
  });
}

const timesOf = (source: string) =>
  [...source.matchAll(TIME)].map(([time]) => ({ shown: time, is: time.toLowerCase().replace(/[\s.]|:00/g, '') }));

function otherTime(theirs: string, mine: string): { theirs: string; mine: string } | undefined {
  const [t, m] = [timesOf(theirs), timesOf(mine)];
  const other = t.find(({ is }) => !m.some((each) => each.is === is));
  const own = m.find(({ is }) => !t.some((each) => each.is === is));
  return other && own ? { theirs: other.shown, mine: own.shown } : undefined;
}

function contrary(theirs: string, mine: string): { theirs: string; mine: string } | undefined {
  const has = (source: string, phrase: string) => phraseIn(source, phrase) !== undefined;
  for (const [a, b] of Object.values(CONTRARY_WORDS).flat()) {
    const [ta, tb, ma, mb] = [has(theirs, a), has(theirs, b), has(mine, a), has(mine, b)];
    if (ta && mb && !tb && !ma) return { theirs: a, mine: b };
    if (tb && ma && !ta && !mb) return { theirs: b, mine: a };
  }
  return undefined;
}

import { fold } from '../../core/text/fold';

/** Case, accents, hyphens and underscores do not matter. */
const plain = (text: string) =>
  fold(text)
    .replace(/[-_’']/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();

/** How well it is named by what was typed: 0 a whole word of it, 1 the beginning of a word, 2 inside of one; undefined where not at all. */
function rankOf(name: string, typed: string): number | undefined {
  const at: number[] = [];
  for (let found = name.indexOf(typed); found >= 0; found = name.indexOf(typed, found + 1)) at.push(found);
  if (at.length === 0) return undefined;
  const begins = at.filter((start) => start === 0 || !/[\p{L}\p{N}]/u.test(name[start - 1]));
  if (begins.length === 0) return 2;
  return begins.some((start) => !/[\p{L}\p{N}]/u.test(name[start + typed.length] ?? ' ')) ? 0 : 1;
}

/** Words that stand apart in it, or in another order. */
const apart = (name: string, typed: string): number | undefined => {
  const words = typed.split(' ');
  return words.length > 1 && words.every((word) => rankOf(name, word) !== undefined) ? 3 : undefined;
};

/**
 * What is named by what was typed: a whole word of a name first, then the beginning of one, then inside, then what has each of several
 * words somewhere; in the order given among alike.
 * Everything where nothing was typed.
 */
export function foundByWords<T>(all: readonly T[], namesOf: (one: T) => readonly string[], typed: string): readonly T[] {
  const wanted = plain(typed);
  if (wanted === '') return all;
  return all
    .flatMap((one, at) => {
      const ranks = namesOf(one).flatMap((name) => rankOf(plain(name), wanted) ?? apart(plain(name), wanted) ?? []);
      return ranks.length > 0 ? [{ one, rank: Math.min(...ranks), at }] : [];
    })
    .sort((a, b) => a.rank - b.rank || a.at - b.at)
    .map(({ one }) => one);
}

/** Those of one group beside each other, the group of the best first: the list is told by groups, and a group stands in it once. */
export function inGroups<T extends { group: string }>(found: readonly T[]): T[] {
  const groups = new Map<string, T[]>();
  for (const each of found) groups.set(each.group, [...(groups.get(each.group) ?? []), each]);
  return [...groups.values()].flat();
}

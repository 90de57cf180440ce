import { rectifyConfusion } from 'unicode-confusables';

/** More turns than the table needs, so that it ends whatever stands in it. */
const MOST_TURNS = 8;
const known = new Map<string, string | undefined>();

/** The small Latin letter that a letter of another script looks like, itself or its capital; undefined when it looks like none. */
function latinOf(letter: string): string | undefined {
  if (known.has(letter)) return known.get(letter);
  const found = [letter, letter.toUpperCase()]
    .map((each) => rectifyConfusion(each).toLowerCase())
    .find((each) => /^[a-z]$/.test(each));
  known.set(letter, found);
  return found;
}

/**
 * Words as they look: a word whose every letter is a Latin one, or looks like one (Unicode TR39 §4, its table of confusable characters),
 * is written in Latin letters. A word with a letter that looks like none is of another script, and stays. ASCII is left as it is: that an
 * l looks like a 1 is no reason to read it so.
 */
export function asItLooks(text: string): string {
  if (/^[\x20-\x7e\n]*$/.test(text)) return text;
  return text.replace(/[\p{L}\p{M}]+/gu, (word) => {
    if (/^[a-z]*$/i.test(word)) return word;
    let seen = '';
    for (const letter of word) {
      const latin = /[a-z]/i.test(letter) && letter.length === 1 ? letter : latinOf(letter);
      if (latin === undefined) return word;
      seen += latin;
    }
    return seen;
  });
}

/**
 * The skeleton of a name (Unicode TR39 §4, by its table of confusable characters): names whose skeletons are the same cannot be told
 * apart by looking. Characters that are not seen, and how many spaces stand in a row, make no difference either.
 */
export function skeletonOf(name: string): string {
  const bare = name
    .normalize('NFD')
    .replace(/[\p{Cf}\p{Default_Ignorable_Code_Point}]/gu, '')
    .replace(/\s+/g, ' ')
    .trim();
  // what a character looks like may come apart into characters that look like others (Ǆ is D, Z and a caron, which looks like a breve)
  let skeleton = bare;
  for (let times = 0; times < MOST_TURNS; times += 1) {
    const next = rectifyConfusion(skeleton).normalize('NFD');
    if (next === skeleton) break;
    skeleton = next;
  }
  return skeleton;
}

/** The first of the names there that cannot be told from a new one by looking; the very same name is no look-alike. */
export function looksLike(name: string, others: readonly string[]): string | undefined {
  const skeleton = skeletonOf(name);
  return others.find((other) => other !== name && skeletonOf(other) === skeleton);
}

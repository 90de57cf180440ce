import { fold } from '../../text/fold';

/** Longest heading that is looked at. */
const LONGEST = 100;

/**
 * A heading as words to be compared: folded, without what is only layout (colons, marks, underscores, brackets), with its
 * camel humps apart, apostrophes alike, and without the answers it offers ("yes/no", "O/N").
 */
export function headingWords(heading: string): string {
  const humps = heading.slice(0, LONGEST).replace(/([a-z])([A-Z])/g, '$1 $2');
  return fold(humps)
    .replace(/[’‘`]/g, "'")
    .replace(/\b(yes|y|oui|o|si|s|true|1) ?[/|] ?(no|n|non|false|0)\b/g, ' ')
    .replace(/[^a-z0-9'+&]/g, ' ')
    .replace(/ +/g, ' ')
    .trim();
}

/** True when the words stand in the heading as whole words, one after the other. */
export function hasWords(heading: string, words: string): boolean {
  return ` ${heading} `.includes(` ${words} `);
}

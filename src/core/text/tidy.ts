/** Control characters, and marks that turn the direction of what follows or cannot be seen; joiners (U+200C, U+200D) are letters' own. */
const UNSEEN = /[\u0000-\u001f\u007f-\u009f\u00ad\u061c\u200b\u200e\u200f\u2028-\u202e\u2060-\u2069\ufeff]/g;

/** One line of words, as a name, a tag or a heading is kept: nothing unseen, runs of white space to one space, no half characters. */
export function oneLine(text: string): string {
  return text.replace(UNSEEN, ' ').toWellFormed().replace(/\s+/g, ' ').trim();
}

/** True for text that no database keeps: a NUL, or half of a surrogate pair. */
export function isBroken(text: string): boolean {
  return text.includes('\0') || !text.isWellFormed();
}

/** Where a value of JSON holds text that no database keeps, as `fields.note`; undefined when nowhere. */
export function brokenPlace(value: unknown, at = ''): string | undefined {
  if (typeof value === 'string') return isBroken(value) ? at || 'body' : undefined;
  if (typeof value !== 'object' || value === null) return undefined;
  for (const [key, each] of Object.entries(value)) {
    const place = at === '' ? key : `${at}.${key}`;
    if (isBroken(key)) return place.replaceAll('\0', '').toWellFormed();
    const found = brokenPlace(each, place);
    if (found !== undefined) return found;
  }
  return undefined;
}

/** Marks that turn the direction of what follows: at home where letters run from right to left, and nothing anywhere else. */
const TURNING = /[\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069]/g;
const RIGHT_TO_LEFT = /[\p{Script=Arabic}\p{Script=Hebrew}\p{Script=Syriac}\p{Script=Thaana}\p{Script=Nko}]/u;
/** Scripts whose letters are joined or kept apart by marks that cannot be seen themselves (Unicode Standard 23.2, cursive joining). */
const JOINED =
  /[\p{Script=Arabic}\p{Script=Syriac}\p{Script=Devanagari}\p{Script=Bengali}\p{Script=Gurmukhi}\p{Script=Gujarati}\p{Script=Oriya}\p{Script=Tamil}\p{Script=Telugu}\p{Script=Kannada}\p{Script=Malayalam}\p{Script=Sinhala}\p{Script=Myanmar}\p{Script=Khmer}\p{Script=Mongolian}]/u;
const PICTURE = /[\p{Extended_Pictographic}\p{Emoji_Modifier}\ufe0f\u20e3]/u;
/** Nothing at all to the eye: controls, soft hyphens, spaces without width, byte order marks, joiners, and signs of style. */
const NOTHING = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f-\u009f\u00ad\u200b-\u200d\u2060-\u2064\ufeff\ufe00-\ufe0f]/g;
/** A space like any other to the eye. */
const SPACES = /[\t\u00a0\u1680\u2000-\u200a\u202f\u205f\u3000]/g;

/**
 * Words without what cannot be seen: marks of no width go, odd spaces become plain ones. What joins letters of scripts that need it, or
 * the pieces of a picture, stays.
 *
 * @returns the words, and how many characters were changed or went
 */
export function withoutUnseen(text: string): { words: string; changed: number } {
  let changed = 0;
  const count = (instead: string) => () => {
    changed += 1;
    return instead;
  };
  let words = text.replace(/\r\n?|[\u2028\u2029]/g, '\n').replace(SPACES, count(' '));
  // what goes may have been what the next one belonged to
  for (let before = -1; before !== changed;) {
    before = changed;
    words = words.replace(NOTHING, (mark, at: number, all: string) => (belongs(mark, at, all) ? mark : count('')()));
  }
  if (!RIGHT_TO_LEFT.test(words)) words = words.replace(TURNING, count(''));
  return { words, changed };
}

/** Whether a mark without width is part of what stands around it. */
function belongs(mark: string, at: number, all: string): boolean {
  const before = at > 0 ? String.fromCodePoint(all.codePointAt(startOf(all, at)) ?? 0) : '';
  const after = at + 1 < all.length ? String.fromCodePoint(all.codePointAt(at + 1) ?? 0) : '';
  if ((mark === '\u200d' || mark === '\u200c') && JOINED.test(before)) return true;
  if (mark === '\u200d') return PICTURE.test(before) && PICTURE.test(after);
  // what is shown as a picture, and a digit in its key
  return mark === '\ufe0f' && (PICTURE.test(before) || (/[0-9#*]/.test(before) && after === '\u20e3'));
}

/** Where the code point before a position begins. */
const startOf = (text: string, at: number): number => (at > 1 && /[\udc00-\udfff]/.test(text[at - 1]) ? at - 2 : at - 1);

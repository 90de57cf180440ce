/** What numbers stand apart by where many are typed or pasted: line ends, commas, semicolons, tabs, bars, and a slash with room around it. */
const APART = /[\n\r,;\t|\u2028\u2029]+|\s\/\s/;

/** The longest that anybody writes one number, with what belongs to it: `+1 (207) 555-0142 ext. 1234`. */
const LONGEST = 40;

/** The pieces of a text in which numbers are typed, pasted or brought in, in their order; each may be a number. */
export function numberPieces(text: string): string[] {
  return text
    .split(APART)
    .map((piece) => piece.trim())
    .filter((piece) => piece !== '');
}

/** Digits enough for a number, and hardly anything else: a letter that was typed for a digit, "ext." */
function likeNumber(piece: string): boolean {
  const digits = (piece.match(/\p{Nd}/gu) ?? []).length;
  const letters = (piece.match(/\p{L}/gu) ?? []).length;
  return piece.length <= LONGEST && digits >= 6 && digits + letters >= 7 && letters <= 3;
}

/** Of so many pieces one may be no number at all, and it is a list nevertheless. */
const ONE_IN = 10;

/**
 * The pieces of a text that is nothing but numbers, one a line or many on one; undefined where it is a table. A heading in a line of its
 * own is left out. What is no number stays in it, to be seen.
 */
export function numberList(text: string): string[] | undefined {
  const pieces = numberPieces(text);
  const [first = ''] = text.trimStart().split(/[\n\r]/, 1);
  const heading = pieces.length > 1 && numberPieces(first).length === 1 && !/\p{Nd}/u.test(first);
  const list = heading ? pieces.slice(1) : pieces;
  const others = list.filter((piece) => !likeNumber(piece)).length;
  return list.length > 0 && others * ONE_IN <= list.length ? list : undefined;
}

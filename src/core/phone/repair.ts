/**
 * What spreadsheets do to phone cells, and what can be undone without guessing.
 * A safe repair loses nothing and has one possible answer; digits that a file has truly lost are never invented.
 */
export type Repair =
  /** `1.2075550117E+10`, every digit still there. */
  | { kind: 'scientific'; value: string; safe: true }
  /** `12075550117.0`. */
  | { kind: 'trailing_zero'; value: string; safe: true }
  /** `2O7-555-O142`: letters that look like digits. */
  | { kind: 'letters'; value: string; safe: false }
  /** `218 555 0131 / 218 555 0156`, or `218 555 0131/2`: more than one number; the others are returned too. */
  | { kind: 'two_numbers'; value: string; others: string[]; safe: false }
  /** `207-555-0142 ext. 5`: a text cannot reach an extension; the number before it may be a switchboard. */
  | { kind: 'extension'; value: string; safe: false }
  /** `0171 1234567 (2)`, `0171 1234567²`: a mark that belongs to a note, not to the number. */
  | { kind: 'footnote'; value: string; safe: false };

export type Damage = Repair | { kind: 'digits_lost' } | { kind: 'date' };

/** Every kind of fix, with those that are seen only once a number does not read: a plus or a zero that was lost. */
export type FixKind = Damage['kind'] | 'lost_plus' | 'lost_zero';

export const REPAIR_WORDS: Record<FixKind, string> = {
  scientific: 'Shown as 1.2E+10',
  trailing_zero: '“.0” at the end',
  letters: 'Letters for digits',
  two_numbers: 'Two numbers in a cell',
  extension: 'With an extension',
  footnote: 'With the mark of a note',
  lost_plus: 'The plus is gone',
  lost_zero: 'The leading zero is gone',
  digits_lost: 'digits lost for good',
  date: 'turned into a date',
};

/** A number of more characters is none; a cell of several, with their labels, has at most so many. */
export const LONGEST_NUMBER = 64;
export const LONGEST_PHONE_CELL = 240;

const SCIENTIFIC = /^\+?(\d+)(?:[.,](\d+))? ?[eE] ?\+? ?(\d{1,2})$/;
const digitsOf = (text: string) => text.replace(/\D/g, '');

/**
 * The damage seen in a phone cell, or undefined for a cell that looks whole. Time is linear in the cell: it is cut to what a
 * cell of numbers can be before any expression looks at it, and runs of blanks are one blank.
 */
export function findDamage(raw: string): Damage | undefined {
  if (raw.length > LONGEST_PHONE_CELL) return undefined;
  // one number a line is several, too
  const lines = raw.split(/[\r\n]/).filter((line) => digitsOf(line).length >= 7);
  if (lines.length > 1) return several(lines.join(' | '));
  const text = raw.replace(/[\s\u00a0]+/g, ' ').trim();
  // most cells are digits and separators only: nothing below can apply to them but a date or a note's number at the end
  if (/^\+?[\d ()-]+$/.test(text)) return isDate(text) ? { kind: 'date' } : (footnote(text) ?? several(text));
  const scientific = SCIENTIFIC.exec(text);
  if (scientific) return fromScientific(scientific);
  const decimal = /^\+?(\d+)[.,](\d+)$/.exec(text);
  if (decimal) {
    const [, whole, fraction] = decimal;
    if (/^0+$/.test(fraction) && whole.length >= 7 && whole.length <= 15)
      return { kind: 'trailing_zero', value: text.slice(0, text.length - fraction.length - 1), safe: true };
    // 1207555014.2 is a number that was divided, not one with a dot in it: which digits it had nobody can tell
    // but two numbers side by side are two
    const two = text.includes(',') && whole.length >= 7 && fraction.length >= 7;
    if (!two && (whole.length >= 7 || (fraction.length <= 2 && whole.length > 4))) return { kind: 'digits_lost' };
  }
  if (isDate(text)) return { kind: 'date' };
  return footnote(text) ?? extension(text) ?? several(text) ?? letters(text);
}

function fromScientific([, whole, fraction = '', exponent]: RegExpExecArray): Damage {
  const shift = Number(exponent);
  const digits = whole + fraction;
  // the exponent says how many digits there were; if fewer are written, the rest is gone
  if (whole.length !== 1 || digits.length < shift + 1 || shift > 15) return { kind: 'digits_lost' };
  if (/[^0]/.test(digits.slice(shift + 1))) return { kind: 'digits_lost' };
  return { kind: 'scientific', value: digits.slice(0, shift + 1), safe: true };
}

/** `(2)` or a raised number behind a number that has enough digits without it. */
function footnote(text: string): Damage | undefined {
  const mark = /^(.*[^ (]) ?(?:\(\d{1,2}\)|[\u00b9\u00b2\u00b3\u2070\u2074-\u2079]{1,2}|\*{1,3}|\[\d{1,2}\])$/.exec(text);
  if (!mark || digitsOf(mark[1]).length < 7) return undefined;
  return { kind: 'footnote', value: mark[1].trim(), safe: false };
}

function extension(text: string): Damage | undefined {
  const found = /^(.*\d)[ ,;]{0,2}(?:extension|ext\.?=?|x|#|poste|int\.?)[ .]{0,2}\d{1,6}$/i.exec(text);
  if (!found || digitsOf(found[1]).length < 7) return undefined;
  return { kind: 'extension', value: found[1].replace(/[ ;,]+$/, ''), safe: false };
}

function several(text: string): Damage | undefined {
  const all = text.split(/[/;|,&]| (?=\+)|\b(?:or|and|ou|et|o|y)\b/i).map((piece) => withoutLabel(piece.trim()));
  const pieces = all.filter((piece) => digitsOf(piece).length >= 7 && piece.length <= LONGEST_NUMBER);
  if (pieces.length > 1) return { kind: 'two_numbers', value: pieces[0], others: pieces.slice(1), safe: false };
  // 0664 1234567/8: the other one ends differently
  const ending = /^(.*\d) ?\/ ?(\d{1,4})$/.exec(text);
  if (ending && digitsOf(ending[1]).length >= 7) {
    const [, first, last] = ending;
    return { kind: 'two_numbers', value: first, others: [first.slice(0, -last.length) + last], safe: false };
  }
  return undefined;
}

/** `Mobile: 207…` → `207…` */
const withoutLabel = (piece: string) => piece.replace(/^[a-z]+ ?:? ?(?=[+(\d])/i, '');

function letters(text: string): Damage | undefined {
  if (text.length > LONGEST_NUMBER || !/[OoIlSB]/.test(text) || !/\d/.test(text)) return undefined;
  const value = text.replace(/[Oo]/g, '0').replace(/[Il]/g, '1').replace(/S/g, '5').replace(/B/g, '8');
  return /^[\d ()+.-]+$/.test(value) ? { kind: 'letters', value, safe: false } : undefined;
}

function isDate(text: string): boolean {
  if (/^\d{4}-\d{2}-\d{2}( \d{2}:\d{2}(:\d{2}(\.\d{1,9})?)?)?$/.test(text)) return true;
  const parts = /^(\d{1,2})([-/.])(\d{1,2})\2(\d{2}|\d{4})$/.exec(text);
  if (!parts) return false;
  const [a, b] = [Number(parts[1]), Number(parts[3])];
  return a >= 1 && b >= 1 && ((a <= 31 && b <= 12) || (a <= 12 && b <= 31));
}

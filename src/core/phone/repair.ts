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
  /** `218 555 0131 / 218 555 0156`: more than one number; the others are returned too. */
  | { kind: 'two_numbers'; value: string; others: string[]; safe: false }
  /** `207-555-0142 ext. 5`: a text cannot reach an extension; the number before it may be a switchboard. */
  | { kind: 'extension'; value: string; safe: false };

export type Damage = Repair | { kind: 'digits_lost' } | { kind: 'date' };

/** Every kind of fix, with those that are seen only once a number does not read: a plus or a zero that was lost. */
export type FixKind = Damage['kind'] | 'lost_plus' | 'lost_zero';

export const REPAIR_WORDS: Record<FixKind, string> = {
  scientific: 'Shown as 1.2E+10',
  trailing_zero: '“.0” at the end',
  letters: 'Letters for digits',
  two_numbers: 'Two numbers in a cell',
  extension: 'With an extension',
  lost_plus: 'The plus is gone',
  lost_zero: 'The leading zero is gone',
  digits_lost: 'digits lost for good',
  date: 'turned into a date',
};

const SCIENTIFIC = /^\s*\+?(\d+)(?:[.,](\d+))?\s*[eE]\s*\+?\s*(\d{1,2})\s*$/;

/** The damage seen in a phone cell, or undefined for a cell that looks whole. */
export function findDamage(raw: string): Damage | undefined {
  const text = raw.trim();
  // most cells are digits and separators only: nothing below can apply to them but a trailing ".0" or a date
  if (/^\+?[\d\s()-]+$/.test(text)) return isDate(text) ? { kind: 'date' } : undefined;
  const scientific = SCIENTIFIC.exec(text);
  if (scientific) {
    const [, whole, fraction = '', exponent] = scientific;
    const shift = Number(exponent);
    const digits = whole + fraction;
    // the exponent says how many digits there were; if fewer are written, the rest is gone
    if (whole.length !== 1 || digits.length < shift + 1 || shift > 15) return { kind: 'digits_lost' };
    if (/[^0]/.test(digits.slice(shift + 1))) return { kind: 'digits_lost' };
    return { kind: 'scientific', value: digits.slice(0, shift + 1), safe: true };
  }
  const zero = /^(\+?\d{7,15})[.,]0+$/.exec(text);
  if (zero) return { kind: 'trailing_zero', value: zero[1], safe: true };
  if (isDate(text)) return { kind: 'date' };
  const extension = /^(.*\d)\s*(?:ext\.?|x|extension|#|;ext=)\s*\d{1,6}$/i.exec(text);
  if (extension && extension[1].replace(/\D/g, '').length >= 7)
    return { kind: 'extension', value: extension[1].trim(), safe: false };
  const pieces = text
    .split(/\s*(?:[/;|,&\n]|\bor\b|\band\b|\bou\b|\by\b)\s*/i)
    .map((piece) => piece.replace(/^[a-z]+\s*:?\s*(?=[+(\d])/i, '').trim())
    .filter((piece) => piece.replace(/\D/g, '').length >= 7);
  if (pieces.length > 1) return { kind: 'two_numbers', value: pieces[0], others: pieces.slice(1), safe: false };
  if (/[OoIlSB]/.test(text) && /\d/.test(text)) {
    const value = text.replace(/[Oo]/g, '0').replace(/[Il]/g, '1').replace(/S/g, '5').replace(/B/g, '8');
    if (/^[\d\s()+.-]+$/.test(value)) return { kind: 'letters', value, safe: false };
  }
  return undefined;
}

function isDate(text: string): boolean {
  return /^\d{1,2}[/.]\d{1,2}[/.](\d{2}|\d{4})$/.test(text) || /^\d{4}-\d{2}-\d{2}( \d{2}:\d{2}(:\d{2}(\.\d+)?)?)?$/.test(text);
}

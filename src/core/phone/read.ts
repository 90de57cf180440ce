import {
  parsePhoneNumberFromString,
  getCountryCallingCode,
  isSupportedCountry,
  type CountryCode,
  type NumberType,
} from 'libphonenumber-js/max';
import { LONGEST_NUMBER } from './repair';

/** What the numbering plan tells about the kind of line. In North America mobile and fixed share their numbers: `either`. */
export type LineKind = 'mobile' | 'fixed' | 'either' | 'other';

export type PhoneRead = { ok: true; number: string; country: string; kind: LineKind } | { ok: false; problem: PhoneProblem };

/** Why a value is no number to text. */
export type PhoneProblem = 'empty' | 'not_a_number' | 'too_short' | 'too_long' | 'not_valid' | 'no_country';

export const PHONE_PROBLEM_WORDS: Record<PhoneProblem, string> = {
  empty: 'no number',
  not_a_number: 'not a phone number',
  too_short: 'too short for any country',
  too_long: 'too long for any country',
  not_valid: 'no such number range',
  no_country: 'no country code, and no country chosen',
};

const KINDS: Partial<Record<NonNullable<NumberType>, LineKind>> = {
  MOBILE: 'mobile',
  FIXED_LINE: 'fixed',
  FIXED_LINE_OR_MOBILE: 'either',
};

/** Bidi and zero-width marks, a spreadsheet's text apostrophe, compatibility forms (full-width digits). */
function cleaned(raw: string): string {
  const bare = raw
    .normalize('NFKC')
    .replace(/[\u200b-\u200f\u202a-\u202e\u2060-\u2069\ufeff\u00ad]/g, '')
    .trim();
  return bare.startsWith("'") ? bare.slice(1).trim() : bare;
}

/**
 * Reads one phone number in any of the three shapes: complete international (`+` or `00`), with its country code
 * given apart (`callingCode`, digits), or local to `country` (ISO 3166 two letters).
 * Out: E.164 (ITU-T E.164, at most 15 digits), country and kind of line.
 */
export function readPhone(raw: string, options: { country?: string; callingCode?: string } = {}): PhoneRead {
  // cut before anything looks at it: time does not grow with what a cell holds
  if (raw.length > LONGEST_NUMBER && raw.trim().length > LONGEST_NUMBER) return { ok: false, problem: 'not_a_number' };
  // a raised or circled number is the mark of a note; as a digit it would make another number
  if (/\p{No}/u.test(raw)) return { ok: false, problem: 'not_a_number' };
  const text = cleaned(raw);
  if (text === '') return { ok: false, problem: 'empty' };
  const code = options.callingCode?.replace(/\D/g, '').replace(/^00/, '') ?? '';
  if (code === '' && options.country !== undefined) {
    const quick = quickNorthAmerican(text, options.country);
    if (quick) return quick;
  }
  return readWithLibrary(text, code, options.country);
}

/** The library's road, for everything; the fast road is checked against it. */
export function readWithLibrary(text: string, callingCode: string, country: string | undefined): PhoneRead {
  if (!/\d/.test(text)) return { ok: false, problem: 'not_a_number' };
  let candidate = text.replace(/^00(?=\s*[1-9])/, '+');
  if (callingCode !== '' && !candidate.startsWith('+')) {
    // a local number beside its country code: the library drops the national prefix when told the country
    const withCode = parse(`+${callingCode}${candidate.replace(/\D/g, '')}`, undefined);
    if (withCode.ok) return withCode;
    candidate = `+${callingCode}${candidate.replace(/\D/g, '').replace(/^0+/, '')}`;
    return parse(candidate, undefined);
  }
  const local = country !== undefined && isSupportedCountry(country) ? country : undefined;
  if (!candidate.startsWith('+') && local === undefined) return { ok: false, problem: 'no_country' };
  const read = parse(candidate, local);
  // complete but without its plus: 12075550142 where the country is United States reads anyway; elsewhere try the plus
  if (!read.ok && !candidate.startsWith('+')) {
    const digits = candidate.replace(/\D/g, '');
    if (local !== undefined && digits.startsWith(getCountryCallingCode(local)) && digits.length > 9) {
      const complete = parse(`+${digits}`, undefined);
      if (complete.ok) return complete;
    }
  }
  return read;
}

function parse(text: string, country: CountryCode | undefined): PhoneRead {
  const parsed = parsePhoneNumberFromString(text, { defaultCountry: country, extract: false });
  if (!parsed) {
    const digits = text.replace(/\D/g, '').length;
    if (/\p{L}/u.test(text)) return { ok: false, problem: 'not_a_number' };
    return { ok: false, problem: digits < 7 ? 'too_short' : digits > 15 ? 'too_long' : 'not_valid' };
  }
  if (!parsed.isValid()) {
    const digits = parsed.nationalNumber.length;
    return { ok: false, problem: digits < 7 ? 'too_short' : parsed.number.length > 16 ? 'too_long' : 'not_valid' };
  }
  if (parsed.ext) return { ok: false, problem: 'not_a_number' };
  return {
    ok: true,
    number: parsed.number,
    country: parsed.country ?? country ?? '',
    kind: KINDS[parsed.getType() ?? 'UAN'] ?? 'other',
  };
}

const AREA = new Map<string, string>();
const NORTH_AMERICAN = new Set(['US', 'CA']);

/**
 * The common shapes of a North American number, `(207) 555-0142`, `207-555-0142`, `+1 207 555 0142`, `12075550142`:
 * the library decides once per area code and exchange, and the answer is remembered. Undefined for everything else.
 */
function quickNorthAmerican(text: string, country: string): PhoneRead | undefined {
  if (!NORTH_AMERICAN.has(country) || text.length > 20) return undefined;
  let digits = '';
  for (let i = 0; i < text.length; i += 1) {
    const unit = text.charCodeAt(i);
    if (unit >= 48 && unit <= 57) digits += text[i];
    else if (unit === 43) {
      if (i > 0) return undefined;
    } else if (unit !== 32 && unit !== 40 && unit !== 41 && unit !== 45 && unit !== 46) return undefined;
  }
  const plus = text.charCodeAt(0) === 43;
  if (digits.length === 11 && digits.charCodeAt(0) === 49) digits = digits.slice(1);
  else if (digits.length !== 10 || plus) return undefined;
  // shapes with odd brackets or separators are left to the library
  if (!/^(\+?1[-. ]?)?(\(\d{3}\) ?|\d{3}[-. ]?)\d{3}[-. ]?\d{4}$/.test(text)) return undefined;
  const prefix = digits.slice(0, 6);
  const key = `${country}${prefix}`;
  let known = AREA.get(key);
  if (known === undefined) {
    const read = parse(`+1${digits}`, undefined);
    // only plain either-kind ranges are the same for every number of the exchange
    known = read.ok && read.kind === 'either' ? read.country : '';
    AREA.set(key, known);
  }
  return known === '' ? undefined : { ok: true, number: `+1${digits}`, country: known, kind: 'either' };
}

/** For people: `+1 207 555 0142`. Falls back to the E.164 text. */
export function showPhone(number: string): string {
  // what stands for the number of someone who was erased leads to nobody
  if (number.startsWith('erased-')) return 'erased';
  const american = /^\+1(\d{3})(\d{3})(\d{4})$/.exec(number);
  if (american) return `+1 ${american[1]} ${american[2]} ${american[3]}`;
  return parsePhoneNumberFromString(number, { extract: false })?.formatInternational() ?? number;
}

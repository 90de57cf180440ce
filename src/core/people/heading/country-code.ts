import { getCountries, getCountryCallingCode } from 'libphonenumber-js/max';
import { fold } from '../../text/fold';

let names: Map<string, string> | undefined;

/** Country names in the offered languages, as the CLDR of this runtime has them, and the short forms people use. */
function countryNames(): Map<string, string> {
  if (names) return names;
  names = new Map();
  for (const language of ['en', 'fr', 'es']) {
    const display = new Intl.DisplayNames([language], { type: 'region' });
    for (const country of getCountries()) names.set(fold(display.of(country) ?? country), country);
  }
  const short: [string, string][] = [
    ['uk', 'GB'],
    ['great britain', 'GB'],
    ['england', 'GB'],
    ['scotland', 'GB'],
    ['wales', 'GB'],
    ['northern ireland', 'GB'],
    ['britain', 'GB'],
    ['usa', 'US'],
    ['u.s.', 'US'],
    ['u.s.a.', 'US'],
    ['america', 'US'],
    ['united states of america', 'US'],
    ['etats-unis d’amerique', 'US'],
    ['ee. uu.', 'US'],
    ['eeuu', 'US'],
    ['holland', 'NL'],
    ['czech republic', 'CZ'],
  ];
  for (const [name, country] of short) names.set(name, country);
  return names;
}

const codes = new Set<string>(getCountries().map((country) => getCountryCallingCode(country)));

/**
 * What a cell beside a number says of its country: `GB`, `UK`, `44`, `+44`, `0044`, `(+44)`, `United Kingdom` (English, French,
 * Spanish), `GB +44`. ISO 3166 letters, or a calling code of ITU-T E.164. Undefined when it cannot be read.
 */
export function countryOf(cell: string): { country: string } | { callingCode: string } | undefined {
  const text = fold(cell.slice(0, 80));
  const digits = /^\(?(?:\+|00)? ?\(?(\d{1,4})\)?(?:\.0)?$/.exec(text)?.[1]?.replace(/^0+/, '');
  if (digits !== undefined) {
    if (codes.has(digits)) return { callingCode: digits };
    // 1-787 and the like: an area of North America
    return /^1\d{3}$/.test(digits) ? { callingCode: '1' } : undefined;
  }
  const named = countryNames().get(text);
  if (named) return { country: named };
  const letters = /^([a-z]{2})$/.exec(text)?.[1]?.toUpperCase();
  if (letters && (getCountries() as readonly string[]).includes(letters)) return { country: letters };
  const both = /^([a-z .]+?) ?\(?\+(\d{1,4})\)?$/.exec(text);
  if (both && codes.has(both[2])) return { callingCode: both[2] };
  return undefined;
}

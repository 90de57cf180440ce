import { ESCAPE, basicOf, extensionOf } from './gsm7';

/**
 * National language shift tables, 3GPP TS 23.038 §6.2.1.2 and annex A: a header in the text says by which the phone wrote it. Those of
 * Turkish, Spanish and Portuguese; each is given by what differs from the default alphabet (locking) or its extension (single shift).
 * Written down from memory, and held against a second implementation's in `national.test.ts`.
 */
export type Language = 'turkish' | 'spanish' | 'portuguese';

/** Identifiers, TS 23.038 §6.2.1.2.4 (table of national language identifiers). */
const LANGUAGES: Readonly<Record<number, Language>> = { 1: 'turkish', 2: 'spanish', 3: 'portuguese' };

export function languageOf(identifier: number): Language | undefined {
  return LANGUAGES[identifier];
}

type Table = ReadonlyMap<number, string>;
const table = (entries: Record<number, string>): Table =>
  new Map(Object.entries(entries).map(([code, is]) => [Number(code), is]));

/** Annex A.2: codes after an escape. What is not in them is as in the extension of the default alphabet. */
const SINGLE: Readonly<Record<Language, Table>> = {
  turkish: table({ 0x47: 'Ğ', 0x49: 'İ', 0x53: 'Ş', 0x63: 'ç', 0x67: 'ğ', 0x69: 'ı', 0x73: 'ş' }),
  spanish: table({ 0x09: 'ç', 0x41: 'Á', 0x49: 'Í', 0x4f: 'Ó', 0x55: 'Ú', 0x61: 'á', 0x69: 'í', 0x6f: 'ó', 0x75: 'ú' }),
  portuguese: table({
    0x05: 'ê',
    0x09: 'ç',
    0x0b: 'Ô',
    0x0c: 'ô',
    0x0e: 'Á',
    0x0f: 'á',
    0x12: 'Φ',
    0x13: 'Γ',
    0x15: 'Ω',
    0x16: 'Π',
    0x17: 'Ψ',
    0x18: 'Σ',
    0x19: 'Θ',
    0x1f: 'Ê',
    0x41: 'À',
    0x49: 'Í',
    0x4f: 'Ó',
    0x55: 'Ú',
    0x5b: 'Ã',
    0x5c: 'Õ',
    0x61: 'Â',
    0x69: 'í',
    0x6f: 'ó',
    0x75: 'ú',
    0x7b: 'ã',
    0x7c: 'õ',
    0x7f: 'â',
  }),
};

/** Annex A.3: codes instead of the default alphabet's. Spanish has none of its own. */
const LOCKING: Readonly<Record<Language, Table>> = {
  turkish: table({ 0x04: '€', 0x07: 'ı', 0x0b: 'Ğ', 0x0c: 'ğ', 0x1c: 'Ş', 0x1d: 'ş', 0x40: 'İ', 0x60: 'ç' }),
  spanish: table({}),
  portuguese: table({
    0x04: 'ê',
    0x06: 'ú',
    0x07: 'í',
    0x08: 'ó',
    0x09: 'ç',
    0x0b: 'Ô',
    0x0c: 'ô',
    0x0e: 'Á',
    0x0f: 'á',
    0x12: 'ª',
    0x13: 'Ç',
    0x14: 'À',
    0x15: '∞',
    0x16: '^',
    0x17: '\\',
    0x18: '€',
    0x19: 'Ó',
    0x1a: '|',
    0x1c: 'Â',
    0x1d: 'â',
    0x1e: 'Ê',
    0x24: 'º',
    0x40: 'Í',
    0x5b: 'Ã',
    0x5c: 'Õ',
    0x5d: 'Ú',
    0x60: '~',
    0x7b: 'ã',
    0x7c: 'õ',
    0x7d: '`',
  }),
};

/** Unpacked septets to text by the tables that the header named; without any it is the default alphabet (TS 23.038 §6.2.1). */
export function decodeSeptets(octets: Uint8Array, shifts: { locking?: Language; single?: Language } = {}): string {
  const locking = shifts.locking && LOCKING[shifts.locking];
  const single = shifts.single && SINGLE[shifts.single];
  let text = '';
  for (let i = 0; i < octets.length; i += 1) {
    let code = octets[i] & 0x7f;
    if (code !== ESCAPE) {
      text += locking?.get(code) ?? basicOf(code);
      continue;
    }
    i += 1;
    // a lone escape at the end, or two of them, show a space (§6.2.1, note 1)
    if (i >= octets.length) return `${text} `;
    code = octets[i] & 0x7f;
    text += single?.get(code) ?? extensionOf(code) ?? (code === ESCAPE ? ' ' : (locking?.get(code) ?? basicOf(code)));
  }
  return text;
}

/** Text to unpacked septets by one language's tables; undefined where a character is in neither. For the practice carrier's phones. */
export function encodeSeptets(
  text: string,
  shifts: { locking?: Language; single?: Language },
  basic: (unit: string) => number[] | undefined,
): Uint8Array | undefined {
  const reverse = (from: Table | undefined) => new Map([...(from ?? [])].map(([code, is]) => [is, code]));
  const locking = reverse(shifts.locking && LOCKING[shifts.locking]);
  const single = reverse(shifts.single && SINGLE[shifts.single]);
  const taken = shifts.locking ? LOCKING[shifts.locking] : undefined;
  const octets: number[] = [];
  for (const unit of text) {
    const own = locking.get(unit);
    const after = single.get(unit);
    const plain = basic(unit);
    if (own !== undefined) octets.push(own);
    // a code of the default alphabet that the locking table uses for something else says something else
    else if (plain && !(plain.length === 1 && taken?.has(plain[0]))) octets.push(...plain);
    else if (after !== undefined) octets.push(ESCAPE, after);
    else return undefined;
  }
  return Uint8Array.from(octets);
}

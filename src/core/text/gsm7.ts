/** The GSM 7-bit default alphabet and its extension table, 3GPP TS 23.038 §6.2.1 and §6.2.1.1. */

/** Row by row of the published table; position = code. U+001B stands at the escape's place. */
const BASIC =
  '@£$¥èéùìòÇ\nØø\rÅå' +
  'Δ_ΦΓΛΩΠΨΣΘΞ\u001bÆæßÉ' +
  ' !"#¤%&\'()*+,-./' +
  '0123456789:;<=>?' +
  '¡ABCDEFGHIJKLMNO' +
  'PQRSTUVWXYZÄÖÑÜ§' +
  '¿abcdefghijklmno' +
  'pqrstuvwxyzäöñüà';

const EXTENSION: readonly (readonly [number, string])[] = [
  [0x0a, '\f'],
  [0x14, '^'],
  [0x28, '{'],
  [0x29, '}'],
  [0x2f, '\\'],
  [0x3c, '['],
  [0x3d, '~'],
  [0x3e, ']'],
  [0x40, '|'],
  [0x65, '€'],
];

export const ESCAPE = 0x1b;

/** Septets of one UTF-16 unit: 1, 2 (escape and code), or 0 when it is not in the alphabet. Indexed by the unit. */
export const SEPTETS = new Uint8Array(0x10000);
const CODES = new Uint8Array(0x10000);
const EXTENDED = new Map(EXTENSION.map(([code, character]) => [code, character]));

for (let code = 0; code < BASIC.length; code += 1) {
  if (code === ESCAPE) continue;
  SEPTETS[BASIC.charCodeAt(code)] = 1;
  CODES[BASIC.charCodeAt(code)] = code;
}
for (const [code, character] of EXTENSION) {
  SEPTETS[character.charCodeAt(0)] = 2;
  CODES[character.charCodeAt(0)] = code;
}

/**
 * One octet a septet, unpacked, as the wire to the carrier wants it (SMPP carries the default alphabet unpacked).
 * @throws RangeError for a character outside the alphabet: nothing is replaced silently
 */
export function encodeGsm7(text: string): Uint8Array {
  const octets: number[] = [];
  for (let i = 0; i < text.length; i += 1) {
    const unit = text.charCodeAt(i);
    const septets = SEPTETS[unit];
    if (septets === 0) throw new RangeError(`The character ${JSON.stringify(text[i])} at ${i} is not in the GSM 7-bit alphabet.`);
    if (septets === 2) octets.push(ESCAPE);
    octets.push(CODES[unit]);
  }
  return Uint8Array.from(octets);
}

/** The character of a code of the default alphabet; the escape's place is taken by U+001B. */
export const basicOf = (code: number): string => BASIC[code];
/** The character that stands after an escape, where the extension table has one. */
export const extensionOf = (code: number): string | undefined => EXTENDED.get(code);

/**
 * Unpacked septets to text. An escape before a code that is not in the extension table shows the basic character,
 * and a lone escape at the end a space (TS 23.038 §6.2.1, note 1, and §6.2.1.1).
 */
export function decodeGsm7(octets: Uint8Array): string {
  let text = '';
  for (let i = 0; i < octets.length; i += 1) {
    let code = octets[i] & 0x7f;
    if (code !== ESCAPE) {
      text += BASIC[code];
      continue;
    }
    i += 1;
    if (i >= octets.length) return `${text} `;
    code = octets[i] & 0x7f;
    text += EXTENDED.get(code) ?? (code === ESCAPE ? ' ' : BASIC[code]);
  }
  return text;
}

/** Septets packed into octets, TS 23.038 §6.1.2.1.1. */
export function packSeptets(septets: Uint8Array): Uint8Array {
  const packed = new Uint8Array(Math.ceil((septets.length * 7) / 8));
  for (let i = 0; i < septets.length; i += 1) {
    const bit = i * 7;
    const octet = bit >> 3;
    const shift = bit & 7;
    packed[octet] |= (septets[i] << shift) & 0xff;
    if (shift > 1) packed[octet + 1] |= septets[i] >> (8 - shift);
  }
  return packed;
}

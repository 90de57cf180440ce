import { atOnceCoding, type AtOnce } from './at-once';
import { decodeGsm7, encodeGsm7 } from './gsm7';
import { split, type Alphabet } from './measure';

/** A text part as it goes into an SMPP short_message. */
export interface AirPart {
  /** 0x40 when a user data header precedes the text (SMPP v3.4 §5.2.12). */
  esm_class: number;
  /** 0 = the default alphabet, unpacked; 8 = UCS-2 (SMPP v3.4 §5.2.19); others where it is shown at once. */
  data_coding: number;
  short_message: Uint8Array;
}

/** What a part says when read back. `join` is there when it is one of several. */
export interface ReadPart {
  text: string;
  alphabet: Alphabet;
  join?: { reference: number; total: number; index: number };
}

/**
 * All parts of a text, ready for the wire, with the 8-bit concatenation header where there are several
 * (TS 23.040 §9.2.3.24.1). `reference` is 0…255 and joins the parts on the phone; `atOnce`: phones show it at once.
 */
export function airParts(text: string, alphabet: Alphabet, reference: number, atOnce?: AtOnce): AirPart[] {
  const pieces = split(text);
  return pieces.map((piece, i) => {
    const body = alphabet === 'gsm7' ? encodeGsm7(piece) : encodeUcs2(piece);
    const data_coding = atOnce ? atOnceCoding(alphabet, atOnce) : alphabet === 'gsm7' ? 0 : 8;
    if (pieces.length === 1) return { esm_class: 0, data_coding, short_message: body };
    const header = Uint8Array.of(5, 0, 3, reference & 0xff, pieces.length, i + 1);
    return { esm_class: 0x40, data_coding, short_message: Uint8Array.from([...header, ...body]) };
  });
}

/** A part as a phone would read it. */
export function readPart(part: AirPart): ReadPart {
  const header = part.esm_class & 0x40 ? part.short_message.subarray(0, 1 + (part.short_message[0] ?? 0)) : new Uint8Array();
  const body = part.short_message.subarray(header.length);
  const alphabet: Alphabet = (part.data_coding & 0x0c) === 8 ? 'ucs2' : 'gsm7';
  const text = alphabet === 'ucs2' ? decodeUcs2(body) : decodeGsm7(body);
  // information elements: identifier, length, data
  for (let at = 1; at + 1 < header.length; at += 2 + header[at + 1]) {
    if (header[at] === 0 && header[at + 1] === 3 && at + 4 < header.length) {
      return { text, alphabet, join: { reference: header[at + 2], total: header[at + 3], index: header[at + 4] } };
    }
    // the same with a reference of 16 bits: TS 23.040 §9.2.3.24.8
    if (header[at] === 8 && header[at + 1] === 4 && at + 5 < header.length)
      return {
        text,
        alphabet,
        join: { reference: (header[at + 2] << 8) | header[at + 3], total: header[at + 4], index: header[at + 5] },
      };
  }
  return { text, alphabet };
}

/** 16-bit units, big-endian. */
export function encodeUcs2(text: string): Uint8Array {
  const octets = new Uint8Array(text.length * 2);
  for (let i = 0; i < text.length; i += 1) {
    octets[2 * i] = text.charCodeAt(i) >> 8;
    octets[2 * i + 1] = text.charCodeAt(i) & 0xff;
  }
  return octets;
}

export function decodeUcs2(octets: Uint8Array): string {
  let text = '';
  for (let i = 0; i + 1 < octets.length; i += 2) text += String.fromCharCode((octets[i] << 8) | octets[i + 1]);
  return text;
}

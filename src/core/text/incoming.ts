import { decodeUcs2 } from './air';
import { decodeSeptets, languageOf, type Language } from './national';

/** A text as the carrier hands it over (SMPP v3.4 §4.6.1), with the optional parameters that hold words or join parts. */
export interface Incoming {
  esm_class: number;
  data_coding: number;
  short_message: Uint8Array;
  /** §5.3.2.32: the words, where they do not stand in short_message. */
  message_payload?: Uint8Array;
  sar_msg_ref_num?: number;
  sar_total_segments?: number;
  sar_segment_seqnum?: number;
}

/** What data_coding 0 means at a carrier (§5.2.19: "SMSC default alphabet"). */
export type CarrierAlphabet = 'gsm7' | 'latin1' | 'ascii';

export interface Join {
  reference: number;
  total: number;
  index: number;
}

/** What was read; `octets` (hexadecimal) when it could not be, with why. */
export type ReadIncoming = { join?: Join } & ({ text: string } | { octets: string; why: string });

const hex = (octets: Uint8Array) => [...octets].map((octet) => octet.toString(16).padStart(2, '0')).join('');

/** IA5, ITU-T T.50 / ASCII: seven bits; what has the eighth is nobody's. */
function decodeAscii(octets: Uint8Array): string | undefined {
  let text = '';
  for (const octet of octets) {
    if (octet > 0x7f) return undefined;
    text += String.fromCharCode(octet);
  }
  return text;
}

/** ISO 8859-1: each octet is the code point; 0x80 to 0x9f, controls there, are read as Windows-1252, which is what writes them. */
const WINDOWS = '€\u0081‚ƒ„…†‡ˆ‰Š‹Œ\u008dŽ\u008f\u0090‘’“”•–—˜™š›œ\u009džŸ';
function decodeLatin1(octets: Uint8Array): string {
  let text = '';
  for (const octet of octets) text += octet >= 0x80 && octet <= 0x9f ? WINDOWS[octet - 0x80] : String.fromCharCode(octet);
  return text;
}

/** ISO 8859-5, Cyrillic (§5.2.19, value 6). */
function decodeCyrillic(octets: Uint8Array): string {
  let text = '';
  for (const octet of octets)
    text += String.fromCharCode(
      octet <= 0xa0 ? octet : octet === 0xad ? 0xad : octet === 0xf0 ? 0x2116 : octet === 0xfd ? 0xa7 : octet + 0x360,
    );
  return text;
}

/** ISO 8859-8, Hebrew (§5.2.19, value 7), in the order it was written. */
function decodeHebrew(octets: Uint8Array): string | undefined {
  let text = '';
  for (const octet of octets) {
    if (octet <= 0xbe && octet !== 0xa1) text += octet === 0xaa ? '×' : octet === 0xba ? '÷' : String.fromCharCode(octet);
    else if (octet === 0xdf) text += '‗';
    else if (octet >= 0xe0 && octet <= 0xfa) text += String.fromCharCode(octet + 0x4f0);
    else if (octet === 0xfd || octet === 0xfe) text += octet === 0xfd ? '\u200e' : '\u200f';
    else return undefined;
  }
  return text;
}

interface Header {
  join?: Join;
  locking?: Language;
  single?: Language;
  /** A language whose tables are not here, or a header that contradicts itself. */
  unknown?: string;
  length: number;
}

/**
 * The user data header, TS 23.040 §9.2.3.24: identifier, length, data. Of two elements of one kind the last counts; one that is cut
 * short, or longer than the text, is none. Undefined where the header is longer than what there is.
 */
function readHeader(octets: Uint8Array): Header | undefined {
  const length = 1 + (octets[0] ?? 0);
  if (octets.length === 0 || length > octets.length) return undefined;
  const header: Header = { length };
  for (let at = 1; at + 1 < length; at += 2 + octets[at + 1]) {
    const [what, size] = [octets[at], octets[at + 1]];
    if (at + 2 + size > length) break;
    const data = octets.subarray(at + 2, at + 2 + size);
    // .1 and .8: one of several, with a reference of 8 or of 16 bits; a part of none, or beyond the last, is no part
    if (what === 0x00 && size === 3) header.join = joinOf(data[0], data[1], data[2]);
    else if (what === 0x08 && size === 4) header.join = joinOf((data[0] << 8) | data[1], data[2], data[3]);
    else if ((what === 0x24 || what === 0x25) && size === 1) {
      const language = languageOf(data[0]);
      if (language === undefined) header.unknown = `it is written by a table of letters (${data[0]}) that is not known here`;
      else if (what === 0x24) header.single = language;
      else header.locking = language;
    }
  }
  return header;
}

/** §9.2.3.24.1: a total of none, a part of none or one beyond the total says nothing. */
function joinOf(reference: number, total: number, index: number): Join | undefined {
  return total >= 1 && index >= 1 && index <= total ? { reference, total, index } : undefined;
}

/**
 * How the octets are written, by data_coding (SMPP v3.4 §5.2.19; groups of TS 23.038 §4): 'default' is the carrier's alphabet, 'gsm7' the
 * default alphabet of phones, undefined what is not known.
 */
function codingOf(
  coding: number,
): 'default' | 'gsm7' | 'ascii' | 'latin1' | 'octets' | 'cyrillic' | 'hebrew' | 'ucs2' | undefined {
  // TS 23.038 §4, group 1111: bit 2 tells the default alphabet from 8-bit data
  if ((coding & 0xf0) === 0xf0) return coding & 0x04 ? 'octets' : 'gsm7';
  // group 00xx, general: bits 3 and 2 tell the alphabet; only with compression or a class (from 0x10) do they differ from SMPP's own
  if (coding >= 0x10 && coding < 0x20) return (['gsm7', 'octets', 'ucs2'] as const)[(coding >> 2) & 3];
  // groups 1100, 1101 (default alphabet) and 1110 (UCS-2): a message waits
  if ((coding & 0xe0) === 0xc0) return 'gsm7';
  if ((coding & 0xf0) === 0xe0) return 'ucs2';
  return ({ 0: 'default', 1: 'ascii', 2: 'octets', 3: 'latin1', 4: 'octets', 6: 'cyrillic', 7: 'hebrew', 8: 'ucs2' } as const)[
    coding as 0
  ];
}

/**
 * Reads what a phone sent. Nothing is left out and nothing replaced: what cannot be read comes as octets with the reason, so that it is
 * shown to a person and never taken for an empty text.
 *
 * @param alphabet what the carrier means by data_coding 0
 */
export function readIncoming(incoming: Incoming, alphabet: CarrierAlphabet = 'gsm7'): ReadIncoming {
  // §5.3.2.32: one of the two holds the words; where both do, the longer
  const { message_payload: payload } = incoming;
  const all = payload && payload.length >= incoming.short_message.length ? payload : incoming.short_message;
  const header: Header | undefined = incoming.esm_class & 0x40 ? readHeader(all) : { length: 0 };
  if (!header) return { octets: hex(all), why: 'its header is longer than the text' };
  const { sar_total_segments: total = 0, sar_segment_seqnum: index = 0 } = incoming;
  const join = header.join ?? joinOf(incoming.sar_msg_ref_num ?? 0, total, index);
  const joined = join && join.total > 1 ? { join } : {};
  const body = all.subarray(header.length);
  const unread = (why: string): ReadIncoming => ({ ...joined, octets: hex(all), why });
  if (header.unknown !== undefined) return unread(header.unknown);
  const coding = codingOf(incoming.data_coding);
  const text = read(body, coding === 'default' ? alphabet : coding, header);
  if (text === undefined) return unread(whyNot(incoming.data_coding, coding, body));
  return { ...joined, text };
}

function read(body: Uint8Array, coding: ReturnType<typeof codingOf>, shifts: Header): string | undefined {
  switch (coding) {
    case 'gsm7':
      return body.some((octet) => octet > 0x7f) ? undefined : decodeSeptets(body, shifts);
    case 'ascii':
      return decodeAscii(body);
    case 'latin1':
      return decodeLatin1(body);
    case 'cyrillic':
      return decodeCyrillic(body);
    case 'hebrew':
      return decodeHebrew(body);
    case 'ucs2':
      return body.length % 2 === 0 ? decodeUcs2(body) : undefined;
    default:
      return undefined;
  }
}

function whyNot(data_coding: number, coding: ReturnType<typeof codingOf>, body: Uint8Array): string {
  if (coding === undefined) return `it is written in a coding (${data_coding}) that is not known here`;
  if (coding === 'octets') return 'it is data, not words';
  if (coding === 'ucs2') return `it has ${body.length} octets, and its coding takes two for each sign`;
  return 'it has octets that its alphabet does not have';
}

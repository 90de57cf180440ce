/**
 * What a carrier takes of texts that phones show at once and need not keep (class 0, 3GPP TS 23.038 §4): any characters, as 0x10 and
 * 0x18; plain ones only, as 0x10 or as 0xF0 of the group that names a class and an alphabet; none at all.
 */
export type AtOnce = 'any' | 'plain' | 'plain_group' | 'none';

/** So many parts of such a text can be read: phones show one after the other, and each takes the place of the one before (common practice). */
export const MOST_AT_ONCE = 2;

/** data_coding of such a text (SMPP v3.4 §5.2.19; TS 23.038 §4): its class is 0 in either group. */
export function atOnceCoding(alphabet: 'gsm7' | 'ucs2', taken: AtOnce): number {
  // the group 1111 has no 16-bit alphabet
  if (alphabet === 'ucs2') return 0x18;
  return taken === 'plain_group' ? 0xf0 : 0x10;
}

/** Whether data_coding says that a text is shown at once. */
export const isAtOnce = (coding: number): boolean =>
  ((coding & 0xd0) === 0x10 || (coding & 0xf0) === 0xf0) && (coding & 0x03) === 0;

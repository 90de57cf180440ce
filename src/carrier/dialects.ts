import { airParts, encodeUcs2, type AirPart } from '../core/text/air';
import { encodeGsm7 } from '../core/text/gsm7';
import { measure } from '../core/text/measure';
import { encodeSeptets, type Language } from '../core/text/national';
import type { TlvValues } from '../smpp/commands';

/**
 * How a phone's texts come over a carrier's wire. Carriers and phones differ; the practice carrier speaks each of these on demand, one for
 * each number: SMPP v3.4 §5.2.19 (data_coding), §5.3.2.32 (message_payload), §5.3.2.22 to 24 (sar), TS 23.038 §4 and §6.2.1.2.
 */
export const DIALECTS = [
  /** As most do: the default alphabet, else UCS-2, with a header of 8 bits where there are several parts. */
  'usual',
  /** Latin-1 with its own data_coding, and Latin-1 as the carrier's own alphabet. */
  'latin1',
  'default latin1',
  'ascii',
  'ucs2',
  /** With a message class, group 1111. */
  'class',
  /** The words in message_payload, whole, however long. */
  'payload',
  /** Several parts joined by sar_* fields instead of a header. */
  'sar',
  /** A joining reference of 16 bits. */
  'long reference',
  'turkish',
  'spanish',
  'portuguese',
  /** Data: nothing that could be read. */
  'data',
] as const;
export type Dialect = (typeof DIALECTS)[number];

export type Spoken = AirPart & { tlvs?: TlvValues };

/** A text as it comes in a dialect; what the dialect cannot write comes as a phone writes it then, in UCS-2. */
export function spoken(text: string, dialect: Dialect, reference: number): Spoken[] {
  const usual = () => airParts(text, measure(text).alphabet, reference & 0xff);
  const whole = (data_coding: number, octets: Uint8Array | undefined): Spoken[] | undefined =>
    octets && octets.length <= 140 ? [{ esm_class: 0, data_coding, short_message: octets }] : undefined;
  switch (dialect) {
    case 'latin1':
      return whole(3, latin1(text)) ?? usual();
    case 'default latin1':
      return whole(0, latin1(text)) ?? usual();
    case 'ascii':
      return (/^[\0-\x7f]*$/.test(text) ? whole(1, latin1(text)) : undefined) ?? usual();
    case 'ucs2':
      return airParts(text, 'ucs2', reference & 0xff);
    case 'class':
      return usual().map((part) => ({ ...part, data_coding: part.data_coding === 8 ? 0x19 : 0xf1 }));
    case 'payload': {
      const { alphabet } = measure(text);
      const octets = alphabet === 'gsm7' ? encodeGsm7(text) : encodeUcs2(text);
      return [
        {
          esm_class: 0,
          data_coding: alphabet === 'gsm7' ? 0 : 8,
          short_message: new Uint8Array(),
          tlvs: { message_payload: octets },
        },
      ];
    }
    case 'sar':
      return headerless(usual(), (index, total) => ({
        sar_msg_ref_num: reference & 0xffff,
        sar_total_segments: total,
        sar_segment_seqnum: index,
      }));
    case 'long reference':
      return usual().map((part, i, all) =>
        all.length === 1
          ? part
          : {
              ...part,
              short_message: Uint8Array.from([
                6,
                8,
                4,
                (reference >> 8) & 0xff,
                reference & 0xff,
                all.length,
                i + 1,
                ...part.short_message.subarray(6),
              ]),
            },
      );
    case 'turkish':
    case 'spanish':
    case 'portuguese':
      return national(text, dialect) ?? usual();
    case 'data':
      return [{ esm_class: 0, data_coding: 4, short_message: latin1(text) ?? encodeUcs2(text) }];
    case 'usual':
      return usual();
  }
}

function latin1(text: string): Uint8Array | undefined {
  const codes = [...text].map((c) => c.codePointAt(0) ?? 0);
  return codes.every((code) => code < 0x80 || (code >= 0xa0 && code <= 0xff)) ? Uint8Array.from(codes) : undefined;
}

function headerless(parts: readonly AirPart[], tlvs: (index: number, total: number) => TlvValues): Spoken[] {
  return parts.length === 1
    ? [...parts]
    : parts.map((part, i) => ({
        ...part,
        esm_class: part.esm_class & ~0x40,
        short_message: part.short_message.subarray(6),
        tlvs: tlvs(i + 1, parts.length),
      }));
}

/** By the single shift table, where that is enough; else by both. One part only. */
function national(text: string, language: Language): Spoken[] | undefined {
  const identifier = { turkish: 1, spanish: 2, portuguese: 3 }[language];
  const basic = (unit: string) => {
    try {
      return [...encodeGsm7(unit)];
    } catch {
      return undefined;
    }
  };
  for (const elements of [[0x24], [0x24, 0x25]]) {
    const octets = encodeSeptets(text, { single: language, ...(elements.length > 1 && { locking: language }) }, basic);
    const header = elements.flatMap((element) => [element, 1, identifier]);
    if (octets && octets.length + header.length + 1 <= 140)
      return [{ esm_class: 0x40, data_coding: 0, short_message: Uint8Array.from([header.length, ...header, ...octets]) }];
  }
  return undefined;
}

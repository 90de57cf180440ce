import fc from 'fast-check';
import { createRequire } from 'node:module';
import { describe, expect, test } from 'vitest';
import { DIALECTS, spoken } from '../../carrier/dialects';
import { encodePdu } from '../../smpp/encode';
import { decodePdu, type Pdu } from '../../smpp/pdu';
import { encodeUcs2 } from './air';
import { encodeGsm7 } from './gsm7';
import { readIncoming, type CarrierAlphabet, type Incoming, type ReadIncoming } from './incoming';

/**
 * What phones and carriers really send, octet by octet, each with its clause; read by us and, as a deliver_sm on the wire, by the `smpp`
 * package of the registry (a second implementation). Where the two differ, the reason stands beside it.
 */
const smpp = createRequire(import.meta.url)('smpp') as {
  PDU: new (buffer: Buffer) => {
    short_message: { message?: unknown; udh?: Buffer[] } | Buffer;
    message_payload?: { message?: unknown };
  };
};

interface Capture {
  clause: string;
  says: string;
  octets: number[];
  coding?: number;
  esm?: number;
  alphabet?: CarrierAlphabet;
  tlvs?: Pick<Incoming, 'message_payload' | 'sar_msg_ref_num' | 'sar_total_segments' | 'sar_segment_seqnum'>;
  join?: [number, number, number];
  /** Why the second implementation reads it otherwise. */
  apart?: string;
}

const ascii = (text: string) => [...Buffer.from(text, 'latin1')];
const gsm = (text: string) => [...encodeGsm7(text)];
const ucs2 = (text: string) => [...encodeUcs2(text)];

const CODING = '§5.2.19';
const LOW = 'it looks at the four low bits of data_coding only, as if there were no groups';
const captures: Capture[] = [];
const WORDS = [
  'STOP',
  'stop',
  'Stop please',
  'HELP',
  'Is the 5:20 running?',
  'yes',
  'No, thanks.',
  '1',
  'Ahoy! 5 > 3 & 2 < 4',
  '',
];
for (const says of WORDS) {
  captures.push({ clause: `${CODING}, 0: the default alphabet, TS 23.038 §6.2.1`, says, octets: gsm(says) });
  captures.push({ clause: `${CODING}, 1: IA5`, says, octets: ascii(says), coding: 1 });
  captures.push({ clause: `${CODING}, 3: Latin-1`, says, octets: ascii(says), coding: 3 });
  captures.push({ clause: `${CODING}, 8: UCS-2`, says, octets: ucs2(says), coding: 8 });
}
// the very letters that were lost
for (const says of [
  'ARRÊT',
  'désabonner',
  'Arrêtez les textos',
  'à bientôt, Inès',
  'mañana ¿sí?',
  'ana_b@ottermere.example',
  'Größe: 5 µm',
]) {
  captures.push({ clause: `${CODING}, 3: Latin-1`, says, octets: ascii(says), coding: 3 });
  captures.push({ clause: `${CODING}, 8: UCS-2`, says, octets: ucs2(says), coding: 8 });
  captures.push({
    clause: `${CODING}, 0: where the carrier’s own alphabet is Latin-1`,
    says,
    octets: ascii(says),
    alphabet: 'latin1',
    apart: 'it takes the default alphabet of phones for every carrier',
  });
}
for (const says of ['@£$¥èéùìòÇ\nØø\rÅå', 'ΔΦΓΛΩΠΨΣΘΞ', 'ÆæßÉ ¤ ¡ ÄÖÑÜ§ ¿ äöñüà', '^{}\\[~]|€ 12', 'a_b@c', 'price €5 [net]'])
  captures.push({ clause: 'TS 23.038 §6.2.1 and §6.2.1.1', says, octets: gsm(says) });
for (const says of ['Привет', 'שלום', '停止', '🛑', '👍🏽 yes', 'Ça va 😀', 'naïve — “quoted” …', 'ＳＴＯＰ'])
  captures.push({ clause: `${CODING}, 8: UCS-2, surrogates as UTF-16`, says, octets: ucs2(says), coding: 8 });
captures.push(
  {
    clause: `${CODING}, 6: ISO 8859-5`,
    says: 'СТОП',
    octets: [0xc1, 0xc2, 0xbe, 0xbf],
    coding: 6,
    apart: 'it knows no ISO 8859-5',
  },
  {
    clause: `${CODING}, 6: ISO 8859-5`,
    says: 'Не надо',
    octets: [0xbd, 0xd5, 0x20, 0xdd, 0xd0, 0xd4, 0xde],
    coding: 6,
    apart: 'it knows no ISO 8859-5',
  },
  { clause: `${CODING}, 7: ISO 8859-8`, says: 'די', octets: [0xe3, 0xe9], coding: 7, apart: 'it knows no ISO 8859-8' },
  {
    clause: `${CODING}, 0: where the carrier’s own alphabet is ASCII`,
    says: 'STOP @ _ $',
    octets: ascii('STOP @ _ $'),
    alphabet: 'ascii',
    apart: 'it takes the default alphabet of phones for every carrier',
  },
);
for (const coding of [0xf0, 0xf1, 0xf2, 0xf3])
  captures.push({
    clause: 'TS 23.038 §4, group 1111: default alphabet with a class',
    says: 'STOP @',
    octets: gsm('STOP @'),
    coding,
    apart: (coding & 3) > 1 ? LOW : undefined,
  });
for (const coding of [0x10, 0x11, 0x12, 0x13])
  captures.push({
    clause: 'TS 23.038 §4, group 00x1: default alphabet with a class',
    says: 'é STOP',
    octets: gsm('é STOP'),
    coding,
    apart: (coding & 3) > 1 ? LOW : undefined,
  });
for (const coding of [0x18, 0x19, 0x1a])
  captures.push({
    clause: 'TS 23.038 §4, group 00x1: UCS-2 with a class',
    says: 'arrêt',
    octets: ucs2('arrêt'),
    coding,
    apart: coding === 0x18 ? undefined : LOW,
  });
for (const coding of [0xc8, 0xd8])
  captures.push({
    clause: 'TS 23.038 §4, groups 1100 and 1101: a message waits, default alphabet',
    says: 'stop',
    octets: gsm('stop'),
    coding,
    apart: LOW,
  });
captures.push({
  clause: 'TS 23.038 §4, group 1110: a message waits, UCS-2',
  says: 'stop',
  octets: ucs2('stop'),
  coding: 0xe8,
});
// joined
for (const [total, index] of [
  [2, 1],
  [2, 2],
  [3, 2],
  [255, 255],
] as const) {
  captures.push({
    clause: 'TS 23.040 §9.2.3.24.1: 8-bit reference',
    says: 'part',
    octets: [5, 0, 3, 0x2a, total, index, ...gsm('part')],
    esm: 0x40,
    join: [0x2a, total, index],
  });
  captures.push({
    clause: 'TS 23.040 §9.2.3.24.8: 16-bit reference',
    says: 'part',
    octets: [6, 8, 4, 0x12, 0x34, total, index, ...gsm('part')],
    esm: 0x40,
    join: [0x1234, total, index],
  });
  captures.push({
    clause: 'TS 23.040 §9.2.3.24.1, UCS-2',
    says: 'élan',
    octets: [5, 0, 3, 7, total, index, ...ucs2('élan')],
    esm: 0x40,
    coding: 8,
    join: [7, total, index],
  });
  captures.push({
    clause: '§5.3.2.22 to 24: sar',
    says: 'part',
    octets: gsm('part'),
    tlvs: { sar_msg_ref_num: 700, sar_total_segments: total, sar_segment_seqnum: index },
    join: [700, total, index],
  });
}
captures.push(
  {
    clause: 'TS 23.040 §9.2.3.24: two elements, in either order',
    says: 'x',
    octets: [9, 5, 2, 1, 1, 0, 3, 9, 2, 1, ...gsm('x')],
    esm: 0x40,
    join: [9, 2, 1],
  },
  {
    clause: 'TS 23.040 §9.2.3.24: an element that is not known is passed over',
    says: 'x',
    octets: [4, 0x70, 2, 1, 1, ...gsm('x')],
    esm: 0x40,
  },
  { clause: 'TS 23.040 §9.2.3.24.1: part 0 of 2 is no part', says: 'x', octets: [5, 0, 3, 1, 2, 0, ...gsm('x')], esm: 0x40 },
  { clause: 'TS 23.040 §9.2.3.24.1: part 3 of 2 is no part', says: 'x', octets: [5, 0, 3, 1, 2, 3, ...gsm('x')], esm: 0x40 },
  { clause: 'TS 23.040 §9.2.3.24.1: one of one is whole', says: 'x', octets: [5, 0, 3, 1, 1, 1, ...gsm('x')], esm: 0x40 },
  { clause: 'TS 23.040 §9.2.3.24: a header without elements', says: 'x', octets: [0, ...gsm('x')], esm: 0x40 },
);
// the words in message_payload
for (const says of ['STOP', 'words '.repeat(60).trim(), 'x'.repeat(800)])
  captures.push({
    clause: '§5.3.2.32: message_payload',
    says,
    octets: [],
    tlvs: { message_payload: Uint8Array.from(gsm(says)) },
  });
captures.push({
  clause: '§5.3.2.32: message_payload, UCS-2',
  says: 'arrêt '.repeat(40),
  octets: [],
  coding: 8,
  tlvs: { message_payload: Uint8Array.from(ucs2('arrêt '.repeat(40))) },
});

// written down from memory, and read alike by the second implementation, which has tables of its own: two sources that agree
captures.push(
  {
    clause: 'TS 23.038 A.2.1: Turkish single shift',
    says: 'İŞĞ çğış',
    octets: [3, 0x24, 1, 1, 0x1b, 0x49, 0x1b, 0x53, 0x1b, 0x47, 0x20, 0x1b, 0x63, 0x1b, 0x67, 0x1b, 0x69, 0x1b, 0x73],
    esm: 0x40,
  },
  {
    clause: 'TS 23.038 A.2.2: Spanish single shift',
    says: 'ÁÍÓÚ çáíóú €',
    octets: [
      3, 0x24, 1, 2, 0x1b, 0x41, 0x1b, 0x49, 0x1b, 0x4f, 0x1b, 0x55, 0x20, 0x1b, 0x09, 0x1b, 0x61, 0x1b, 0x69, 0x1b, 0x6f, 0x1b,
      0x75, 0x20, 0x1b, 0x65,
    ],
    esm: 0x40,
  },
  {
    clause: 'TS 23.038 A.2.3: Portuguese single shift',
    says: 'êÔôÁáÊÀÃÕÂãõâ',
    octets: [
      3, 0x24, 1, 3, 0x1b, 0x05, 0x1b, 0x0b, 0x1b, 0x0c, 0x1b, 0x0e, 0x1b, 0x0f, 0x1b, 0x1f, 0x1b, 0x41, 0x1b, 0x5b, 0x1b, 0x5c,
      0x1b, 0x61, 0x1b, 0x7b, 0x1b, 0x7c, 0x1b, 0x7f,
    ],
    esm: 0x40,
  },
  {
    clause: 'TS 23.038 A.3.1: Turkish locking shift',
    says: '€ıĞğŞşİç',
    octets: [3, 0x25, 1, 1, 0x04, 0x07, 0x0b, 0x0c, 0x1c, 0x1d, 0x40, 0x60],
    esm: 0x40,
  },
  {
    clause: 'TS 23.038 A.3.3: Portuguese locking shift',
    says: 'êúíóçÔôÁá ÇÀÓÂâÊÍÃÕÚãõ',
    octets: [
      3, 0x25, 1, 3, 0x04, 0x06, 0x07, 0x08, 0x09, 0x0b, 0x0c, 0x0e, 0x0f, 0x20, 0x13, 0x14, 0x19, 0x1c, 0x1d, 0x1e, 0x40, 0x5b,
      0x5c, 0x5d, 0x7b, 0x7c,
    ],
    esm: 0x40,
  },
  {
    clause: 'TS 23.038 §6.2.1.2: both shifts',
    says: 'Não, ação',
    octets: [6, 0x24, 1, 3, 0x25, 1, 3, ...ascii('N'), 0x7b, ...ascii('o, a'), 0x09, 0x7b, ...ascii('o')],
    esm: 0x40,
  },
);

const wire = ({ octets, coding = 0, esm = 0, tlvs }: Capture): Buffer =>
  encodePdu({
    command: 'deliver_sm',
    status: 0,
    sequence: 1,
    fields: {
      service_type: '',
      source_addr_ton: 1,
      source_addr_npi: 1,
      source_addr: '12075550142',
      dest_addr_ton: 0,
      dest_addr_npi: 1,
      destination_addr: '72345',
      esm_class: esm,
      protocol_id: 0,
      priority_flag: 0,
      schedule_delivery_time: '',
      validity_period: '',
      registered_delivery: 0,
      replace_if_present_flag: 0,
      data_coding: coding,
      sm_default_msg_id: 0,
      short_message: Uint8Array.from(octets),
    },
    tlvs,
  });

/** Through our own wire, as the gateway reads it. */
function ours(capture: Capture): ReadIncoming {
  const pdu: Pdu = decodePdu(wire(capture));
  if (pdu.command !== 'deliver_sm') throw new Error(pdu.command);
  return readIncoming({ ...pdu.fields, ...pdu.tlvs }, capture.alphabet);
}

function theirs(capture: Capture): unknown {
  const pdu = new smpp.PDU(wire(capture));
  const read = capture.tlvs?.message_payload ? pdu.message_payload : pdu.short_message;
  return (read as { message?: unknown }).message;
}

describe('captures', () => {
  test('are at least 120', () => expect(captures.length).toBeGreaterThanOrEqual(120));

  test.each(captures.map((capture, i) => [i, capture.clause, capture.says.slice(0, 40), capture] as const))(
    '%i %s: %j',
    (_i, _clause, _says, capture) => {
      const read = ours(capture);
      expect(read).toEqual({
        text: capture.says,
        ...(capture.join && { join: { reference: capture.join[0], total: capture.join[1], index: capture.join[2] } }),
      });
      // the second implementation reads the same, or it is said why not
      const other = theirs(capture);
      expect([capture.clause, other === capture.says]).toEqual([capture.clause, capture.apart === undefined]);
    },
  );

  test.each<[string, Partial<Incoming>, string]>([
    ['data, by data_coding', { data_coding: 4, short_message: Uint8Array.of(1, 2, 0xff) }, 'it is data, not words'],
    ['data, group 1111', { data_coding: 0xf4, short_message: Uint8Array.of(1, 2) }, 'it is data, not words'],
    [
      'a coding nobody knows',
      { data_coding: 0x85, short_message: Uint8Array.of(1) },
      'it is written in a coding (133) that is not known here',
    ],
    [
      'a header longer than the text',
      { esm_class: 0x40, short_message: Uint8Array.of(9, 0, 3) },
      'its header is longer than the text',
    ],
    [
      'an odd octet of UCS-2',
      { data_coding: 8, short_message: Uint8Array.of(0, 0x53, 0) },
      'it has 3 octets, and its coding takes two for each sign',
    ],
    ['an eighth bit in seven', { short_message: Uint8Array.of(0x53, 0xd4) }, 'it has octets that its alphabet does not have'],
    [
      'a table that is not here',
      { esm_class: 0x40, short_message: Uint8Array.of(3, 0x24, 1, 9, 0x53) },
      'it is written by a table of letters (9) that is not known here',
    ],
  ])('%s is kept as octets, with the reason', (_what, part, why) => {
    const read = readIncoming({ esm_class: 0, data_coding: 0, short_message: new Uint8Array(), ...part });
    expect(read).toMatchObject({
      octets: [...(part.short_message ?? [])].map((o) => o.toString(16).padStart(2, '0')).join(''),
      why,
    });
  });
});

const LETTERS = 'abz STOP Arrêt éèàç ñ ÁÍÓÚ Ğışğ ãõ 🛑 @_[]€';
describe('what the practice carrier says in a dialect is read as it was written', () => {
  test.each(DIALECTS.filter((dialect) => dialect !== 'data'))('%s (property)', (dialect) =>
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom(...LETTERS), { maxLength: 300 }).map((letters) => letters.join('')),
        fc.nat(65_535),
        (text, reference) => {
          const parts = spoken(text, dialect, reference).map(({ tlvs, ...part }) =>
            readIncoming(
              { ...part, ...tlvs },
              dialect === 'default latin1' && part.data_coding === 0 && part.esm_class === 0 ? 'latin1' : 'gsm7',
            ),
          );
          // Latin-1 as the carrier's own alphabet cannot be told from the default by a text that needs neither
          if (dialect === 'default latin1' && /[@_[\]€]/.test(text)) return;
          expect(parts.map((part) => ('text' in part ? part.text : part.octets)).join('')).toBe(text);
        },
      ),
      { numRuns: 200 },
    ),
  );
});

test('whatever octets come, in whatever coding: they are read or kept, in time, and never an empty text (property)', () =>
  fc.assert(
    fc.property(
      fc.uint8Array({ maxLength: 254 }),
      fc.nat(255),
      fc.nat(255),
      fc.constantFrom<CarrierAlphabet>('gsm7', 'latin1', 'ascii'),
      (octets, coding, esm, alphabet) => {
        const read = readIncoming({ esm_class: esm, data_coding: coding, short_message: octets }, alphabet);
        if ('text' in read) {
          // nothing but a header makes words disappear
          if (read.text === '') expect(octets.length === 0 || (esm & 0x40) !== 0).toBe(true);
        } else expect(read.octets).toHaveLength(octets.length * 2);
        if (read.join) expect(read.join.index).toBeLessThanOrEqual(read.join.total);
      },
    ),
    { numRuns: 20_000 },
  ));

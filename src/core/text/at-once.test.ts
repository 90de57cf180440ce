import { expect, test } from 'vitest';
import { airParts, readPart } from './air';
import { atOnceCoding, isAtOnce } from './at-once';

/** 3GPP TS 23.038 §4, table "SMS Data Coding Scheme": the groups that give a message class, and what their last two bits say. */
const CLASSES: [coding: number, classOf: number | undefined][] = [
  [0x00, undefined],
  [0x08, undefined],
  [0x03, undefined],
  [0x10, 0],
  [0x11, 1],
  [0x12, 2],
  [0x13, 3],
  [0x14, 0],
  [0x18, 0],
  [0x19, 1],
  [0x30, 0],
  [0x50, undefined],
  [0xc8, undefined],
  [0xd0, undefined],
  [0xe0, undefined],
  [0xf0, 0],
  [0xf1, 1],
  [0xf4, 0],
  [0xf7, 3],
];

test('a text is shown at once where its class is 0, in both groups that have classes', () => {
  for (const [coding, classOf] of CLASSES) expect([coding, isAtOnce(coding)]).toEqual([coding, classOf === 0]);
});

test('whatever a carrier takes, the coding says class 0, and the words read as they are', () => {
  for (const taken of ['any', 'plain', 'plain_group', 'none'] as const) {
    for (const [text, alphabet] of [
      ['Ice on the quay', 'gsm7'],
      ['Glace sur le quai – prudence', 'ucs2'],
      ['long '.repeat(50), 'gsm7'],
    ] as const) {
      const parts = airParts(text, alphabet, 7, taken);
      expect(parts.every(({ data_coding }) => isAtOnce(data_coding))).toBe(true);
      const read = parts.map(readPart);
      expect(read.map((part) => part.text).join('')).toBe(text);
      expect(read.every((part) => part.alphabet === alphabet)).toBe(true);
    }
  }
  expect([atOnceCoding('gsm7', 'any'), atOnceCoding('gsm7', 'plain_group'), atOnceCoding('ucs2', 'any')]).toEqual([
    0x10, 0xf0, 0x18,
  ]);
});

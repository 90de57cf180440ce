import fc from 'fast-check';
import { expect, test } from 'vitest';
import { measure } from '../../text/measure';
import { dummyCode, longestCode, readCodes } from './codes';
import { person, planFor } from '../testing';

test('a damaged file of codes: heading, blanks, repeated ones, other columns, quotes; each code once, in its order', () => {
  const file = 'Code\r\nFERRY-1, first\n\nFERRY-2;x\n"FERRY,3"\t9\n FERRY-1 \n' + 'x'.repeat(61) + '\n';
  expect(readCodes(file)).toEqual({
    codes: ['FERRY-1', 'FERRY-2', 'FERRY,3'],
    twice: 1,
    blank: 1,
    wrong: [{ line: 7, why: 'longer than 60 characters' }],
    heading: 'Code',
    more: false,
  });
  expect(readCodes('')).toMatchObject({ codes: [], blank: 1 });
});

test('whatever is read: no code twice, none blank, none with a line end', () => {
  fc.assert(
    fc.property(fc.string({ unit: fc.constantFrom('a', 'B', '1', '\n', '\r', ',', '"', ' ', '\t', 'é', '\u200b') }), (text) => {
      const { codes } = readCodes(text);
      expect(new Set(codes).size).toBe(codes.length);
      for (const code of codes) expect(code).toMatch(/^[^\s\u200b](.*[^\s\u200b])?$/);
    }),
  );
});

test('what stands for a code measures as it does', () => {
  fc.assert(
    fc.property(fc.stringMatching(/^[A-Za-z0-9€êÇ-]{1,20}$/), (code) => {
      const { alphabet, units } = measure(dummyCode(code));
      expect({ alphabet, units }).toEqual({ alphabet: measure(code).alphabet, units: measure(code).units });
    }),
  );
  expect(dummyCode('Ferry-42')).toBe('Xxxxx-00');
  expect(longestCode(['AB', 'ABCD', 'ABC'])).toBe('ABCD');
  // one that forces extended characters weighs more than any length
  expect(longestCode(['ABCDEFGH', 'ê'])).toBe('ê');
});

const crowd = [person(1), person(2), person(3)];
const codes = (part: object = {}) => ({ list: 4, name: 'Winter', free: 5, dummy: 'XXXX-00', reserved: [], ...part });

test('before codes are reserved every text has what stands for one, and the plan says that it is not exact', () => {
  const { summary, texts } = planFor({ words: 'Ottermere: {code}', opt_out: 'none', code_list_id: 4 }, crowd, { codes: codes() });
  expect(texts.write(0)).toBe('Ottermere: XXXX-00');
  expect(texts.code(0)).toBeNull();
  expect(summary.codes).toEqual({ name: 'Winter', free: 5, needed: 3, exact: false });
  expect(summary.must_fix).toEqual([]);
});

test('reserved ones go to one recipient each, in the order of going, also where the words are written again', () => {
  const reserved = ['A-1', 'B-22', 'C-333', 'D-4'];
  const { texts, summary } = planFor(
    {
      words: 'Ottermere {send_date}: {code}',
      opt_out: 'none',
      code_list_id: 4,
      when: { kind: 'at', date: '2026-12-02', time: '20:59' },
    },
    crowd,
    { codes: codes({ reserved }), sender: { parts_per_second: 0.01 } },
  );
  const given = Array.from({ length: texts.count }, (_, i) => texts.code(i));
  expect(given).toEqual(['A-1', 'B-22', 'C-333']);
  for (let i = 0; i < texts.count; i += 1) expect(texts.write(i)).toContain(`: ${given[i]}`);
  expect(summary.codes?.exact).toBe(true);
});

test('too few, none chosen and a list that is gone must be fixed', () => {
  const fix = (draft: object, more: object) =>
    planFor({ words: 'Ottermere {code}', ...draft }, crowd, more).summary.must_fix.map(({ message }) => message);
  expect(fix({ code_list_id: 4 }, { codes: codes({ free: 2 }) })).toEqual(['“Winter” has 2 codes left; 3 people would get one.']);
  expect(fix({}, {})).toEqual(['The text gives a code, but no list of codes is chosen.']);
});

import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { isMailAddress, mailByItself, tokenOf, withoutQuoted } from './mail';
import { isEcho, nextMark, passedText, passedWords, readMark, whichOne } from './mark';

describe('an answer by text', () => {
  test.each([
    ['#3 At 5:20, yes', 3, 'At 5:20, yes'],
    ['#3: yes', 3, 'yes'],
    [' # 12 yes', 12, 'yes'],
    ['#3', 3, ''],
    ['3 boats go', undefined, '3 boats go'],
    ['5:20 is late', undefined, '5:20 is late'],
    ['#333 yes', 333, 'yes'],
    ['#1234567 yes', undefined, '#1234567 yes'],
    ['yes #3', undefined, 'yes #3'],
  ])('%j answers %s', (text, mark, words) => expect(readMark(text)).toEqual({ mark, words }));

  test('marks come round, and one is never read out of the text that asks for it', () => {
    expect([nextMark([]), nextMark([1]), nextMark([2, 1, 4])]).toEqual([1, 2, 3]);
    // past 99 they get longer; none is given twice
    expect(nextMark(Array.from({ length: 99 }, (_, i) => i + 1))).toBe(100);
    expect(readMark('#100 your result is fine')).toEqual({ mark: 100, words: 'your result is fine' });
    expect(passedText('Mabel Greenhalgh', 'Is the 5:20 running?', 3)).toBe(
      'Mabel Greenhalgh: “Is the 5:20 running?” To answer them begin with #3',
    );
    expect(readMark(passedText('Mabel', 'x', 3)).mark).toBeUndefined();
    expect(whichOne([3, 4, 5, 6, 7, 8].map((mark) => ({ mark, who: `N${mark}` })))).toBe(
      'Not passed on: whom does it answer? Begin with #3 for N3, #4 for N4, #5 for N5, #6 for N6, #7 for N7 (1 more in Replies).',
    );
  });

  test('of very long words a text holds the beginning, and cuts no sign in two', () => {
    const long = '👩‍🚀'.repeat(900);
    expect([...passedWords(long)].length).toBeLessThanOrEqual(600);
    expect(passedWords(long).isWellFormed()).toBe(true);
  });

  test('what holds a text of ours is an echo; a word that a person repeats is none', () => {
    const ours = 'Mabel: “Is the 5:20 running?” To answer them begin with #3';
    expect(isEcho(`From +12075550100: “${ours}” To answer`, [ours])).toBe(true);
    expect(isEcho('Is the 5:20 running?', [ours])).toBe(false);
    expect(isEcho('yes', ['yes'])).toBe(false);
  });
});

describe('an answer by mail', () => {
  const token = 'a1B2c3D4e5F6';
  test('is known by the address, else by what it refers to, the latest first', () => {
    expect(tokenOf([`reply+${token}@bell.example`], [])).toBe(token);
    expect(tokenOf(['reply@bell.example'], ['<other@x>', `<passed.${token}@bell.example>`])).toBe(token);
    expect(tokenOf(['reply@bell.example'], [`<passed.${token}@bell.example>`, '<passed.Z1B2c3D4e5F6@bell.example>'])).toBe(
      'Z1B2c3D4e5F6',
    );
    expect(tokenOf(['reply+short@bell.example'], ['<passed.@x>'])).toBeUndefined();
  });

  test.each<[string, Record<string, string>, string | undefined]>([
    ['ana@ottermere.example', {}, undefined],
    ['ana@ottermere.example', { 'auto-submitted': 'no' }, undefined],
    ['ana@ottermere.example', { 'auto-submitted': 'auto-replied (vacation)' }, 'automatic'],
    ['ana@ottermere.example', { 'auto-submitted': 'auto-generated' }, 'automatic'],
    ['ana@ottermere.example', { precedence: 'Bulk' }, 'automatic'],
    ['ana@ottermere.example', { 'list-id': '<crew.ottermere.example>' }, 'automatic'],
    ['', {}, 'failed'],
    ['MAILER-DAEMON@mail.example', {}, 'failed'],
    ['ana@ottermere.example', { 'content-type': 'multipart/report; report-type=delivery-status' }, 'failed'],
  ])('from %j with %j: %s', (from, headers, kind) => expect(mailByItself(from, new Map(Object.entries(headers)))).toBe(kind));

  test.each([
    [
      'Yes, at 5:20.\n\nOn Wed, Dec 2, 2026 at 3:50 PM, Ottermere Ferry <reply@x.example> wrote:\n> Mabel: Is it?\n',
      'Yes, at 5:20.',
    ],
    ['Yes.\n\nOn Wed, Dec 2, 2026 at 3:50 PM, Ottermere Ferry and Boathouse\n<reply@x.example> wrote:\n\n> Is it?', 'Yes.'],
    ['Oui.\r\n\r\nLe mer. 2 déc. 2026 à 15:50, Ottermere a écrit :\r\n> Est-ce', 'Oui.'],
    ['Sí.\n\nEl mié, 2 dic 2026, Ottermere escribió:\n> ¿Sale?', 'Sí.'],
    ['Yes\n-- \nIdris\nPier office', 'Yes'],
    ['Yes\n\nSent from my phone', 'Yes'],
    ['Yes\n\n-----Original Message-----\nFrom: Ferry\nIs it?', 'Yes'],
    ['On Fridays the 5:20 does not run, wrote the harbor master.', 'On Fridays the 5:20 does not run, wrote the harbor master.'],
    ['On Wed, Ottermere wrote:\n> Is it running?\nYes.\n> And on Friday?\nNo.', 'Yes.\nNo.'],
    ['> Is it running?\nYes.', 'Yes.'],
    ['> only theirs\n> and more', ''],
  ])('%j says %j', (text, words) => expect(withoutQuoted(text)).toBe(words));

  test('nothing that was not written comes out of it, whatever it is', () =>
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.string(), fc.constantFrom('> x', '', 'On a b c wrote:', '-- ')), { maxLength: 20 }),
        (lines) => {
          const text = lines.join('\n');
          for (const line of withoutQuoted(text).split('\n')) expect(text.replace(/\r\n?/g, '\n')).toContain(line);
        },
      ),
    ));

  test.each(['ana@ottermere.example', "o'neil+x@mail.ottermere.example"])('%s is an address', (address) =>
    expect(isMailAddress(address)).toBe(true),
  );
  test.each([
    'ana',
    'ana@',
    'ana@ottermere',
    'ana@ottermere.example\r\nBcc: all@x.example',
    'ana@ottermere.example, ben@ottermere.example',
    'ana@ottermere.example ',
    'Ana <ana@ottermere.example>',
    `${'a'.repeat(65)}@ottermere.example`,
    '@ottermere.example',
    'a@-x.example',
    '',
  ])('%j is none', (address) => expect(isMailAddress(address)).toBe(false));
});

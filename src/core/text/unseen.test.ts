import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { measure } from './measure';
import { forcing, plain, plainFor, withoutPicture } from './plain-replacements';
import { withoutUnseen } from './unseen';

describe('what cannot be seen', () => {
  test.each([
    ['a\u200bb', 'ab', 1],
    ['soft\u00adhyphen', 'softhyphen', 1],
    ['\ufeffFerry', 'Ferry', 1],
    ['7\u202fh\u00a010', '7 h 10', 2],
    ['a\tb', 'a b', 1],
    ['turned \u202eback\u202c', 'turned back', 2],
    ['one\r\ntwo\u2028three', 'one\ntwo\nthree', 0],
    // joined letters and pictures are what they are by it
    ['می\u200cخواهم', 'می\u200cخواهم', 0],
    ['क्\u200dष', 'क्\u200dष', 0],
    ['👩\u200d🚀 ❤\ufe0f 1\ufe0f\u20e3 👍🏽', '👩\u200d🚀 ❤\ufe0f 1\ufe0f\u20e3 👍🏽', 0],
    ['a\u200d b\u200c \ufe0f', 'a b ', 3],
    ['\u200fשלום', '\u200fשלום', 0],
  ])('%j', (text, words, changed) => {
    expect(withoutUnseen(text)).toEqual({ words, changed });
  });

  test('done twice is done once, and it is never longer', () => {
    const unit = fc.oneof(
      fc.constantFrom('\u200b', '\u200d', '\u00a0', '\ufe0f', '👍', '1', 'ü', '\t'),
      fc.string({ unit: 'binary', maxLength: 1 }),
    );
    fc.assert(
      fc.property(fc.string({ unit }), (text) => {
        const { words } = withoutUnseen(text);
        expect(withoutUnseen(words)).toEqual({ words, changed: 0 });
        expect(words.length).toBeLessThanOrEqual(text.length);
      }),
    );
  });
});

describe('a picture', () => {
  test.each(['👩\u200d🚀', '❤\ufe0f', '🇨🇦', '👍🏽', '🚤'])('%s is one, and has no plain words', (picture) => {
    expect(forcing(`Off ${picture} today`)).toEqual([{ character: picture, at: [4], replacement: undefined, picture: true }]);
    expect(measure(withoutPicture(`Off ${picture} today`, picture)).alphabet).toBe('gsm7');
  });

  test('a digit in a key is that digit; signs of the trade are words', () => {
    expect(plainFor('1\ufe0f\u20e3')).toBe('1');
    expect(plain('Landing 1\ufe0f\u20e3 ™')).toBe('Landing 1 ');
    expect(forcing('№ ™').map(({ picture }) => picture)).toEqual([false, false]);
  });

  test.each([
    ['Off 🚤 today', 'Off today'],
    ['Off🚤today', 'Off today'],
    ['🚤 Off', ' Off'],
    ['Off 🚤.', 'Off.'],
    ['🚤🚤', ''],
  ])('%s without it', (text, without) => {
    expect(withoutPicture(text, '🚤')).toBe(without);
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { anotherName } from './another-name';

const named = (given_name: string, family_name = '') => ({ given_name, family_name });

describe('another name for the same number', () => {
  it('is somebody else where a word of the one is none of the other', () => {
    expect(anotherName(named('Bob', 'Baker'), named('Ann', 'Baker'))).toBe(true);
    expect(anotherName(named('Ann', 'Baker'), named('Ann', 'Brook'))).toBe(true);
    expect(anotherName(named('Ann'), named('Bob', 'Baker'))).toBe(true);
  });

  it('is the same in a shorter or a turned form, other letters, and where one has no name', () => {
    expect(anotherName(named('Ann'), named('Ann', 'Baker'))).toBe(false);
    expect(anotherName(named('Baker, Ann'), named('Ann', 'Baker'))).toBe(false);
    expect(anotherName(named('ÀNN', 'baker'), named('Ann', 'Baker'))).toBe(false);
    expect(anotherName(named(''), named('Ann', 'Baker'))).toBe(false);
  });

  it('says the same whichever of the two is asked about, and never of one and the same', () => {
    const name = fc.record({ given_name: fc.string(), family_name: fc.string() });
    fc.assert(
      fc.property(name, name, (a, b) => {
        expect(anotherName(a, b)).toBe(anotherName(b, a));
        expect(anotherName(a, a)).toBe(false);
      }),
    );
  });
});

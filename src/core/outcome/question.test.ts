import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { readChoice, readQuestion } from './question';

describe('the choices a text asks for', () => {
  test.each([
    ['Ottermere: will you race on Saturday? 1 yes, 2 no', ['yes', 'no']],
    ['Reply 1 yes, 2 no. Ottermere', ['yes', 'no']],
    ['Text 1 for coming or 2 for not coming', ['coming', 'not coming']],
    ['Please answer 1 = red; 2 = blue; 3 = no preference', ['red', 'blue', 'no preference']],
    ['Répondez 1 oui, 2 non', ['oui', 'non']],
    ['¿Viene el sábado? 1 sí, 2 no', ['sí', 'no']],
    ['Which class?\n1) Otters\n2) Pike', ['Otters', 'Pike']],
    ['{given_name or "neighbor"}: do you keep berth {berth}? Reply 1 yes, 2 no, 3 maybe', ['yes', 'no', 'maybe']],
  ])('%s', (words, choices) => expect(readQuestion(words)).toEqual(choices));
  test.each([
    ['The 7:10 AM Heron leaves from dock 1 today, dock 2 is closed.'],
    ['Reply YES to come'],
    ['Is it on? 1 boat leaves at 7'],
    ['Bus 1 leaves Mill Quay, 2 leaves Pine Point'],
    ['Reply 2 no, 1 yes'],
    [''],
  ])('none in %j', (words) => expect(readQuestion(words)).toBeUndefined());
  test('whatever the text, it ends, and choices begin with the first', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 300 }), (words) => {
        const choices = readQuestion(words);
        expect(choices === undefined || choices.length >= 2).toBe(true);
      }),
    );
    expect(readQuestion(`reply ${'1 a, '.repeat(2000)}`)).toBeUndefined();
  });
});

describe('which choice an answer makes', () => {
  const wordings = [
    ['yes', 'no'],
    ['oui', 'non'],
    ['sí', 'no'],
  ];
  test.each<[string, number]>([
    ['1', 0],
    ['1.', 0],
    ['#1', 0],
    ['Yes', 0],
    ['Yes!', 0],
    ['YES please', 0],
    ['oui', 0],
    ['Sí', 0],
    ['si gracias', 0],
    ['yep', 0],
    ['one', 0],
    ['👍', 0],
    ['Yes, both of us', 0],
    ['1 thanks', 0],
    ['2', 1],
    ['No', 1],
    ['no, sorry', 1],
    ['non merci', 1],
    ['deux', 1],
    ['👎', 1],
    ['thanks, 2', 1],
  ])('%s', (answer, choice) => expect(readChoice(answer, wordings)).toBe(choice));
  test.each([['yes and no'], ['1 or 2?'], ['3'], ['12'], ['I will know on Friday, but probably yes if the wind is fine']])(
    'a person looks at %j',
    (answer) => expect(readChoice(answer, wordings)).toBe('doubtful'),
  );
  test.each([['who is this?'], [''], ['😀'], ['see you there'], ['когда?']])('%j makes none', (answer) =>
    expect(readChoice(answer, wordings)).toBe('none'),
  );
  test('labels of several words, and one within another', () => {
    const coming = [['coming', 'not coming']];
    expect(readChoice('Coming!', coming)).toBe(0);
    expect(readChoice('not coming', coming)).toBe(1);
    expect(readChoice('not coming, or coming?', coming)).toBe('doubtful');
    expect(readChoice('2', coming)).toBe(1);
  });
  test('whatever is answered, it is a choice there is, doubtful or none', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 5000 }), (answer) => {
        const counted = readChoice(answer, wordings);
        expect(counted === 0 || counted === 1 || counted === 'doubtful' || counted === 'none').toBe(true);
      }),
    );
  });
});

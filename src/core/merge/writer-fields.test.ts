import fc from 'fast-check';
import { expect, test } from 'vitest';
import { compileText } from './compile';
import { fillWriter } from './writer-fields';

const ANA = { name: 'Ana', number: '212-555-0142', place: 'North Landing' };

test.each([
  ['Call {writer_name} at {writer_number}.', 'Call Ana at 212-555-0142.'],
  ['{writer_place}: {given_name or "neighbor"}', 'North Landing: {given_name or "neighbor"}'],
  ['{{writer_name}', '{{writer_name}'],
  ['no field at all', 'no field at all'],
])('%s', (source, words) => expect(fillWriter(source, ANA)).toEqual({ words, missing: [] }));

test('what is not known of them gives its fallback words, else stays and is said', () => {
  const nobody = { name: 'Ana', number: ' ', place: '' };
  expect(fillWriter('{writer_number or "the desk"}, {writer_place}', nobody)).toEqual({
    words: 'the desk, {writer_place}',
    missing: ['writer_place'],
  });
});

test('whatever the values are, they read as those very words and inject nothing', () => {
  fc.assert(
    fc.property(fc.string({ unit: fc.constantFrom('{', '}', 'a', ' ', '"', 'given_name', 'link x') }), (name) => {
      fc.pre(name.trim() !== '');
      const { words } = fillWriter('From {writer_name}.', { ...ANA, name });
      const compiled = compileText(words, new Map([['given_name', 'text']]));
      expect(compiled.problems).toEqual([]);
      expect(compiled.render(() => 'INJECTED', 'en').text).toBe(`From ${name.trim()}.`);
    }),
  );
});

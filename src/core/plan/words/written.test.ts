import fc from 'fast-check';
import { expect, test } from 'vitest';
import { measure, weightOf } from '../../text/measure';
import { person, planFor } from '../testing';

const piece = fc.constantFrom(
  '{given_name}',
  '{given_name or "né"}',
  '{family_name or " "}',
  ' ',
  '\n',
  '€',
  'ok',
  'ş',
  '[',
  '🙂',
  'x'.repeat(150),
  '',
);
const words = fc.array(piece, { maxLength: 8 }).map((pieces) => pieces.join(''));

// what is the same for everybody is weighed once, and each text is the sum: it must be what the whole text would be weighed at
test('each text of a plan comes to what its own words come to', () => {
  fc.assert(
    fc.property(words, fc.constantFrom('in_text', 'link', 'none', 'after'), piece, (written, opt_out, name) => {
      const plan = planFor({ words: `${written}{given_name or "a"}`, opt_out } as Parameters<typeof planFor>[0], [
        person(1, { given_name: name }),
        person(2, { given_name: 'Zoë', language: 'fr' }),
        person(3, { given_name: '' }),
      ]);
      for (let i = 0; i < plan.texts.count; i += 1) {
        const { parts, units, alphabet } = measure(plan.texts.write(i));
        expect([plan.texts.parts[i], plan.texts.units[i], plan.texts.extended[i]]).toEqual([
          parts,
          units,
          alphabet === 'ucs2' ? 1 : 0,
        ]);
      }
    }),
    { numRuns: 300 },
  );
});

test('a text weighs what its pieces weigh together', () => {
  fc.assert(
    fc.property(fc.array(fc.string({ unit: 'binary', maxLength: 120 }), { maxLength: 6 }), (pieces) => {
      const text = pieces.join('');
      const together = pieces.reduce((sum, each) => sum + weightOf(each), 0);
      expect(measure(text, together)).toEqual(measure(text));
    }),
  );
});

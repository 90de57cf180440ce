import { Errors } from 'typebox/value';
import { expect, test } from 'vitest';
import { Dice } from '../../core/line/simulator/dice';
import { allRoutes } from '../routes';
import { fitting } from './checked';
import { neighborOf, sampleOf } from './testing/fuzz';

const NEIGHBORS = 30;
/** What no form holds: the server reads it all the same, and fuzz.test holds it there. */
const LONGEST = 4000;
const DEEPEST = /(?:\{[^{}]*){50}/;

const read = (json: string): { value: unknown } | undefined => {
  try {
    return { value: JSON.parse(json) as unknown };
  } catch {
    return undefined;
  }
};

test('what a form refuses the server refuses, and what it lets through the server takes (Ajv against typebox, every body of the contract)', () => {
  const dice = new Dice(4180);
  const counts = { refused: 0, taken: 0 };
  for (const { method, path, body } of allRoutes) {
    if (body === undefined) continue;
    const fits = fitting(body);
    for (let n = 0; n < NEIGHBORS; n += 1) {
      const sample = sampleOf(body, dice);
      const json = n % 4 === 0 ? JSON.stringify(sample) : neighborOf(sample, dice);
      const asked = json.length > LONGEST || DEEPEST.test(json) ? undefined : read(json);
      if (!asked) continue;
      const taken = fits(asked.value);
      expect({ method, path, json, taken: Errors(body, asked.value).length === 0 }).toEqual({ method, path, json, taken });
      counts[taken ? 'taken' : 'refused'] += 1;
    }
  }
  expect(counts.taken).toBeGreaterThan(500);
  expect(counts.refused).toBeGreaterThan(500);
});

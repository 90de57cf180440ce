import { expect, test } from 'vitest';
import { nothingHere, Refusal, type Why } from '../../core/api/refusal';
import { EngineError } from '../engine/engine-error';
import { OverBudget } from '../handed-in/handed-in';
import { problemOf } from './problem';

// RFC 9110, section 15.5, and RFC 6585, section 4: what each status means
test.each<[Why, number]>([
  ['not understood', 400],
  ['not signed in', 401],
  ['not paid for', 402],
  ['not allowed', 403],
  ['not here', 404],
  ['clash', 409],
  ['over', 410],
  ['wrong', 422],
  ['too often', 429],
  ['away', 503],
])('what is refused as “%s” is a %i', (why, status) => {
  expect(problemOf(new Refusal(why, 'kind', 'One sentence.')).status).toBe(status);
});

test('the sentence, its place and what was kept go over the wire (RFC 9457, section 3)', () => {
  const refusal = new Refusal('clash', 'changed', 'It has been changed.', { place: 'name', kept: 'Your words are kept.' });
  expect(JSON.parse(JSON.stringify(problemOf(refusal)))).toEqual({
    type: 'urn:yellow-bell:changed',
    title: 'It has been changed.',
    status: 409,
    place: 'name',
    kept: 'Your words are kept.',
  });
});

test('refusals of their own kinds say the same', () => {
  expect(problemOf(nothingHere())).toMatchObject({ status: 404, kind: 'no-such-thing' });
  expect(problemOf(new EngineError('no-balance', 'Too little.'))).toMatchObject({ status: 402, kind: 'no-balance' });
  expect(problemOf(new EngineError('opted-out', 'Opted out.'))).toMatchObject({ status: 422, kind: 'opted-out' });
  expect(problemOf(new OverBudget('busy'))).toMatchObject({ status: 503, kind: 'busy' });
  const memory = new OverBudget('memory');
  expect([memory.of, problemOf(memory).status, problemOf(memory).title]).toEqual([
    'memory',
    422,
    'It was given up: reading it takes more memory than it may. Nothing was kept.',
  ]);
});

import { expect, test } from 'vitest';
import { Doubt } from './doubt';

const doubtful = (id: number) => ({ lane: 2, text: { id, row: 1, sender: 1, parts: 1, due: 0 } });

test('a text of a lost commit comes back with the first fold that began after the void was journaled', () => {
  const doubt = new Doubt();
  doubt.folding();
  doubt.add([doubtful(1)]);
  expect(doubt.folded(false)).toEqual([]);
  doubt.folding();
  doubt.journaled();
  expect(doubt.folded(false)).toEqual([]);
  doubt.folding();
  expect(doubt.folded(false)).toEqual([doubtful(1)]);
});

test('a fold that took not everything, or failed, settles nothing yet', () => {
  const doubt = new Doubt();
  doubt.add([doubtful(1)]);
  doubt.journaled();
  doubt.folding();
  doubt.add([doubtful(2)]);
  expect(doubt.folded(true)).toEqual([]);
  doubt.journaled();
  doubt.folding();
  expect(doubt.folded(false)).toEqual([doubtful(1), doubtful(2)]);
  doubt.folding();
  expect(doubt.folded(false)).toEqual([]);
});

import { expect, test } from 'vitest';
import { Doubt } from './doubt';

const doubtful = (id: number) => ({ lane: 2, text: { id, row: 1, sender: 1, parts: 1, due: 0 } });

test('a text of a lost commit comes back with the first posting that began after the void was journaled', () => {
  const doubt = new Doubt();
  doubt.posting();
  doubt.add([doubtful(1)]);
  expect(doubt.posted(false)).toEqual([]);
  doubt.posting();
  doubt.journaled();
  expect(doubt.posted(false)).toEqual([]);
  doubt.posting();
  expect(doubt.posted(false)).toEqual([doubtful(1)]);
});

test('a posting that took not everything, or failed, settles nothing yet', () => {
  const doubt = new Doubt();
  doubt.add([doubtful(1)]);
  doubt.journaled();
  doubt.posting();
  doubt.add([doubtful(2)]);
  expect(doubt.posted(true)).toEqual([]);
  doubt.journaled();
  doubt.posting();
  expect(doubt.posted(false)).toEqual([doubtful(1), doubtful(2)]);
  doubt.posting();
  expect(doubt.posted(false)).toEqual([]);
});

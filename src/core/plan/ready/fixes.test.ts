import { expect, test } from 'vitest';
import { EMPTY_DRAFT, type Draft } from '../draft/draft';
import { fixFor } from './fixes';
import { person, planFor } from '../testing';

const crowd = [person(1), person(2, { language: 'fr' })];
/** Presses what is offered for a check, and plans again. */
function press(part: Partial<Draft>, check: string, sender: object = {}) {
  const before = planFor(part, crowd, { sender }).summary;
  const remark = [...before.must_fix, ...before.hints].find((each) => each.check === check);
  expect(remark).toBeDefined();
  const fix = fixFor(remark ?? { check: '' }, { ...EMPTY_DRAFT, words: 'Ottermere: the Heron is off.', ...part }, before);
  if (!fix) return undefined;
  const after = planFor({ ...part, ...fix.part }, crowd, { sender }).summary;
  return { says: fix.says, left: [...after.must_fix, ...after.hints].map((each) => each.check) };
}

test.each<[string, Partial<Draft>, object, string]>([
  ['stop to a name', {}, { kind: 'name', name: 'OttermereFB' }, 'give a link'],
  ['no way out', { opt_out: 'none' }, {}, 'add the wording'],
  ['no way out', { opt_out: 'none' }, { kind: 'name' }, 'add a link'],
  [
    'extended characters',
    { words: `Ottermere – ${'x'.repeat(80)}`, translations: { fr: `Ottermere… ${'x'.repeat(80)}` } },
    {},
    'use plain ones',
  ],
  ['extended characters', { words: `🚤 Ottermere 🚤 ${'x'.repeat(80)}` }, {}, 'take it out'],
  ['extended characters', { words: `Ottermere 🚤 – ${'x'.repeat(80)}` }, {}, 'use plain ones, without 🚤'],
  ['time', { when: { kind: 'at', date: '2026-12-01', time: '09:00' } }, {}, 'take the next time'],
])('%s of %o is gone after one press', (check, part, sender, says) => {
  const done = press(part, check, sender);
  expect(done?.says).toBe(says);
  expect(done?.left).not.toContain(check);
});

test('what somebody has to think about has no fix', () => {
  expect(press({ words: '{family_name} Ottermere', to: [] }, 'nobody')).toBeUndefined();
});

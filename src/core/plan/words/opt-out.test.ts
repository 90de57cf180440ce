import { describe, expect, test } from 'vitest';
import { optOutEnding } from './opt-out';
import { person, planFor, WORKSPACE } from '../testing';

test.each([
  [{ opt_out: 'in_text' }, 'fr', 'STOP pour ne plus recevoir'],
  [{ opt_out: 'in_text', opt_out_words: { fr: 'STOP = fin', en: ' ' } }, 'fr', 'STOP = fin'],
  [{ opt_out: 'in_text', opt_out_words: { en: ' ' } }, 'en', 'STOP to opt out'],
  // there is none in German: that of the first language
  [{ opt_out: 'in_text' }, 'de', 'STOP to opt out'],
  [{ opt_out: 'link' }, 'es', 'Baja: {opt_out_link}'],
  [{ opt_out: 'link', opt_out_words: { es: 'Fin:' } }, 'es', 'Fin: {opt_out_link}'],
  [{ opt_out: 'none', opt_out_words: { es: 'Fin:' } }, 'es', ''],
] as const)('%o in %s: %s', (draft, language, ending) => expect(optOutEnding(draft, WORKSPACE, language)).toBe(ending));

describe('an opt-out link', () => {
  const crowd = [person(1), person(2, { language: 'fr' })];
  test('ends each text in its language, is measured with it, and is one of the links that become personal', () => {
    const plan = planFor({ opt_out: 'link' }, crowd);
    expect([0, 1].map((i) => plan.texts.write(i)).sort()).toEqual([
      'Ottermere: the Heron is off.\nNe plus recevoir : bell.example.org/o/k7w2m4nq9cx5',
      'Ottermere: the Heron is off.\nNo more texts: bell.example.org/o/k7w2m4nq9cx5',
    ]);
    expect(plan.links).toMatchObject([{ name: 'opt_out', optOut: true }]);
    expect(plan.summary.hints.map(({ check }) => check)).not.toContain('no way out');
  });
  test('stands in the words where it is put, and is not added twice', () => {
    const plan = planFor({ opt_out: 'none', words: 'Ottermere. Enough? {opt_out_link}' }, crowd);
    expect(plan.texts.write(0)).toBe('Ottermere. Enough? bell.example.org/o/k7w2m4nq9cx5');
    expect(plan.links).toHaveLength(1);
  });
  test('a name takes no reply: asking it for STOP must be fixed, and the link does', () => {
    const named = { sender: { kind: 'name' as const, name: 'OttermereFB' } };
    expect(planFor({}, crowd, named).summary.must_fix.map(({ check }) => check)).toEqual(['stop to a name']);
    expect(planFor({ opt_out: 'link' }, crowd, named).summary.must_fix).toEqual([]);
  });
});

import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { EMPTY_DRAFT, type Draft } from './draft';
import { mergeDrafts, type NamedDraft } from './merge-drafts';

const of = (part: Partial<Draft> = {}, name = 'Heron'): NamedDraft => ({
  name,
  draft: { ...EMPTY_DRAFT, words: 'The Heron is off.', translations: { fr: 'Le Heron est à quai.' }, ...part },
});
const merge = (mine: NamedDraft, theirs: NamedDraft) => mergeDrafts(of(), mine, theirs, ['en', 'fr']);

describe('two people on one draft', () => {
  test('what each has changed on their own stays', () => {
    const merged = merge(
      of({ words: 'The Heron is late.' }),
      of({ purpose: 'marketing', translations: { fr: 'Le Heron part tard.' }, pace: { kind: 'a_minute', texts: 5 } }, 'Late'),
    );
    expect(merged.clashes).toEqual([]);
    expect(merged.mine).toEqual(merged.theirs);
    expect(merged.mine).toMatchObject({
      name: 'Late',
      draft: {
        words: 'The Heron is late.',
        purpose: 'marketing',
        translations: { fr: 'Le Heron part tard.' },
        pace: { kind: 'a_minute', texts: 5 },
      },
    });
  });

  test('the same changed to the same is no clash; to something else it is one, and both are kept', () => {
    expect(merge(of({ purpose: 'marketing' }), of({ purpose: 'marketing' })).clashes).toEqual([]);
    const merged = merge(of({ words: 'Late.' }), of({ words: 'Off.', sender_id: 2 }));
    expect(merged.clashes).toEqual([{ what: 'the English words', mine: 'Late.', theirs: 'Off.' }]);
    expect(merged.mine.draft).toMatchObject({ words: 'Late.', sender_id: 2 });
    expect(merged.theirs.draft).toMatchObject({ words: 'Off.', sender_id: 2 });
  });

  test('what one takes away is away', () => {
    const base = of({ urgent: 'fog over the lake' });
    const merged = mergeDrafts(base, of({ urgent: 'fog over the lake', words: 'Late.' }), of({ translations: undefined }), [
      'en',
    ]);
    expect(merged.clashes).toEqual([]);
    expect(merged.mine.draft.urgent).toBeUndefined();
    expect(merged.mine.draft.translations).toBeUndefined();
    expect(merged.mine.draft.words).toBe('Late.');
  });

  test('with one of them idle it is what the other has, whatever that is (property)', () => {
    const part = fc.record(
      {
        words: fc.string(),
        purpose: fc.constantFrom('service' as const, 'marketing' as const),
        sender_id: fc.option(fc.integer()),
        unticked: fc.array(fc.integer()),
        translations: fc.dictionary(fc.constantFrom('fr', 'es'), fc.string(), { minKeys: 1 }),
      },
      { requiredKeys: [] },
    );
    fc.assert(
      fc.property(part, (changed) => {
        expect(merge(of(changed), of()).mine).toEqual(of(changed));
        expect(merge(of(), of(changed)).mine).toEqual(of(changed));
        expect(merge(of(changed), of(changed)).clashes).toEqual([]);
      }),
    );
  });
});

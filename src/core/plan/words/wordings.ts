import type { Draft } from '../draft/draft';

/** The words of a draft in one language. */
export interface Wording {
  language: string;
  words: string;
}

/**
 * What a draft says in each language in which it says something: that of the workspace first, which everyone gets for whom there is no
 * other. Wordings in languages that the workspace does not offer (any more) are kept in the draft and used for nobody.
 *
 * @param languages offered by the workspace, the first is for those who have told none
 */
export function wordingsOf(draft: Pick<Draft, 'words' | 'translations'>, languages: readonly string[]): Wording[] {
  const [first, ...others] = languages;
  return [
    { language: first, words: draft.words },
    ...others.flatMap((language) => {
      const words = draft.translations?.[language] ?? '';
      return words.trim() === '' ? [] : [{ language, words }];
    }),
  ];
}

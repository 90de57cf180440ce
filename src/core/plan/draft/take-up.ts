import { fillWriter, type WriterValues } from '../../merge/writer-fields';
import type { Draft } from './draft';
import type { LinkSpec } from './links';

/** Words that were prepared, or sent before. */
export interface ReadyWords {
  /** By language code. */
  words: Readonly<Record<string, string>>;
  links: readonly LinkSpec[];
  opt_out?: Draft['opt_out'];
}
export type TakenUp = Pick<Draft, 'words' | 'translations' | 'link' | 'links'> & Partial<Pick<Draft, 'opt_out'>>;

/**
 * A draft's words and links as they become when prepared ones are taken up: a copy, in which whoever writes stands in the place
 * of the writer's fields. Hints of before say nothing of other words. What the draft has besides stays.
 * @param languages of the workspace, the first of them before all others
 */
export function takeUp(
  ready: ReadyWords,
  languages: readonly string[],
  writer: WriterValues,
): { part: TakenUp; missing: string[] } {
  const missing = new Set<string>();
  const filled = (words: string) => {
    const done = fillWriter(words, writer);
    for (const name of done.missing) missing.add(name);
    return done.words;
  };
  const [first] = languages;
  const { [first]: own = '', ...others } = ready.words;
  return {
    part: {
      words: filled(own),
      translations: Object.fromEntries(Object.entries(others).map(([language, words]) => [language, filled(words)])),
      link: null,
      links: ready.links.map((link) => ({ ...link })),
      ...(ready.opt_out ? { opt_out: ready.opt_out } : {}),
    },
    missing: [...missing],
  };
}

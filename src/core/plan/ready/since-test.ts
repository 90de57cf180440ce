import { languageName } from '../../text/language';
import type { Draft } from '../draft/draft';
import { linksOf } from '../draft/links';

/** What a tester saw of a draft. */
export type Tested = Pick<
  Draft,
  'words' | 'translations' | 'opt_out' | 'opt_out_words' | 'link' | 'links' | 'sender_id' | 'code_list_id' | 'show_at_once'
>;

export const testedPart = (draft: Draft): Tested => {
  const { words, translations, opt_out, opt_out_words, link, links, sender_id, code_list_id, show_at_once } = draft;
  return { words, translations, opt_out, opt_out_words, link, links, sender_id, code_list_id, show_at_once };
};

/**
 * What of a text that a tester got is different now, in words: "the English words", "the sender". Who else gets it and when is no part
 * of what they saw.
 *
 * @param languages of the workspace, the first is that of `words`
 */
export function sinceTest(before: Tested, now: Tested, languages: readonly string[]): string[] {
  const changed: string[] = [];
  const [first, ...others] = languages;
  const note = (differs: boolean, what: string) => {
    if (differs) changed.push(what);
  };
  const words = (draft: Tested, language: string) =>
    (language === first ? draft.words : (draft.translations?.[language] ?? '')).trim();
  for (const language of [first, ...others])
    note(words(before, language) !== words(now, language), `the ${languageName(language)} words`);
  const links = (draft: Tested) => new Map(linksOf(draft).map((each) => [each.name, each]));
  const [was, is] = [links(before), links(now)];
  for (const name of new Set([...was.keys(), ...is.keys()]))
    note(was.get(name)?.address !== is.get(name)?.address || was.get(name)?.days !== is.get(name)?.days, `the link “${name}”`);
  note(before.opt_out !== now.opt_out || same(before.opt_out_words) !== same(now.opt_out_words), 'how one opts out');
  note(before.sender_id !== now.sender_id, 'the sender');
  note((before.show_at_once ?? false) !== (now.show_at_once ?? false), 'how phones show it');
  note((before.code_list_id ?? null) !== (now.code_list_id ?? null), 'the list of codes');
  return changed;
}

/** Regardless of the order of keys, which jsonb does not keep. */
const same = (wordings: Record<string, string> | undefined) =>
  JSON.stringify(Object.entries(wordings ?? {}).sort(([a], [b]) => (a < b ? -1 : 1)));

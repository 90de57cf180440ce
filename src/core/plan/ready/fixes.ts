import type { PlanSummary, Remark } from '../../api/sending/plan';
import { plain, withoutPicture } from '../../text/plain-replacements';
import type { Draft } from '../draft/draft';

/** What puts a finding right at a press: the change of the draft, and what it is called. */
export interface Fix {
  says: string;
  part: Partial<Draft>;
  /** Where it is a question: the other answer. */
  or?: Omit<Fix, 'or'>;
}

/** The fix of a finding that can be done in one press without guessing anything; undefined where somebody has to think. */
export function fixFor(remark: Pick<Remark, 'check' | 'instead'>, draft: Draft, plan: PlanSummary): Fix | undefined {
  switch (remark.check) {
    case 'barred':
      return {
        says: 'yes, leave them out',
        part: { barred: 'leave_out' },
        or: { says: 'no, they get it', part: { barred: 'get_it' } },
      };
    case 'stop to a name':
      return { says: 'give a link', part: { opt_out: 'link', opt_out_words: undefined } };
    case 'no way out':
    case 'no way out (marketing)':
      return plan.sender?.kind === 'name'
        ? { says: 'add a link', part: { opt_out: 'link', opt_out_words: undefined } }
        : { says: 'add the wording', part: { opt_out: 'in_text' } };
    case 'extended characters':
      return plainWords(draft, plan);
    case 'time':
      return remark.instead && draft.when.kind === 'at'
        ? { says: 'take the next time', part: { when: { ...draft.when, ...remark.instead } } }
        : undefined;
    default:
      return undefined;
  }
}

/** Plain characters for those of the words that have one, and pictures out; undefined where there is neither. */
function plainWords(draft: Draft, { forcing }: PlanSummary): Fix | undefined {
  const replaced = forcing.filter(({ replacement }) => replacement !== null);
  const pictures = [...new Set(forcing.filter(({ picture }) => picture).map(({ character }) => character))];
  if (replaced.length + pictures.length === 0) return undefined;
  const change = (words: string) => plain(pictures.reduce((text, picture) => withoutPicture(text, picture).trim(), words));
  return {
    says: plainSays([...new Set(replaced.map(({ replacement }) => replacement ?? ''))], pictures),
    part: {
      words: change(draft.words),
      ...(draft.translations
        ? {
            translations: Object.fromEntries(
              Object.entries(draft.translations).map(([language, words]) => [language, change(words)]),
            ),
          }
        : {}),
    },
  };
}

/** @param instead what takes the place of others; an empty one, of what cannot be seen */
function plainSays(instead: readonly string[], pictures: readonly string[]): string {
  if (pictures.length > 0 && instead.length > 0) return `use plain ones, without ${pictures.join(' ')}`;
  if (pictures.length > 0 || instead.join('') === '')
    return pictures.length + instead.length === 1 ? 'take it out' : 'take them out';
  return instead.length === 1 ? `use ${instead[0]} instead` : 'use plain ones';
}

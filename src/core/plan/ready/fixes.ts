import type { PlanSummary, Remark } from '../../api/sending/plan';
import { plain } from '../../text/plain-replacements';
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

/** Plain characters for those of the words that have one; undefined where none has. */
function plainWords(draft: Draft, { forcing }: PlanSummary): Fix | undefined {
  if (forcing.every(({ replacement }) => replacement === null)) return undefined;
  return {
    says: 'use plain ones',
    part: {
      words: plain(draft.words),
      ...(draft.translations
        ? {
            translations: Object.fromEntries(
              Object.entries(draft.translations).map(([language, words]) => [language, plain(words)]),
            ),
          }
        : {}),
    },
  };
}

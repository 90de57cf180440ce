import { languageName } from '../../text/language';
import type { Draft } from './draft';

/** What is saved together: a draft and its name. */
export interface NamedDraft {
  name: string;
  draft: Draft;
}

/** Something that both have changed, each to something else. */
export interface Clash {
  /** As it is said: "the English words". */
  what: string;
  mine: string;
  theirs: string;
}

export interface Merged {
  /** With mine, and with theirs, wherever the two clash; the same value where nothing does. */
  mine: NamedDraft;
  theirs: NamedDraft;
  clashes: Clash[];
}

const SAID: Partial<Record<keyof Draft, string>> = {
  to: 'who gets it',
  leave_out: 'who is left out',
  unticked: 'who is unticked',
  unticked_numbers: 'who is unticked',
  second_contacts: 'next contacts',
  barred: 'whether those get it who must not hear about a dependant',
  about: 'which dependants the texts are about',
  opt_out: 'how one opts out',
  opt_out_words: 'how one opts out',
  links: 'the links',
  link: 'the links',
  code_list_id: 'the list of codes',
  purpose: 'the purpose',
  sender_id: 'the sender',
  when: 'when it goes',
  pace: 'the pace',
  no_use_after: 'until when it is of use',
  allowed: 'the allowed hours',
  dismissed: 'the hints put aside',
  urgent: 'whether it may wait',
  show_at_once: 'how phones show it',
};

/**
 * Two people's changes to one draft, made from the same version, as one: whatever only one of them has changed is as they left it. Words
 * are told apart by language. Nothing is decided where both have changed the same.
 *
 * @param base what both began with
 */
export function mergeDrafts(base: NamedDraft, mine: NamedDraft, theirs: NamedDraft, languages: readonly string[]): Merged {
  const clashes: Clash[] = [];
  const [withMine, withTheirs] = [flat(mine), flat(theirs)];
  const [was, m, t] = [flat(base), flat(mine), flat(theirs)];
  for (const key of new Set([...Object.keys(m), ...Object.keys(t), ...Object.keys(was)])) {
    const [b, a, o] = [text(was[key]), text(m[key]), text(t[key])];
    if (a === b) withMine[key] = t[key];
    else if (o === b || o === a) withTheirs[key] = m[key];
    else clashes.push({ what: said(key, languages), mine: shown(m[key]), theirs: shown(t[key]) });
  }
  return { mine: deep(withMine), theirs: deep(withTheirs), clashes };
}

type Flat = Record<string, unknown>;

/** The name, each field of the draft, and the words of each language on their own. */
function flat({ name, draft }: NamedDraft): Flat {
  const { translations, ...fields } = draft;
  return {
    ' name': name,
    ...fields,
    ...Object.fromEntries(Object.entries(translations ?? {}).map(([language, words]) => [`words ${language}`, words])),
  };
}

function deep(parts: Flat): NamedDraft {
  const draft: Flat = {};
  const translations: Record<string, unknown> = {};
  for (const [key, value] of Object.entries(parts)) {
    if (key === ' name' || value === undefined) continue;
    if (key.startsWith('words ')) translations[key.slice('words '.length)] = value;
    else draft[key] = value;
  }
  if (Object.keys(translations).length > 0) draft.translations = translations;
  return { name: parts[' name'] as string, draft: draft as Draft };
}

const said = (key: string, languages: readonly string[]): string =>
  key === ' name'
    ? 'the name'
    : key === 'words'
      ? `the ${languageName(languages[0])} words`
      : key.startsWith('words ')
        ? `the ${languageName(key.slice('words '.length))} words`
        : (SAID[key as keyof Draft] ?? key.replaceAll('_', ' '));

const shown = (value: unknown): string => (typeof value === 'string' ? value : '');

/** Equal whatever the order of keys, which jsonb does not keep; a field that is left out is no other than one that is empty. */
function text(value: unknown): string {
  return JSON.stringify(value, (_key, each: unknown) =>
    typeof each === 'object' && each !== null && !Array.isArray(each)
      ? Object.fromEntries(Object.entries(each).sort(([a], [b]) => (a < b ? -1 : 1)))
      : each,
  );
}

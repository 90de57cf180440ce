import { compileText, REPLY_UNTIL, type CompiledText, type FieldType } from '../../merge/compile';
import { DEFAULT_PATTERN, formatDay } from '../../merge/date-pattern';
import type { SyntaxProblem } from '../../merge/syntax';
import { LINE_FEED, weightOf } from '../../text/measure';
import type { Draft } from '../draft/draft';
import type { PlanCodes } from './codes';
import { wordingsOf, type Wording } from './wordings';
import { dummiesOf, dummyOptOut, type DummyLink } from '../draft/links';
import { optOutEnding } from './opt-out';
import type { PlanPerson, PlanSender, PlanWorkspace } from '../reach/person';
import { lastReplyDay, replyDays, replyEnding } from './reply-window';

/** The words stage: compiled once, written for many. */
export interface Writer {
  /** Of all wordings together: what is wrong, and in which language; fields, links; whether any depends on the day of sending. */
  compiled: Omit<CompiledText, 'render' | 'problems'> & { problems: (SyntaxProblem & { language: string })[] };
  wordings: readonly Wording[];
  /** In which language the words are that somebody of this language gets. */
  wordedIn(language: string): string;
  /** The links that the words use, each with the address in whose place each recipient gets one of equal length. */
  links: DummyLink[];
  aboutDependants: boolean;
  /** Slugs of the custom fields that the words use, of people and of dependants. */
  fields: string[];
  dependantFields: string[];
  /** The words that somebody of this language gets have a one-time code in them. */
  givesCode(language: string): boolean;
  /** The wording for opting out, wherever it stands. */
  optOut(language: string): string;
  /** What says until which day replies are read, where the sender has such a window and the words do not say it; else empty. */
  replies(language: string, sendDay: string): string;
  /** The wording for opting out where it is a text of its own that follows; else empty. */
  after(language: string): string;
  languageOf(person: PlanPerson): string;
  /** @param code theirs, where one is reserved; else what stands for one */
  write(person: PlanPerson, language: string, sendDay: string, code?: string): WrittenText;
}

/** The words of one recipient. */
export interface WrittenText {
  text: string;
  /** `weightOf` the text. */
  weight: number;
  fell: boolean;
  missing: readonly string[];
}

const BUILT_IN = new Set([
  'given_name',
  'family_name',
  'reference',
  'ready_text',
  'code',
  'send_date',
  REPLY_UNTIL,
  'sender_name',
  'workspace_name',
]);

export function makeWriter(
  draft: Draft,
  workspace: PlanWorkspace,
  sender: PlanSender | null,
  types: ReadonlyMap<string, FieldType>,
  codes?: PlanCodes,
): Writer {
  const host = workspace.public_address.replace(/^https?:\/\//, '').replace(/\/$/, '');
  const dummies = dummiesOf(draft, `${host}/l/`);
  const optOutDummy = dummyOptOut(host);
  const links = new Set(dummies.flatMap(({ name, address }) => (address === '' ? [] : [name])));
  const dummyOf = new Map(dummies.map(({ name, dummy }) => [`link ${name}`, dummy]));
  const wordings = wordingsOf(draft, workspace.languages);
  const days = replyDays(sender);
  const known = days === null ? new Map([...types].filter(([name]) => name !== REPLY_UNTIL)) : types;
  const texts = new Map(wordings.map((each) => [each.language, compileText(each.words, known, links)]));
  const all = [...texts.values()];
  const compiled = {
    problems: [...texts].flatMap(([language, { problems }]) => problems.map((problem) => ({ ...problem, language }))),
    fields: [...new Set(all.flatMap(({ fields }) => fields))],
    links: [...new Set(all.flatMap(({ links: used }) => used))],
    dated: days !== null || all.some(({ dated }) => dated),
  };
  const [first] = workspace.languages;
  const fallback = texts.get(first) ?? all[0];
  const wordedIn = (language: string) => (texts.has(language) ? language : first);
  const offered = new Set(workspace.languages);
  const endings = new Map(workspace.languages.map((language) => [language, optOutEnding(draft, workspace, language)]));
  const optOut = (language: string) =>
    (endings.get(language) ?? optOutEnding(draft, workspace, language)).replace('{opt_out_link}', optOutDummy.dummy);
  const untils = new Map(workspace.languages.map((language) => [language, replyEnding(language)]));
  const replies = (language: string, sendDay: string) =>
    days === null || (texts.get(wordedIn(language)) ?? fallback).fields.includes(REPLY_UNTIL)
      ? ''
      : (untils.get(language) ?? replyEnding(language)).render(() => lastReplyDay(sendDay, days), language).text;
  const ends = new Map<string, { text: string; weight: number }>();
  /** What stands under the words: the same for all of one language, and of one day where replies are read until one. */
  const endOf = (language: string, sendDay: string) => {
    const key = days === null ? language : `${language} ${sendDay}`;
    let end = ends.get(key);
    if (end === undefined) {
      const text = [replies(language, sendDay), draft.opt_out === 'after' ? '' : optOut(language)].filter(Boolean).join('\n');
      ends.set(key, (end = { text, weight: weightOf(text) }));
    }
    return end;
  };
  const linksOut = draft.opt_out === 'link' || compiled.fields.includes('opt_out_link');
  const custom = compiled.fields.filter((slug) => !BUILT_IN.has(slug) && !slug.startsWith('dependants.'));
  return {
    compiled,
    wordings,
    wordedIn,
    links: [...dummies.filter(({ name }) => compiled.links.includes(name)), ...(linksOut ? [optOutDummy] : [])],
    aboutDependants: compiled.fields.some((slug) => slug.startsWith('dependants.')),
    fields: custom,
    dependantFields: compiled.fields.flatMap((slug) =>
      slug.startsWith('dependants.') ? [slug.slice('dependants.'.length)] : [],
    ),
    givesCode: (language) => (texts.get(wordedIn(language)) ?? fallback).fields.includes('code'),
    optOut,
    replies,
    after: (language) => (draft.opt_out === 'after' ? optOut(language) : ''),
    languageOf: (person) => (person.language !== null && offered.has(person.language) ? person.language : first),
    write(person, language, sendDay, code) {
      // dates and lists read as the words around them do
      const spoken = wordedIn(language);
      const rendered = (texts.get(spoken) ?? fallback).render((name) => {
        switch (name) {
          case 'given_name':
            return person.given_name;
          case 'family_name':
            return person.family_name;
          case 'reference':
            return person.reference ?? undefined;
          case 'ready_text':
            return person.ready;
          case 'opt_out_link':
            return optOutDummy.dummy;
          case 'code':
            return code ?? codes?.dummy ?? 'XXXX';
          case 'send_date':
            return sendDay;
          case REPLY_UNTIL:
            return days === null ? undefined : lastReplyDay(sendDay, days);
          case 'sender_name':
            return sender?.name ?? '';
          case 'workspace_name':
            return workspace.name;
        }
        if (name.startsWith('link ')) return dummyOf.get(name);
        if (name.startsWith('dependants.')) return ofDependants(person, name.slice('dependants.'.length), spoken);
        return person.fields[name];
      }, spoken);
      const fell = rendered.fell.length > 0;
      const { text, weight, openEnd, missing } = rendered;
      const end = endOf(language, sendDay);
      if (end.text === '') return { text, weight, fell, missing };
      const words = openEnd ? text.trimEnd() : text;
      if (words === '') return { text: end.text, weight: end.weight, fell, missing };
      const own = openEnd ? weightOf(words) : weight;
      return { text: `${words}\n${end.text}`, weight: own + LINE_FEED + end.weight, fell, missing };
    },
  };
}

function ofDependants(person: PlanPerson, slug: string, language: string): string | undefined {
  return joined(
    person.dependants.map((each) =>
      slug === 'given_name' || slug === 'family_name' ? each[slug] : shown(each.fields[slug] ?? '', language),
    ),
    language,
  );
}

const joiners = new Map<string, Intl.ListFormat>();
/** "Ana, Leo and Mika" in the recipient's language; making a formatter costs more than using one. */
function joined(values: readonly string[], language: string): string | undefined {
  const distinct = [...new Set(values.filter((value) => value.trim() !== ''))];
  if (distinct.length < 2) return distinct[0];
  let joiner = joiners.get(language);
  // American English would put a comma before "and"; in a text every character counts
  if (!joiner)
    joiners.set(language, (joiner = new Intl.ListFormat(language === 'en' ? 'en-GB' : language, { type: 'conjunction' })));
  return joiner.format(distinct);
}

function shown(value: string, language: string): string {
  return /^\d{4}-\d{2}-\d{2}$/.test(value) ? formatDay(value, DEFAULT_PATTERN, language) : value;
}

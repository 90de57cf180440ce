import { mergeFields } from '../../pieces/words/field-names';
import { dayPattern, greetingIn } from '../../../core/merge/day-order';
import type { KnownPerson } from '../../../core/api/people/people';
import { BUILT_IN, compileText, REPLY_UNTIL, type FieldType } from '../../../core/merge/compile';
import type { PreparedText } from '../../../core/api/sending/templates';
import { lastReplyDay } from '../../../core/plan/words/reply-window';
import { WRITER_FIELDS } from '../../../core/merge/writer-fields';
import type { Offer } from './Editor';

/** What a person in the proof has for a name; dependants joined as they are. */
function valueOf(reader: KnownPerson | undefined, name: string): string | undefined {
  if (!reader) return undefined;
  const { person, dependants } = reader;
  if (name === 'dependants.given_name') return dependants.map((each) => each.given_name).join(', ');
  if (name.startsWith('dependants.')) return dependants.map((each) => each.fields[name.slice(11)] ?? '').join(', ');
  if (name === 'given_name' || name === 'family_name') return person[name];
  if (name === 'reference') return person.reference ?? undefined;
  return person.fields[name];
}

/** Everything that can be put in with `{`, in groups, each with what it gives for the person in the proof. */
export function offersFor({
  fields,
  reader,
  today,
  language,
  first,
  sender,
  replyDays = null,
  workspace,
  links,
  pieces,
  answers,
  codes,
  fromFile,
  ofWriter,
}: {
  fields: ReturnType<typeof mergeFields>;
  reader: KnownPerson | undefined;
  /** `YYYY-MM-DD`, where the workspace is. */
  today: string;
  /** Of the words it is put in. */
  language: string;
  /** The workspace's first language: what there is in no other is in it. */
  first: string;
  sender: string;
  /** Replies are read for so many days; null without an end. */
  replyDays?: number | null;
  workspace: string;
  /** Names of those that lead somewhere. */
  links: readonly string[];
  pieces: readonly Pick<PreparedText, 'name' | 'words'>[];
  /** Where one person is answered: ready answers, and nothing that only a broadcast gives. */
  answers?: readonly Pick<PreparedText, 'name' | 'words'>[];
  codes: boolean;
  fromFile: boolean;
  ofWriter: boolean;
}): Offer[] {
  const types = new Map<string, FieldType>([
    ...BUILT_IN.map((f) => [f.slug, f.type] as const),
    ...fields.map((f) => [f.slug, f.type] as const),
  ]);
  const gives = (insert: string) => {
    const { text, missing } = compileText(insert, types).render(
      (name) =>
        name === 'send_date'
          ? today
          : name === REPLY_UNTIL && replyDays !== null
            ? lastReplyDay(today, replyDays)
            : name === 'sender_name'
              ? sender
              : name === 'workspace_name'
                ? workspace
                : valueOf(reader, name),
      language,
    );
    return missing.length > 0 ? 'nothing for this one' : text;
  };
  const offer = (group: string, label: string, insert: string): Offer => ({ group, label, insert, gives: gives(insert) });
  const prepared = (group: string, texts: readonly Pick<PreparedText, 'name' | 'words'>[]): Offer[] =>
    texts.flatMap(({ name, words }) => {
      const insert = words[language] ?? words[first];
      return insert === undefined ? [] : [{ group, label: name, insert, gives: glimpse(insert) }];
    });
  const day = dayPattern(language);
  return [
    ...prepared('Ready answers', answers ?? []),
    offer('Of the person', 'given name', `{given_name or "${greetingIn(language)}"}`),
    offer('Of the person', 'family name', '{family_name}'),
    ...fields
      .filter((f) => f.about === 'person')
      .map((f) =>
        offer('Of the person', f.label, f.type === 'date' ? `{${f.slug} as "${dayPattern(language, false)}"}` : `{${f.slug}}`),
      ),
    ...fields.filter((f) => f.about === 'dependant').map((f) => offer('Of whom it is about', f.label, `{${f.slug}}`)),
    ...(fromFile
      ? [{ group: 'From the file', label: 'ready-made text', insert: '{ready_text}', gives: 'as the file has it' }]
      : []),
    offer('Dates', 'date it is sent', `{send_date as "${day}"}`),
    offer('Dates', 'a week after sending', `{send_date + 7 days as "${day}"}`),
    offer('Dates', 'a month after sending', `{send_date + 1 month as "${day}"}`),
    offer('Dates', 'the next Friday after sending', `{send_date next friday as "${day}"}`),
    ...(replyDays === null ? [] : [offer('Dates', 'last day for replies', `{reply_until as "${day}"}`)]),
    ...links.map((name) => ({
      group: 'Links',
      label: `link ${name}`,
      insert: `{link ${name}}`,
      gives: 'personal, clicks counted',
    })),
    ...(answers
      ? []
      : [{ group: 'Links', label: 'opt-out link', insert: '{opt_out_link}', gives: 'personal, one press to get no more' }]),
    ...(codes ? [{ group: 'Codes', label: 'one-time code', insert: '{code}', gives: 'another for each' }] : []),
    ...prepared('Saved pieces', pieces),
    ...(ofWriter
      ? WRITER_FIELDS.map(({ slug, label }) => ({
          group: 'Of who writes',
          label,
          insert: `{${slug}}`,
          gives: 'put in when it is taken up',
        }))
      : []),
    offer('From us', 'sender', '{sender_name}'),
    offer('From us', 'our name', '{workspace_name}'),
    { group: 'Braces', label: 'a brace, {', insert: '{{', gives: '{' },
  ];
}

/** The first of some words, as they are offered. */
const glimpse = (words: string) => (words.length > 40 ? `${words.slice(0, 39).trimEnd()}…` : words).replace(/\s+/g, ' ');

import { useMemo } from 'react';
import { people as peopleApi, type Sources } from '../../../core/api/people/people';
import type { ProofText } from '../../../core/api/sending/plan';
import { templates } from '../../../core/api/sending/templates';
import { BUILT_IN, type FieldType } from '../../../core/merge/compile';
import type { LinkSpec } from '../../../core/plan/draft/links';
import { wallClock } from '../../../core/zones';
import { useGet } from '../../api/client';
import { useDesk } from '../../api/session';
import { useNow } from '../../pieces/small';
import type { Offer } from './Editor';
import { mergeFields, useFieldNames } from '../../pieces/words/field-names';
import { offersFor } from './put-in';

/** What an editor of words needs to know: what can be put in, by which name it is said, and of which kind it is. */
export interface EditorKnows {
  known: ReadonlyMap<string, string>;
  types: ReadonlyMap<string, FieldType>;
  /** `YYYY-MM-DD`, where the workspace is. */
  today: string;
  offers: readonly Offer[];
}

export function useEditorKnows({
  sources,
  words,
  language,
  links,
  reader,
  sender = '',
  replyDays = null,
  codes = false,
  fromFile = false,
  ofWriter = false,
  answering = false,
}: {
  sources: Sources | undefined;
  /** All there are, in every language. */
  words: string;
  /** Of the words that are edited. */
  language: string;
  links: readonly LinkSpec[];
  /** Whose text the proof shows: what can be put in says what it gives for them. */
  reader?: Pick<ProofText, 'person_id'>;
  sender?: string;
  /** For how many days the sender reads replies, where that has an end. */
  replyDays?: number | null;
  /** A list of one-time codes is chosen. */
  codes?: boolean;
  /** A file used once, which may bring ready-made texts, is among those it goes to. */
  fromFile?: boolean;
  /** Words of a template: whoever takes it up is put in. */
  ofWriter?: boolean;
  /** An answer to one person: ready answers first, and nothing that only a broadcast gives. */
  answering?: boolean;
}): EditorKnows {
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 60_000);
  const today = wallClock(now, workspace.zone).date;
  const person = useGet(peopleApi.get, reader?.person_id ? { params: { id: reader.person_id } } : undefined, { keep: true }).data;
  const pieces = useGet(templates.list, { query: { kind: 'piece' } }, { keep: true }).data?.texts;
  const answers = useGet(templates.list, answering ? { query: { kind: 'answer' } } : undefined, { keep: true }).data?.texts;
  const withDependants = (sources?.fields ?? []).some((field) => field.about === 'dependant') || /\{\s*dependants\./.test(words);
  const fields = useMemo(() => mergeFields(sources, withDependants), [sources, withDependants]);
  const linkNames = links
    .filter(({ address }) => address !== '')
    .map(({ name }) => name)
    .join(' ');
  const allLinks = links.map(({ name }) => name).join(' ');
  const names = useFieldNames();
  const known = useMemo(
    () => new Map<string, string>([...names, ...allLinks.split(' ').map((name) => [`link ${name}`, `link ${name}`] as const)]),
    [names, allLinks],
  );
  const types = useMemo(
    () => new Map<string, FieldType>([...BUILT_IN, ...fields].map((each) => [each.slug, each.type] as const)),
    [fields],
  );
  const [first] = workspace.languages;
  const offers = useMemo(
    () =>
      offersFor({
        fields,
        reader: person,
        today,
        language,
        first,
        sender,
        replyDays,
        workspace: workspace.name,
        links: linkNames === '' ? [] : linkNames.split(' '),
        pieces: pieces ?? [],
        answers: answering ? (answers ?? []) : undefined,
        codes,
        fromFile,
        ofWriter,
      }),
    [
      fields,
      person,
      today,
      language,
      first,
      sender,
      replyDays,
      workspace.name,
      linkNames,
      pieces,
      answering,
      answers,
      codes,
      fromFile,
      ofWriter,
    ],
  );
  return { known, types, today, offers };
}

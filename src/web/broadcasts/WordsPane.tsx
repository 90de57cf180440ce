import { Button } from '@mui/material';
import { useMemo, useRef, useState } from 'react';
import { people as peopleApi, type Sources } from '../../core/api/people';
import type { PlanSummary, ProofText } from '../../core/api/plan';
import { BUILT_IN, type FieldType } from '../../core/merge/compile';
import type { Draft } from '../../core/plan/draft';
import { linksOf } from '../../core/plan/links';
import { wallClock } from '../../core/plan/zones';
import { useGet } from '../api/client';
import { useDesk } from '../api/session';
import { Column, Row } from '../pieces/layout';
import { useNow } from '../pieces/small';
import { Languages } from './Languages';
import { Links } from './Links';
import { Editor } from './Editor';
import { Forcing, Measure } from './Measure';
import { mergeFields, offersFor } from './put-in';

/** The words, their live measure, what forces extended characters and what that costs, opt-out wording, one link. */
export function WordsPane({
  draft,
  plan,
  sources,
  change,
  reader,
  language,
  setLanguage,
}: {
  draft: Draft;
  plan: PlanSummary | undefined;
  sources: Sources | undefined;
  change: (part: Partial<Draft>) => void;
  /** Whose text the proof shows: what can be put in says what it gives for them. */
  reader: ProofText | undefined;
  /** Whose words are shown. */
  language: string;
  setLanguage: (language: string) => void;
}) {
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 60_000);
  const today = wallClock(now, workspace.zone).date;
  const insert = useRef<((text: string) => void) | undefined>(undefined);
  const [linking, setLinking] = useState(false);
  const person = useGet(peopleApi.get, reader?.person_id ? { params: { id: reader.person_id } } : undefined, { keep: true }).data;
  const withDependants =
    (sources?.fields ?? []).some((field) => field.about === 'dependant') ||
    /\{\s*dependants\./.test([draft.words, ...Object.values(draft.translations ?? {})].join(' '));
  const fields = useMemo(() => mergeFields(sources, withDependants), [sources, withDependants]);
  const links = linksOf(draft);
  const linkNames = links.map(({ name }) => name).join(' ');
  const [first] = workspace.languages;
  const words = language === first ? draft.words : (draft.translations?.[language] ?? '');
  const write = (next: string) =>
    change(language === first ? { words: next } : { translations: { ...draft.translations, [language]: next } });
  const known = useMemo(
    () =>
      new Map<string, string>([
        ...BUILT_IN.map((f) => [f.slug, f.label] as const),
        ['ready_text', 'ready-made text'] as const,
        ['dependants.family_name', 'dependants’ family names'] as const,
        ...fields.map((f) => [f.slug, f.label] as const),
        ...linkNames.split(' ').map((name) => [`link ${name}`, `link ${name}`] as const),
      ]),
    [fields, linkNames],
  );
  const types = useMemo(
    () => new Map<string, FieldType>([...BUILT_IN, ...fields].map((each) => [each.slug, each.type] as const)),
    [fields],
  );
  const sender = plan?.sender?.name ?? '';
  const offers = useMemo(
    () => offersFor({ draft, fields, reader: person, today, language, sender, workspace: workspace.name }),
    [draft, fields, person, today, language, sender, workspace.name],
  );
  return (
    <Column gap={10}>
      <Row between>
        <h2 id="words-label">Words</h2>
        <Row>
          <Button onClick={() => insert.current?.('{')}>Put in a field</Button>
          <Button onClick={() => setLinking(!linking)} aria-expanded={linking}>
            {links.length > 0 ? 'Links' : 'Add a link'}
          </Button>
        </Row>
      </Row>
      {linking && <Links draft={draft} change={change} putIn={(source) => insert.current?.(source)} />}
      {workspace.languages.length > 1 && (
        <Languages draft={draft} plan={plan} known={known} language={language} setLanguage={setLanguage} write={write} />
      )}
      <Editor
        // a language has its own words and its own undoing
        key={language}
        value={words}
        onChange={write}
        known={known}
        types={types}
        today={today}
        language={language}
        offers={offers}
        labelledBy="words-label"
        readOnly={false}
        handle={insert}
      />
      <Forcing words={words} language={language} plan={plan} change={write} />
      <Measure draft={draft} words={words} language={language} plan={plan} change={change} />
    </Column>
  );
}

import { Button } from '@mui/material';
import { useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import { people as peopleApi } from '../../../core/api/people/people';
import type { PlanSummary } from '../../../core/api/sending/plan';
import type { Draft } from '../../../core/plan/draft/draft';
import { linksOf } from '../../../core/plan/draft/links';
import { useGet } from '../../api/client';
import { useDesk } from '../../api/session';
import { Bit, Column, End, Head, Pane, Row, Words } from '../../pieces/layout';
import { useTitle, Waiting } from '../../pieces/small';
import { AudiencePicker } from '../audience/AudiencePicker';
import { PasteNumbers } from '../audience/PasteNumbers';
import { useDraft } from '../sheet/draft-state';
import { Editor } from '../words/Editor';
import { useEditorKnows } from '../words/editor-knows';
import { ShortEnding } from './ShortEnding';
import { ReadSheet } from '../sheet/ReadSheet';
import { Clashes, Others, useOthers } from '../sheet/Others';
import { SourceLine } from '../audience/SourceLine';
import { Unopened } from '../../pieces/Unopened';

/** A text to a dozen people: names, words, send, on one small sheet. Each text stands there as it goes, so that it is its own last look. */
export default function Short() {
  const id = Number(useParams().id);
  const state = useDraft(id);
  const { others, onFocus } = useOthers(id);
  useTitle('Short text');
  const { answer, draft } = state;
  if (state.error && !draft) return <Unopened what="Short text" error={state.error} />;
  if (!draft || !answer) return <Waiting what="Opening…" />;
  if (answer.state !== 'draft' && answer.state !== 'set_aside') return <ReadSheet broadcast={answer} />;
  return (
    <>
      <Head>
        <h1>Short text</h1>
        <Others others={others} />
        <End>
          <Bit soft small role="status">
            {state.saved === 'saving' ? 'saving…' : state.saved === 'not saved' ? 'not saved' : state.saved ? 'saved' : ''}
          </Bit>
          <Button component={Link} to={`/broadcasts/${id}`}>
            The whole sheet
          </Button>
        </End>
      </Head>
      <Clashes state={state} />
      <Pane grow pad="16px 20px" onFocus={onFocus}>
        <Column gap={14} most={720}>
          <WhoPart draft={draft} change={state.change} />
          <WordsPart draft={draft} plan={state.plan} change={state.change} />
          <ShortEnding id={id} state={state} draft={draft} />
        </Column>
      </Pane>
    </>
  );
}

function WhoPart({ draft, change }: { draft: Draft; change: (part: Partial<Draft>) => void }) {
  const sources = useGet(peopleApi.sources, {}, { keep: true }).data;
  const [anchor, setAnchor] = useState<HTMLElement>();
  const [pasting, setPasting] = useState(false);
  return (
    <section aria-label="To">
      <Row between base>
        <h2>To</h2>
        <Button aria-haspopup="dialog" onClick={(event) => setAnchor(event.currentTarget)}>
          Add
        </Button>
      </Row>
      {draft.to.length === 0 && (
        <Words soft small>
          Nobody yet.
        </Words>
      )}
      <ul>
        {draft.to.map((source, at) => (
          <SourceLine
            key={at}
            source={source}
            sources={sources}
            leaving={false}
            people={undefined}
            remove={() => change({ to: draft.to.filter((_, i) => i !== at) })}
          />
        ))}
      </ul>
      {anchor && (
        <AudiencePicker
          anchor={anchor}
          side="to"
          chosen={draft.to}
          sources={sources}
          counted={undefined}
          change={(to) => change({ to })}
          paste={() => {
            setAnchor(undefined);
            setPasting(true);
          }}
          close={() => setAnchor(undefined)}
        />
      )}
      {pasting && (
        <PasteNumbers
          leaving={false}
          add={(numbers) => {
            change({ to: [...draft.to, { kind: 'numbers', numbers }] });
            setPasting(false);
          }}
          close={() => setPasting(false)}
        />
      )}
    </section>
  );
}

function WordsPart({
  draft,
  plan,
  change,
}: {
  draft: Draft;
  plan: PlanSummary | undefined;
  change: (part: Partial<Draft>) => void;
}) {
  const { workspace } = useDesk();
  const sources = useGet(peopleApi.sources, {}, { keep: true }).data;
  const insert = useRef<((text: string) => void) | undefined>(undefined);
  const [language] = workspace.languages;
  const knows = useEditorKnows({
    sources,
    words: draft.words,
    language,
    links: linksOf(draft),
    reader: plan?.samples[0],
    sender: plan?.sender?.name,
    replyDays: plan?.sender?.reply_days,
    codes: typeof draft.code_list_id === 'number',
    fromFile: false,
  });
  return (
    <section aria-label="Words">
      <Row between base below={6}>
        <h2 id="words-label">Words</h2>
        <Button onClick={() => insert.current?.('{')}>Put in a field</Button>
      </Row>
      <Editor
        value={draft.words}
        onChange={(words) => change({ words })}
        {...knows}
        language={language}
        labelledBy="words-label"
        readOnly={false}
        handle={insert}
      />
    </section>
  );
}

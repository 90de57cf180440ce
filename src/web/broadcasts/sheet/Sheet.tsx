import { Button } from '@mui/material';
import { useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import type { ProofText } from '../../../core/api/sending/plan';
import { people } from '../../../core/api/people/people';
import { calledOf } from '../../../core/plan/draft/called';
import { nameFrom } from '../../../core/merge/name-from';
import { useGet } from '../../api/client';
import { useDesk } from '../../api/session';
import { useWork } from '../../api/work';
import { Choose } from '../../pieces/form/choices';
import { clockTime } from '../../pieces/format';
import { End, Head, Pane, Spoken } from '../../pieces/layout';
import { Trouble, useTitle, Waiting } from '../../pieces/small';
import { Audience } from '../audience/Audience';
import { useDraft } from './draft-state';
import { Labels } from '../list/Labels';
import { Way } from '../../pieces/ways';
import { usePutBack } from './put-back';
import { ReadSheet } from './ReadSheet';
import { Clashes, Others, useOthers } from './Others';
import { Proof } from '../words/Proof';
import { SheetPanes, TitleInput } from './sheet-layout';
import { Tally } from './Tally';
import { WhenPane } from './WhenPane';
import { WordsPane } from '../words/WordsPane';
import { Unopened } from '../../pieces/Unopened';

/** A broadcast that was set aside: it does not go, and can be what it was. */
function PutBack({ id, flush }: { id: number; flush: () => Promise<unknown> }) {
  const putBack = usePutBack(id);
  const { work, busy, error } = useWork();
  return (
    <>
      Set aside: it does not go until you send it again ·{' '}
      <Way
        disabled={busy}
        onClick={() =>
          void work(async () => {
            // what was changed is saved before it is taken back, or it would be saved after
            await flush();
            await putBack();
          })
        }
      >
        put it back as it was
      </Way>
      <Trouble error={error} /> ·{' '}
    </>
  );
}

/** The one page on which a broadcast is made: To, Words, When, and the tally. Choose and write in any order. */
export default function Sheet() {
  const id = Number(useParams().id);
  const navigate = useNavigate();
  const { workspace } = useDesk();
  const state = useDraft(id);
  const sources = useGet(people.sources, {}, { keep: true }).data;
  const [shown, setShown] = useState<ProofText>();
  const [first] = workspace.languages;
  const [language, setLanguage] = useState(first);
  const [which, setWhich] = useState('usual');
  const { work, error: trouble } = useWork();
  const { others, onFocus } = useOthers(id);
  const called = calledOf({ name: state.name, words: state.draft?.words ?? '' });
  useTitle(called || 'New broadcast');
  const { answer, draft, plan } = state;
  if (state.error && !draft) return <Unopened what="Broadcast" error={state.error} />;
  if (!draft || !answer) return <Waiting what="Opening the sheet…" />;
  if (answer.state !== 'draft' && answer.state !== 'set_aside') return <ReadSheet broadcast={answer} />;
  const offered = state.name.trim() === '' ? nameFrom(draft.words) : '';
  const look = () =>
    void work(async () => {
      await state.flush();
      await navigate(`/broadcasts/${id}/last-look`);
    });
  return (
    <>
      <Head>
        <TitleInput
          placeholder="Name it, for you only"
          value={state.name}
          onChange={(event) => state.setName(event.target.value)}
          slotProps={{ input: { 'aria-label': 'Name, for you only' } }}
        />
        {offered !== '' && (
          <Button variant="quiet" onClick={() => state.setName(offered)}>
            Call it “{offered}”
          </Button>
        )}
        <Choose
          label="Purpose"
          value={draft.purpose}
          options={[
            ['service', 'service notice'],
            ['marketing', 'marketing'],
          ]}
          onChange={(purpose) => state.change({ purpose })}
        />
        <Labels id={id} labels={answer.labels} may />
        <Others others={others} />
        <End soft small role="status">
          {answer.state === 'set_aside' && <PutBack id={id} flush={state.flush} />}Draft
          {state.saved === 'saving'
            ? ', saving…'
            : state.saved === 'not saved'
              ? ', not saved'
              : state.saved
                ? `, saved ${clockTime(state.saved, workspace.zone)}`
                : ''}
        </End>
      </Head>
      <Clashes state={state} />
      <Spoken as="h1">{called || 'New broadcast'}</Spoken>
      <SheetPanes onFocus={onFocus}>
        <Pane as="section" aria-label="To">
          <Audience id={id} draft={draft} plan={plan} uncounted={state.uncounted} sources={sources} change={state.change} />
        </Pane>
        <Pane as="section" aria-label="Words">
          <WordsPane
            id={id}
            flush={state.flush}
            draft={draft}
            plan={plan}
            sources={sources}
            change={state.change}
            reader={shown}
            language={language}
            setLanguage={(next) => {
              setLanguage(next);
              // words are proofed for someone who gets them
              setWhich(next === first ? 'usual' : next);
            }}
            seeProofs={setWhich}
          />
          <Proof
            id={id}
            draft={draft}
            plan={plan}
            language={language}
            tested={answer.tested}
            which={which}
            setWhich={setWhich}
            shown={setShown}
          />
        </Pane>
        <Pane as="section" aria-label="When">
          <WhenPane id={id} draft={draft} plan={plan} senders={answer.senders} change={state.change} />
        </Pane>
        <Tally
          id={id}
          seeProofs={setWhich}
          draft={draft}
          plan={plan}
          planning={state.planning}
          hasSenders={answer.senders.length > 0}
          trouble={trouble ?? (state.saved === 'not saved' ? state.error : undefined)}
          uncounted={state.uncounted !== null}
          change={state.change}
          look={look}
        />
      </SheetPanes>
    </>
  );
}

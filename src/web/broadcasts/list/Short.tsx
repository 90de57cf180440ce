import { Button } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { broadcasts } from '../../../core/api/sending/broadcasts';
import { people as peopleApi } from '../../../core/api/people/people';
import type { PlanSummary, ProofText } from '../../../core/api/sending/plan';
import { mayDo } from '../../../core/api/roles';
import { beginsAtOnce } from '../when/at-once';
import { leftOutWords } from '../audience/audience-words';
import type { Draft } from '../../../core/plan/draft/draft';
import { linksOf } from '../../../core/plan/draft/links';
import { ask, Refused, useAct, useGet } from '../../api/client';
import { useDesk } from '../../api/session';
import { useWork } from '../../api/work';
import { count, money, people, when } from '../../pieces/format';
import { Bit, Column, End, Head, Pane, Row, TextBox, Words } from '../../pieces/layout';
import { showPhone } from '../../pieces/phone';
import { Trouble, useNow, useTitle, Waiting } from '../../pieces/small';
import { Way } from '../../pieces/ways';
import { A_DOZEN } from '../../people/for-others';
import { AudiencePicker } from '../audience/AudiencePicker';
import { Different } from '../last-look/Different';
import { Counting } from '../sheet/Counting';
import { useDraft } from '../sheet/draft-state';
import { Editor } from '../words/Editor';
import { useEditorKnows } from '../words/editor-knows';
import { NotADraft } from './NotADraft';
import { Clashes, Others, useOthers } from '../sheet/Others';
import { SourceLine } from '../audience/SourceLine';

/** A text to a dozen people: names, words, send, on one small sheet. Each text stands there as it goes, so that it is its own last look. */
export default function Short() {
  const id = Number(useParams().id);
  const state = useDraft(id);
  const { others, onFocus } = useOthers(id);
  useTitle('Short text');
  const { answer, draft } = state;
  if (state.error && !draft)
    return (
      <Pane>
        <Trouble error={state.error} />
      </Pane>
    );
  if (!draft || !answer) return <Waiting what="Opening…" />;
  if (answer.state !== 'draft' && answer.state !== 'set_aside') return <NotADraft broadcast={answer} />;
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
          <Ending id={id} state={state} draft={draft} />
        </Column>
      </Pane>
    </>
  );
}

function WhoPart({ draft, change }: { draft: Draft; change: (part: Partial<Draft>) => void }) {
  const sources = useGet(peopleApi.sources, {}, { keep: true }).data;
  const [anchor, setAnchor] = useState<HTMLElement>();
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
          close={() => setAnchor(undefined)}
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

/** Each text as it goes, what it comes to, and the one irreversible act. */
function Ending({ id, state, draft }: { id: number; state: ReturnType<typeof useDraft>; draft: Draft }) {
  const { account, workspace, offset } = useDesk();
  const now = useNow(offset, 20_000);
  const navigate = useNavigate();
  const { plan, planning, digest } = state;
  const few = plan !== undefined && plan.people > 0 && plan.people <= A_DOZEN;
  const asked = useQuery({
    // of this very plan and these very words: others may stand there meanwhile, but nothing is sent from them
    queryKey: ['texts of a short one', id, digest, draft],
    queryFn: () => ask(broadcasts.proofs, { params: { id }, body: { draft } }),
    enabled: few && !planning,
    placeholderData: (before) => before,
    gcTime: 20_000,
  });
  const texts = asked.data?.proofs;
  const shown = asked.isSuccess && !asked.isPlaceholderData;
  const send = useAct(broadcasts.press);
  const { work, busy, error } = useWork();
  // one id for one press, however often the button is hit or the line breaks
  const pressId = useRef(crypto.randomUUID());
  const [refusedWith, setRefusedWith] = useState<PlanSummary>();
  if (!plan) return <Counting error={state.uncounted} />;
  // what the small sheet does not show is looked at on the large one
  const whole =
    plan.people > A_DOZEN ||
    plan.codes !== null ||
    draft.when.kind !== 'now' ||
    Object.values(draft.translations ?? {}).some((words) => words !== '');
  const press = () =>
    void work(async () => {
      const version = await state.flush();
      try {
        const { run_id } = await send({
          params: { id },
          body: { version: version ?? 0, digest: digest ?? '', press_id: pressId.current },
        });
        await navigate(`/runs/${run_id ?? ''}`);
      } catch (refused) {
        if (refused instanceof Refused && refused.status >= 400 && refused.status < 500) pressId.current = crypto.randomUUID();
        if (refused instanceof Refused && refused.status === 409) setRefusedWith(plan);
        state.countAnew();
        throw refused;
      }
    });
  const left = leftOutWords(plan.dropped);
  return (
    <section aria-label="Send">
      <Column gap={10}>
        {few && !whole && <Texts texts={texts} now={now} />}
        {left !== '' && <Words small>Will not get it: {left}.</Words>}
        {plan.copies && <Words small>A copy goes to {plan.copies.names.join(', ')} of the desk, counted in the cost.</Words>}
        {plan.must_fix.map((each) => (
          <Words brick small key={each.message}>
            {each.message}
          </Words>
        ))}
        {plan.hints
          .filter((hint) => !draft.dismissed?.includes(hint.check))
          .map((hint) => (
            <Words soft small key={hint.message}>
              {hint.message}
            </Words>
          ))}
        <Trouble error={error ?? (state.saved === 'not saved' ? state.error : undefined)} />
        {refusedWith && <Different before={refusedWith} after={plan} zone={workspace.zone} now={now} />}
        <Row between>
          <Row base gap={12}>
            <Bit fig figure="mid">
              {planning ? '…' : count(plan.people)}
            </Bit>
            <span>
              {plan.people === 1 ? 'person' : 'people'}, {count(plan.parts)} {plan.parts === 1 ? 'part' : 'parts'},{' '}
              {money(plan.cost_micro, plan.currency)} · from {plan.sender?.name ?? 'no sender'} ·{' '}
              {draft.purpose === 'service' ? 'service notice' : 'marketing'}
            </span>
          </Row>
          {whole ? (
            <Button
              variant="go"
              disabled={plan.must_fix.length > 0}
              onClick={() =>
                void work(async () => {
                  await state.flush();
                  await navigate(`/broadcasts/${id}/last-look`);
                })
              }
            >
              Last look
            </Button>
          ) : mayDo(account.role, 'send') ? (
            <Button variant="go" disabled={busy || planning || plan.must_fix.length > 0 || !shown} onClick={press}>
              Send to {people(plan.people)}{' '}
              {beginsAtOnce(draft, plan, now) ? 'now' : plan.first && `at\u00a0${when(plan.first, workspace.zone, now)}`}
            </Button>
          ) : (
            <span>
              Your role is “{account.role}”: someone who may send <Way to={`/broadcasts/${id}/last-look`}>has to press</Way>.
            </span>
          )}
        </Row>
        <Words soft small>
          For {plan.takeback_seconds} seconds after it you can take it back. After that it cannot be called back.
        </Words>
      </Column>
    </section>
  );
}

/** Each text as it goes. */
function Texts({ texts, now }: { texts: readonly ProofText[] | undefined; now: number }) {
  const { workspace } = useDesk();
  return (
    <Column as="ul" gap={6} aria-label="Texts">
      {(texts ?? []).map((text) => (
        <li key={text.number}>
          <Row small soft between>
            <span>
              {text.name || 'no name'}, {showPhone(text.number)}
            </span>
            <span>
              {text.parts + (text.after?.parts ?? 0)} {text.parts === 1 && !text.after ? 'part' : 'parts'},{' '}
              {when(text.due, workspace.zone, now)}
            </span>
          </Row>
          <TextBox pad="6px 10px">
            {text.text}
            {text.after && (
              <Words soft above={6}>
                then, as a text of its own: {text.after.text}
              </Words>
            )}
          </TextBox>
        </li>
      ))}
    </Column>
  );
}

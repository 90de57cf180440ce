import { Button } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { send, useGet } from '../api/client';
import { useDesk } from '../api/session';
import type { Sources } from '../people/People';
import { clockTime, count, money, when } from '../pieces/format';
import { Choose, Trouble, useNow, useTitle, Waiting } from '../pieces/small';
import { Audience } from './Audience';
import { useDraft } from './draft-state';
import { Proof } from './Proof';
import { WhenPane } from './WhenPane';
import { Words } from './Words';

/** The one page on which a broadcast is made: To, Words, When, and the tally. Choose and write in any order. */
export default function Sheet() {
  const id = Number(useParams().id);
  const navigate = useNavigate();
  const client = useQueryClient();
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 20_000);
  const state = useDraft(id);
  const sources = useGet<Sources>('/api/people/sources', { keep: true }).data;
  const [trouble, setTrouble] = useState<unknown>();
  useTitle(state.name || 'New broadcast');
  const { answer, draft, plan } = state;
  if (state.error && !draft)
    return (
      <div className="pane">
        <Trouble error={state.error} />
      </div>
    );
  if (!draft || !answer) return <Waiting what="Opening the sheet…" />;
  if (answer.state !== 'draft' && answer.state !== 'set_aside') {
    const aside = async (as: 'set_aside' | 'canceled') => {
      try {
        await send('POST', `/api/broadcasts/${id}/set-aside`, { as });
        await client.invalidateQueries();
      } catch (refused) {
        setTrouble(refused);
      }
    };
    return (
      <>
        <div className="head">
          <h1>{answer.name || 'No name'}</h1>
          <span className="soft">{answer.state}</span>
        </div>
        <div className="pane stack" style={{ maxWidth: 640 }}>
          {answer.state === 'scheduled' && answer.run && (
            <p>
              It goes to {count(answer.run.people)} people at {when(answer.run.due_at, workspace.zone, now)}. While you edit it,
              it is set aside and cannot start.
            </p>
          )}
          {answer.state === 'scheduled' && (
            <div className="row">
              <Button variant="contained" onClick={() => void aside('set_aside')}>
                Set aside and edit
              </Button>
              <Button onClick={() => void aside('canceled')}>Cancel it for {count(answer.run?.people ?? 0)} people</Button>
            </div>
          )}
          {answer.run && <Link to={`/runs/${answer.run.id}`}>Open its run</Link>}
          <div>
            <Button
              onClick={() =>
                void send<{ id: number }>('POST', '/api/broadcasts', { name: '', copy: id }).then((made) =>
                  navigate(`/broadcasts/${made.id}`),
                )
              }
            >
              Copy it
            </Button>
          </div>
          <Trouble error={trouble} />
        </div>
      </>
    );
  }
  const ready = plan && plan.must_fix.length === 0;
  const look = async () => {
    setTrouble(undefined);
    try {
      await state.flush();
      await navigate(`/broadcasts/${id}/last-look`);
    } catch (refused) {
      setTrouble(refused);
    }
  };
  const goes = (at: string | null) => (at ? when(at, workspace.zone, now) : '–');
  return (
    <>
      <div className="head">
        <input
          className="title-input"
          aria-label="Name, for you only"
          placeholder="Name it, for you only"
          value={state.name}
          onChange={(event) => state.setName(event.target.value)}
        />
        <Choose
          label="Purpose"
          value={draft.purpose}
          options={[
            ['service', 'service notice'],
            ['marketing', 'marketing'],
          ]}
          onChange={(purpose) => state.change({ purpose })}
        />
        <span className="end soft small" role="status">
          {answer.state === 'set_aside' ? 'Set aside: it does not go until you send it again · ' : ''}Draft
          {state.saved === 'saving'
            ? ', saving…'
            : state.saved === 'not saved'
              ? ', not saved'
              : state.saved
                ? `, saved ${clockTime(state.saved, workspace.zone)}`
                : ''}
        </span>
      </div>
      <h1 className="visually-hidden">{state.name || 'New broadcast'}</h1>
      <div className="sheet">
        <section className="pane" aria-label="To">
          <Audience id={id} draft={draft} plan={plan} sources={sources} change={state.change} />
        </section>
        <section className="pane" aria-label="Words">
          <Words draft={draft} plan={plan} sources={sources} change={state.change} />
          <Proof id={id} draft={draft} plan={plan} />
        </section>
        <section className="pane" aria-label="When">
          <WhenPane draft={draft} plan={plan} senders={answer.senders} change={state.change} />
        </section>
        <aside className="pane tally" aria-label="Tally">
          <div aria-live="polite" className="facts-row">
            <div>
              <div className="fig big">{count(plan?.people ?? 0)}</div>
              <div className="soft" style={{ padding: '2px 0 12px' }}>
                {plan?.people === 1 ? 'person will get it' : 'people will get it'}
              </div>
            </div>
            <div className="fact">
              <span className="hide-small">text parts</span>
              <span className="fig">
                {count(plan?.parts ?? 0)}
                <span className="only-small soft small"> parts</span>
              </span>
            </div>
            <div className="fact">
              <span className="hide-small">cost</span>
              <span className="fig">{money(plan?.cost_micro ?? 0, plan?.currency)}</span>
            </div>
            <div className="fact hide-small">
              <span>first</span>
              <span className="fig" style={{ fontSize: goes(plan?.first ?? null).length > 9 ? 16 : undefined }}>
                {draft.when.kind === 'now' && plan?.first ? 'now' : goes(plan?.first ?? null)}
              </span>
            </div>
            <div className="fact hide-small line-b">
              <span>last</span>
              <span className="fig" style={{ fontSize: goes(plan?.last ?? null).length > 9 ? 16 : undefined }}>
                {goes(plan?.last ?? null)}
              </span>
            </div>
          </div>
          <div className="hide-small stack small" style={{ paddingTop: 10, gap: 6, overflow: 'auto' }} aria-live="polite">
            <span className="strong" style={{ fontSize: 15 }}>
              {!plan
                ? ''
                : plan.must_fix.length === 0
                  ? `Nothing to fix${plan.hints.length > 0 ? `. ${plan.hints.length === 1 ? 'One hint' : `${plan.hints.length} hints`}:` : '.'}`
                  : `To fix: ${plan.must_fix.length}`}
            </span>
            {plan?.must_fix.map((each) => (
              <span key={each.message} className="brick">
                {each.message}
              </span>
            ))}
            {plan?.hints.map((each) => (
              <span key={each.message}>{each.message}</span>
            ))}
          </div>
          <div style={{ marginTop: 'auto', paddingTop: 10 }} className="stack">
            <Trouble error={trouble ?? (state.saved === 'not saved' ? state.error : undefined)} />
            <button type="button" className="go" disabled={!ready || state.planning} onClick={() => void look()}>
              Last look
            </button>
            <p className="soft small hide-small" style={{ textAlign: 'center' }}>
              nothing goes before you say so there
            </p>
          </div>
        </aside>
      </div>
    </>
  );
}

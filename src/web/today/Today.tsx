import { Button } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { mayDo } from '../../core/api/roles';
import { send, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { ago, clockTime, count, dayOf, money, people, when } from '../pieces/format';
import { showPhone } from '../pieces/phone';
import { Ring } from '../pieces/Ring';
import { Trouble, useNow, useTitle, Waiting } from '../pieces/small';

interface TodayAnswer {
  replies: {
    id: number;
    received_at: string;
    number: string;
    body: string;
    kind: string;
    person_id: number | null;
    name: string | null;
    total: number;
  }[];
  uncertain: { id: number; name: string; n: number; at: string }[];
  failed: { id: number; name: string; reason: string; n: number; at: string }[];
  missed: { id: number; name: string; note: string; due_at: string; broadcast_id: number }[];
  going: {
    id: number;
    broadcast_id: number;
    name: string;
    state: string;
    people: number;
    parts: number;
    cost_micro: number;
    due_at: string;
    last_due_at: string;
  }[];
  sent: {
    id: number;
    name: string;
    state: string;
    people: number;
    due_at: string;
    cost_micro: number;
    tally: Record<string, number>;
    answers: number;
    opted_out: number;
    clicked: number;
  }[];
  imports: { id: number; file_name: string; state: string }[];
}

/** Needs you, going out, just sent. */
export default function Today() {
  useTitle('Today');
  const navigate = useNavigate();
  const client = useQueryClient();
  const { account, workspace, offset } = useDesk();
  const now = useNow(offset, 1000);
  const answer = useGet<TodayAnswer>('/api/today', { keep: true });
  const [words, setWords] = useState('');
  const [error, setError] = useState<unknown>();
  if (answer.error && !answer.data)
    return (
      <div className="pane">
        <Trouble error={answer.error} />
      </div>
    );
  if (!answer.data) return <Waiting what="Looking at the day…" />;
  const { replies, uncertain, failed, missed, going, sent, imports } = answer.data;
  const zone = workspace.zone;
  const act = async (path: string, body: unknown = {}) => {
    setError(undefined);
    try {
      await send('POST', path, body);
      setWords('');
      await client.invalidateQueries();
    } catch (refused) {
      setError(refused);
    }
  };
  const quiet = replies.length + uncertain.length + failed.length + missed.length + imports.length === 0;
  const today = dayOf(now, zone);
  const todays = going.filter((run) => dayOf(run.due_at, zone) === today);
  const later = going.filter((run) => dayOf(run.due_at, zone) !== today);
  const start = () =>
    void send<{ id: number }>('POST', '/api/broadcasts', { name: '' }).then((made) => navigate(`/broadcasts/${made.id}`));
  return (
    <div className="today">
      <h1 className="visually-hidden">Today</h1>
      <section className="pane card" style={{ padding: '14px 20px' }} aria-label="Needs you">
        <h2 style={{ fontSize: 21, paddingBottom: 12 }}>Needs you</h2>
        <Trouble error={error} />
        {quiet && (
          <p className="line soft" style={{ paddingTop: 10 }}>
            Nothing waits for you.
          </p>
        )}
        {replies.length > 0 && (
          <div className="line" style={{ padding: '10px 0' }}>
            <div className="row between base line-b" style={{ paddingBottom: 7 }}>
              <h3>{replies[0].total === 1 ? 'A reply waits' : `${count(replies[0].total)} replies wait`} for an answer</h3>
              <Link to="/replies" className="small">
                open them
              </Link>
            </div>
            {replies.map((reply, i) => (
              <div key={reply.id} className="row nowrap" style={{ padding: '7px 0 3px', alignItems: 'baseline', gap: 12 }}>
                <span className="fig" style={{ width: 64, fontSize: 19, flex: 'none' }}>
                  {ago(now - Date.parse(reply.received_at))}
                </span>
                <span className="grow">
                  <b>{reply.name || showPhone(reply.number)}</b> “{reply.body}”
                  {reply.kind === 'maybe_stop' && (
                    <span className="row" style={{ paddingTop: 4 }}>
                      <span className="soft small">may mean stop; nothing planned goes to them until you decide</span>
                      <Button onClick={() => void act(`/api/replies/${reply.id}/opt-out`, { wrong_number: false })}>
                        Never text this number
                      </Button>
                      <Button onClick={() => void act(`/api/replies/${reply.id}/done`)}>It does not</Button>
                    </span>
                  )}
                  {i === 0 && reply.person_id && mayDo(account.role, 'send') && (
                    <form
                      className="row nowrap"
                      style={{ paddingTop: 5 }}
                      onSubmit={(event) => (event.preventDefault(), void act(`/api/people/${reply.person_id}/text`, { words }))}
                    >
                      <input
                        className="field grow"
                        aria-label={`Answer ${reply.name ?? reply.number}`}
                        placeholder="Answer…"
                        value={words}
                        onChange={(event) => setWords(event.target.value)}
                      />
                      <Button type="submit" variant="contained" disabled={words.trim() === ''}>
                        Send
                      </Button>
                    </form>
                  )}
                </span>
              </div>
            ))}
          </div>
        )}
        {missed.map((run) => (
          <div key={run.id} className="line stack" style={{ padding: '10px 0', gap: 4 }}>
            <div className="row between base">
              <h3 className="brick">{run.name} was missed</h3>
              <span className="soft small">{when(run.due_at, zone, now)}</span>
            </div>
            <p className="soft small">{run.note}</p>
            <div>
              <Button
                onClick={() =>
                  void send<{ id: number }>('POST', '/api/broadcasts', { name: run.name, copy: run.broadcast_id }).then((made) =>
                    navigate(`/broadcasts/${made.id}`),
                  )
                }
              >
                Copy it to send now
              </Button>
            </div>
          </div>
        ))}
        {failed.map((each) => (
          <div key={`${each.id}${each.reason}`} className="line stack" style={{ padding: '10px 0', gap: 3 }}>
            <div className="row between base">
              <h3 className="row nowrap">
                <span className="brick">
                  <Ring state="not_delivered" />
                </span>{' '}
                {count(each.n)} not delivered: {each.reason}
              </h3>
              <span className="soft small">
                {each.name}, {when(each.at, zone, now)}
              </span>
            </div>
            <div>
              <Link to={`/runs/${each.id}`} className="small">
                see them
              </Link>
            </div>
          </div>
        ))}
        {uncertain.map((each) => (
          <div key={each.id} className="line stack" style={{ padding: '10px 0', gap: 3 }}>
            <div className="row between base">
              <h3 className="row nowrap">
                <span className="plum">
                  <Ring state="uncertain" />
                </span>{' '}
                {count(each.n)} {each.n === 1 ? 'text' : 'texts'} uncertain
              </h3>
              <span className="soft small">
                {each.name}, {when(each.at, zone, now)}
              </span>
            </div>
            <p className="soft small">
              The line to the carrier broke as they went. They may have arrived; they are never sent again by themselves.
            </p>
            <div>
              <Link to={`/runs/${each.id}`} className="small">
                see them
              </Link>
            </div>
          </div>
        ))}
        {imports.map((each) => (
          <div key={each.id} className="line row between" style={{ padding: '10px 0' }}>
            <span>
              {each.file_name} {each.state === 'writing' ? 'is being brought in' : 'is on the bench; nothing is written yet'}
            </span>
            <Link to={`/people/bring-in/${each.id}`} className="small">
              open the bench
            </Link>
          </div>
        ))}
      </section>
      <section className="pane" style={{ padding: '14px 20px' }} aria-label="Going out">
        <div className="row between" style={{ paddingBottom: 8 }}>
          <h2 style={{ fontSize: 21 }}>Going out</h2>
          <Button onClick={start} size="medium">
            New broadcast
          </Button>
        </div>
        {going.length === 0 && (
          <p className="line soft" style={{ paddingTop: 10 }}>
            Nothing is scheduled.
          </p>
        )}
        {todays.map((run) => (
          <div key={run.id} className="line" style={{ padding: '9px 0' }}>
            <div className="row between base">
              <span className="fig mid">{run.state === 'waiting' ? clockTime(run.due_at, zone) : run.state}</span>
              <span className="soft">
                {run.state === 'waiting' ? `in ${ago(Date.parse(run.due_at) - now)}` : clockTime(run.due_at, zone)}
              </span>
            </div>
            <div className="strong">{run.name || 'no name'}</div>
            <div className="soft">
              <Link to={`/runs/${run.id}`}>{people(run.people)}</Link> · {count(run.parts)} parts ·{' '}
              {money(run.cost_micro, workspace.currency)} · until {clockTime(run.last_due_at, zone)}
            </div>
          </div>
        ))}
        {[...new Set(later.map((run) => dayOf(run.due_at, zone)))].map((day) => (
          <div key={day} style={{ borderTop: '2px solid var(--ink)', padding: '8px 0', marginTop: 6 }}>
            <div className="soft small">{day}</div>
            {later
              .filter((run) => dayOf(run.due_at, zone) === day)
              .map((run) => (
                <div key={run.id} className="row nowrap" style={{ padding: '5px 0', gap: 14 }}>
                  <span style={{ width: 74, flex: 'none' }}>{clockTime(run.due_at, zone)}</span>
                  <span className="grow">{run.name || 'no name'}</span>
                  <Link to={`/runs/${run.id}`}>{count(run.people)}</Link>
                </div>
              ))}
          </div>
        ))}
      </section>
      <section className="pane" style={{ padding: '14px 20px' }} aria-label="Just sent">
        <h2 style={{ fontSize: 21, paddingBottom: 12 }}>Just sent</h2>
        {sent.length === 0 && (
          <p className="line soft" style={{ paddingTop: 10 }}>
            Nothing yet.
          </p>
        )}
        {sent.slice(0, 4).map((run) => {
          const delivered = run.tally.delivered ?? 0;
          const bad = (run.tally.not_delivered ?? 0) + (run.tally.expired ?? 0);
          const unsure = run.tally.uncertain ?? 0;
          const going = run.people - delivered - bad - unsure;
          const part = (n: number, cls: string) =>
            n > 0 && <span className={cls} style={{ width: `${(100 * n) / Math.max(1, run.people)}%` }} />;
          return (
            <div key={run.id} className="line" style={{ padding: '10px 0' }}>
              <div className="row between base">
                <Link to={`/runs/${run.id}`} className="strong" style={{ color: 'inherit' }}>
                  {run.name || 'no name'}
                </Link>
                <span className="soft small">{when(run.due_at, zone, now)}</span>
              </div>
              <div className="outcome" style={{ height: 11, border: 0, margin: '7px 0' }}>
                {part(delivered, 'o-delivered')}
                {part(going, 'o-not_sent')}
                {part(unsure, 'o-uncertain')}
                {part(bad, 'o-not_delivered')}
              </div>
              <div className="row nowrap" style={{ gap: 10 }}>
                <span className="fig mid">
                  {run.people > 99 ? `${((100 * delivered) / run.people).toFixed(1)}%` : `${delivered} of ${run.people}`}
                </span>
                <span className="soft small">
                  {run.people > 99 ? `${count(delivered)} of ${count(run.people)} delivered` : 'delivered'}
                  <br />
                  {[
                    run.answers > 0 && `${count(run.answers)} answered`,
                    run.clicked > 0 && `${count(run.clicked)} clicked`,
                    run.opted_out > 0 && `${count(run.opted_out)} opted out`,
                    unsure > 0 && `${count(unsure)} uncertain`,
                  ]
                    .filter(Boolean)
                    .join(' · ') || 'no answers'}
                </span>
              </div>
            </div>
          );
        })}
      </section>
    </div>
  );
}

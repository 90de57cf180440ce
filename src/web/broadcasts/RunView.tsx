import { Button } from '@mui/material';
import { useInfiniteQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { get, send, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { ago, clockTime, count, when } from '../pieces/format';
import { showPhone } from '../pieces/phone';
import { State } from '../pieces/Ring';
import { Trouble, useNow, useTitle, Waiting } from '../pieces/small';
import { DelayChart, type Delay } from './DelayChart';
import { RunCost } from './RunCost';

const STATES = [
  'delivered',
  'with_carrier',
  'handing_over',
  'not_delivered',
  'expired',
  'uncertain',
  'not_sent',
  'planned',
] as const;

interface RunAnswer {
  run: {
    id: number;
    broadcast_id: number;
    name: string;
    state: string;
    people: number;
    parts: number;
    cost_micro: number;
    stored: number;
    called_off: boolean;
    due_at: string;
    last_due_at: string;
    not_after: string;
    takeback_until: string;
    pressed_at: string;
    started_at: string | null;
    ended_at: string | null;
    note: string;
    by: string | null;
    sender: string;
    sender_kind: string;
  };
  tally: Record<string, number>;
  reasons: { state: string; reason: string; n: number }[];
  events: { at: string; what: string; by: string | null }[];
  replies: { body: string; number: string; kind: string; done_at: string | null }[];
  money: { spent: number; parts: number };
  clicks: { clicked: number; links: number };
  delays: Delay[];
  opted_out: number;
}
interface Recipient {
  id: number;
  person_id: number | null;
  given_name: string | null;
  family_name: string | null;
  number: string;
  parts: number;
  state: string;
  reason: string | null;
  due_at: string;
  handed_at: string | null;
  final_at: string | null;
  body: string;
}

/** One run, live: what became of everyone, with pause and cancel while it goes. */
export default function RunView() {
  const id = Number(useParams().id);
  const navigate = useNavigate();
  const client = useQueryClient();
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 1000);
  const answer = useGet<RunAnswer>(`/api/runs/${id}`, { keep: true });
  const [filter, setFilter] = useState<{ state?: string; reason?: string }>({});
  const [open, setOpen] = useState<number>();
  const [error, setError] = useState<unknown>();
  useTitle(answer.data?.run.name ?? 'Run');
  const list = useInfiniteQuery({
    queryKey: [`/api/runs/${id}/recipients`, filter],
    initialPageParam: 0,
    queryFn: ({ pageParam }) =>
      get<{ recipients: Recipient[] }>(
        `/api/runs/${id}/recipients?after=${pageParam}${filter.state ? `&state=${filter.state}` : ''}${filter.reason ? `&reason=${encodeURIComponent(filter.reason)}` : ''}`,
      ),
    getNextPageParam: (last) => (last.recipients.length < 100 ? undefined : last.recipients[last.recipients.length - 1].id),
    placeholderData: (before) => before,
  });
  if (answer.error && !answer.data)
    return (
      <div className="pane">
        <Trouble error={answer.error} />
      </div>
    );
  if (!answer.data) return <Waiting what="Opening the run…" />;
  const { run, tally, reasons, events, replies, money: spent, clicks, delays } = answer.data;
  const zone = workspace.zone;
  const delivered = tally.delivered ?? 0;
  const notGone = tally.planned ?? 0;
  const act = async (path: string, body: unknown = {}) => {
    setError(undefined);
    try {
      await send('POST', path, body);
      await client.invalidateQueries();
    } catch (refused) {
      setError(refused);
    }
  };
  const takeBack = async (as: 'draft' | 'set_aside') => {
    await act(`/api/broadcasts/${run.broadcast_id}/set-aside`, { as });
    await navigate(`/broadcasts/${run.broadcast_id}`);
  };
  const waiting = run.state === 'waiting';
  const planning = run.state === 'planning';
  const stopping = run.state === 'stopped' && run.ended_at === null;
  const left = Math.ceil((Date.parse(run.due_at) - now) / 1000);
  const toGo = run.state === 'sending' && notGone > 0 ? Math.max(0, Date.parse(run.last_due_at) - now) : 0;
  const answers = replies.filter((reply) => reply.kind === 'reply' || reply.kind === 'maybe_stop');
  const failed = reasons.filter((each) => each.state !== 'not_sent');
  const unsent = reasons.filter((each) => each.state === 'not_sent');
  return (
    <>
      <div className="head">
        <h1>{run.name || 'No name'}</h1>
        <span className="soft small">
          {waiting
            ? `goes at ${when(run.due_at, zone, now)}`
            : planning
              ? 'the plan is being written; nothing has started'
              : run.started_at
                ? `${run.state}, since ${when(run.started_at, zone, now)}`
                : run.state}
          {run.by ? `, by ${run.by}` : ''} · from {run.sender}
        </span>
        <span className="end">
          {waiting && <Button onClick={() => void takeBack('draft')}>Take it back</Button>}
          {planning && <Button onClick={() => void takeBack('draft')}>Call it off</Button>}
          {run.state === 'sending' && <Button onClick={() => void act(`/api/runs/${id}/pause`)}>Pause</Button>}
          {run.state === 'paused' && (
            <Button variant="contained" onClick={() => void act(`/api/runs/${id}/resume`)}>
              Go on with {count(notGone)}
            </Button>
          )}
          {(run.state === 'sending' || run.state === 'paused') && notGone > 0 && (
            <Button color="error" onClick={() => void act(`/api/runs/${id}/cancel-rest`)}>
              Cancel the other {count(notGone)}
            </Button>
          )}
          {['finished', 'stopped', 'missed'].includes(run.state) && (
            <Button
              onClick={() =>
                void send<{ id: number }>('POST', '/api/broadcasts', { name: '', copy: run.broadcast_id }).then((made) =>
                  navigate(`/broadcasts/${made.id}`),
                )
              }
            >
              Copy it
            </Button>
          )}
        </span>
      </div>
      <div className="runs">
        <section className="pane" style={{ padding: '16px 20px' }} aria-label="What became of it">
          <Trouble error={error} />
          {run.note && (
            <p className="alert" style={{ marginBottom: 10 }}>
              {run.note}
            </p>
          )}
          <div className="row between base" aria-live="polite">
            <span className="row base" style={{ gap: 12 }}>
              <span className="fig big">{count(delivered)}</span>
              <span>
                of{' '}
                <button type="button" className="way" onClick={() => setFilter({})}>
                  {count(run.people)}
                </button>{' '}
                delivered
              </span>
            </span>
            {planning ? (
              <span className="row base">
                <span className="fig mid">{count(run.stored)}</span> of {count(run.people)} texts written down
              </span>
            ) : stopping ? (
              <span className="soft">stopping; what is on its way comes to its end</span>
            ) : waiting ? (
              <span className="row base">
                <span className="fig mid">{left < 120 ? `${Math.max(0, left)} s` : ago(left * 1000)}</span> until the first one
                goes
              </span>
            ) : toGo > 0 ? (
              <span className="row base">
                <span className="fig mid">{toGo < 120_000 ? `${Math.ceil(toGo / 1000)} s` : ago(toGo)}</span> to go
              </span>
            ) : (
              run.ended_at && <span className="soft">ended {when(run.ended_at, zone, now)}</span>
            )}
          </div>
          <div
            className="outcome"
            style={{ margin: '10px 0' }}
            role="img"
            aria-label={STATES.filter((state) => tally[state])
              .map((state) => `${state.replaceAll('_', ' ')} ${tally[state]}`)
              .join(', ')}
          >
            {STATES.filter((state) => tally[state]).map((state) => (
              <span
                key={state}
                className={`o-${state}`}
                style={{ width: `${(100 * (tally[state] ?? 0)) / Math.max(1, run.people)}%` }}
              />
            ))}
          </div>
          <div className="row" style={{ gap: 18 }}>
            {STATES.filter((state) => tally[state]).map((state) => (
              <span key={state} className="row nowrap" style={{ gap: 6 }}>
                <State state={state} />
                <button type="button" className="way" aria-pressed={filter.state === state} onClick={() => setFilter({ state })}>
                  {count(tally[state] ?? 0)}
                </button>
              </span>
            ))}
          </div>
          {delays.length > 0 && <DelayChart delays={delays} zone={zone} events={events} />}
          <div className="row between line" style={{ margin: '14px 0 4px', paddingTop: 12 }}>
            <span className="row base">
              <h2>Recipients</h2>
              <span className="soft small">
                {filter.state ? filter.state.replaceAll('_', ' ') : 'all'}
                {filter.reason ? `, ${filter.reason}` : ''}
              </span>
              {(filter.state || filter.reason) && (
                <button type="button" className="way small" onClick={() => setFilter({})}>
                  all
                </button>
              )}
            </span>
            <Button component="a" href={`/api/runs/${id}/recipients.csv`} download>
              Export
            </Button>
          </div>
          <div className="table-wrap">
            <table>
              <thead>
                <tr>
                  <th scope="col">State</th>
                  <th scope="col">Person</th>
                  <th scope="col">Number</th>
                  <th scope="col" className="num">
                    Parts
                  </th>
                  <th scope="col">Planned</th>
                  <th scope="col">With carrier</th>
                  <th scope="col">Final</th>
                  <th scope="col">Why</th>
                </tr>
              </thead>
              <tbody>
                {(list.data?.pages ?? [])
                  .flatMap((page) => page.recipients)
                  .map((each) => (
                    <tr key={each.id}>
                      <td>
                        <State state={each.state} />
                      </td>
                      <td>
                        <button
                          type="button"
                          className="way"
                          style={{ color: 'inherit' }}
                          aria-expanded={open === each.id}
                          onClick={() => setOpen(open === each.id ? undefined : each.id)}
                        >
                          {`${each.given_name ?? ''} ${each.family_name ?? ''}`.trim() || 'no name'}
                        </button>
                        {open === each.id && (
                          <div className="text small" style={{ marginTop: 6 }}>
                            {each.body || 'erased'}
                            {each.person_id && (
                              <div>
                                <Link to={`/people/${each.person_id}`}>open the person</Link>
                              </div>
                            )}
                          </div>
                        )}
                      </td>
                      <td style={{ whiteSpace: 'nowrap' }}>{showPhone(each.number)}</td>
                      <td className="num">{each.parts}</td>
                      <td style={{ whiteSpace: 'nowrap' }}>{clockTime(each.due_at, zone, true)}</td>
                      <td style={{ whiteSpace: 'nowrap' }}>{each.handed_at ? clockTime(each.handed_at, zone, true) : ''}</td>
                      <td style={{ whiteSpace: 'nowrap' }}>{each.final_at ? clockTime(each.final_at, zone, true) : ''}</td>
                      <td className="soft">{each.reason}</td>
                    </tr>
                  ))}
              </tbody>
            </table>
          </div>
          {list.hasNextPage && (
            <div style={{ paddingTop: 10 }}>
              <Button onClick={() => void list.fetchNextPage()}>Show more recipients</Button>
            </div>
          )}
        </section>
        <aside className="pane card stack" aria-label="Reasons, answers, cost" style={{ gap: 16 }}>
          <div>
            <h2 className="line-b" style={{ paddingBottom: 6 }}>
              Not delivered
            </h2>
            {failed.length === 0 && (
              <p className="soft small" style={{ paddingTop: 6 }}>
                Nothing so far.
              </p>
            )}
            {failed.map((each) => (
              <div key={each.state + each.reason} className="row between line-b" style={{ padding: '7px 0' }}>
                <span>
                  <b>{count(each.n)}</b> {each.reason}
                </span>
                <button type="button" className="way small" onClick={() => setFilter({ state: each.state, reason: each.reason })}>
                  see {count(each.n)}
                </button>
              </div>
            ))}
          </div>
          {unsent.length > 0 && (
            <div>
              <h2 className="line-b" style={{ paddingBottom: 6 }}>
                Not sent
              </h2>
              {unsent.map((each) => (
                <div key={each.reason} className="row between line-b" style={{ padding: '7px 0' }}>
                  <span>
                    <b>{count(each.n)}</b> {each.reason}
                  </span>
                  <button
                    type="button"
                    className="way small"
                    onClick={() => setFilter({ state: 'not_sent', reason: each.reason })}
                  >
                    see {count(each.n)}
                  </button>
                </div>
              ))}
            </div>
          )}
          <div>
            <h2 className="line-b" style={{ paddingBottom: 6 }}>
              Answers
            </h2>
            <div className="row between line-b" style={{ padding: '7px 0' }}>
              <span>
                <b>{count(answers.length)}</b> {answers.length === 1 ? 'reply' : 'replies'}
                {answers.some((reply) => !reply.done_at) ? `, ${answers.filter((reply) => !reply.done_at).length} to answer` : ''}
              </span>
              <Link to="/replies" className="small">
                open
              </Link>
            </div>
            {answers.slice(0, 3).map((reply, i) => (
              <p key={i} className="soft small" style={{ paddingTop: 4 }}>
                “{reply.body}”
              </p>
            ))}
            {clicks.links > 0 && (
              <div className="line-b" style={{ padding: '7px 0' }}>
                <b>{count(clicks.clicked)}</b> clicked the link
              </div>
            )}
            <div className="line-b" style={{ padding: '7px 0' }}>
              <b>{count(answer.data.opted_out)}</b> opted out
            </div>
          </div>
          <RunCost spent={spent} shown={run} ended={run.ended_at !== null} currency={workspace.currency} />
          <div>
            <h2>Course</h2>
            <ul className="small soft">
              {events.map((event, i) => (
                <li key={i}>
                  {clockTime(event.at, zone, true)} {event.what}
                  {event.by ? `, ${event.by}` : ''}
                </li>
              ))}
              {run.started_at && <li>{clockTime(run.started_at, zone, true)} started</li>}
              {run.ended_at && <li>{clockTime(run.ended_at, zone, true)} ended</li>}
            </ul>
          </div>
        </aside>
      </div>
    </>
  );
}

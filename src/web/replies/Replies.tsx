import { Button } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { mayDo } from '../../core/api/roles';
import { send, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { ago, when } from '../pieces/format';
import { showPhone } from '../pieces/phone';
import { Trouble, useNow, useTitle, Waiting } from '../pieces/small';
import { WrongNumber } from './WrongNumber';

interface Reply {
  id: number;
  received_at: string;
  number: string;
  body: string;
  kind: string;
  person_id: number | null;
  given_name: string | null;
  family_name: string | null;
  run: string | null;
  run_id: number | null;
  done_at: string | null;
  opted_out: boolean;
  /** Some of its parts never came. */
  incomplete: boolean;
  /** What could not be done about it. */
  trouble: string | null;
}
const KIND: Record<string, string> = {
  maybe_stop: 'may mean stop: nothing planned goes to them until you decide',
  help: 'asked for help and got it',
  stop: 'opted out',
  start: 'came back',
};

/** Longest waiting first; each is answered, or put away, in place. */
export default function Replies() {
  useTitle('Replies');
  const client = useQueryClient();
  const { account, workspace, offset } = useDesk();
  const now = useNow(offset, 5000);
  const [done, setDone] = useState(false);
  const [words, setWords] = useState<Record<number, string>>({});
  const [error, setError] = useState<unknown>();
  const answer = useGet<{ replies: Reply[] }>(`/api/replies${done ? '?done=1' : ''}`, { keep: true });
  const act = async (path: string, body: unknown = {}) => {
    setError(undefined);
    try {
      await send('POST', path, body);
      await client.invalidateQueries();
    } catch (refused) {
      setError(refused);
    }
  };
  return (
    <>
      <div className="head">
        <h1>Replies</h1>
        <div className="tabs" role="group" aria-label="Which replies">
          <button type="button" className={done ? '' : 'on'} aria-pressed={!done} onClick={() => setDone(false)}>
            waiting
          </button>
          <button type="button" className={done ? 'on' : ''} aria-pressed={done} onClick={() => setDone(true)}>
            answered or put away
          </button>
        </div>
      </div>
      <div className="pane" style={{ flex: 1 }} tabIndex={0} role="region" aria-label="Replies">
        <div style={{ maxWidth: 900 }}>
          <Trouble error={error ?? answer.error} />
          {!answer.data ? (
            <Waiting what="Loading…" />
          ) : answer.data.replies.length === 0 ? (
            <p className="soft">{done ? 'None yet.' : 'Nobody waits for an answer.'}</p>
          ) : (
            answer.data.replies.map((reply) => (
              <article
                key={reply.id}
                className="row line-b"
                style={{ padding: '12px 0', gap: 16, alignItems: 'baseline', flexWrap: 'nowrap' }}
              >
                <span className="fig mid" style={{ width: 92, flex: 'none', fontSize: done ? 15 : 24 }}>
                  {done ? when(reply.received_at, workspace.zone, now) : ago(now - Date.parse(reply.received_at))}
                </span>
                <div className="grow stack" style={{ gap: 6 }}>
                  <div className="row base">
                    {reply.person_id ? (
                      <Link to={`/people/${reply.person_id}`} className="strong">
                        {`${reply.given_name ?? ''} ${reply.family_name ?? ''}`.trim() || showPhone(reply.number)}
                      </Link>
                    ) : (
                      <b>{showPhone(reply.number)}</b>
                    )}
                    {reply.run_id && (
                      <span className="soft small">
                        to <Link to={`/runs/${reply.run_id}`}>{reply.run}</Link>
                      </span>
                    )}
                    {KIND[reply.kind] && <span className="plum small">{KIND[reply.kind]}</span>}
                    {reply.opted_out && <span className="brick small">opted out</span>}
                  </div>
                  <div className="bubble from" style={{ fontSize: 16 }}>
                    {reply.body || <i className="soft">erased</i>}
                  </div>
                  {reply.incomplete && <span className="plum small">A part of this text never came.</span>}
                  {reply.trouble && (
                    <span className="brick small" role="status">
                      {reply.trouble}
                    </span>
                  )}
                  {!done && mayDo(account.role, 'write') && (
                    <div className="row">
                      {reply.person_id && !reply.opted_out && mayDo(account.role, 'send') && (
                        <form
                          className="row nowrap grow"
                          // on a phone it has a line of its own
                          style={{ minWidth: 'min(100%, 280px)' }}
                          onSubmit={(event) => (
                            event.preventDefault(),
                            void act(`/api/people/${reply.person_id}/text`, { words: words[reply.id] })
                          )}
                        >
                          <input
                            className="field grow"
                            aria-label={`Answer ${reply.given_name ?? reply.number}`}
                            placeholder="Answer…"
                            value={words[reply.id] ?? ''}
                            onChange={(event) => setWords({ ...words, [reply.id]: event.target.value })}
                          />
                          <Button type="submit" variant="contained" disabled={(words[reply.id] ?? '').trim() === ''}>
                            Send
                          </Button>
                        </form>
                      )}
                      <Button onClick={() => void act(`/api/replies/${reply.id}/done`)}>No answer needed</Button>
                      <WrongNumber
                        number={showPhone(reply.number)}
                        whose={`${reply.given_name ?? ''} ${reply.family_name ?? ''}`.trim()}
                        confirm={() => void act(`/api/replies/${reply.id}/opt-out`, { wrong_number: true })}
                      />
                      <Button onClick={() => void act(`/api/replies/${reply.id}/opt-out`, { wrong_number: false })}>
                        Opted out
                      </Button>
                    </div>
                  )}
                </div>
              </article>
            ))
          )}
        </div>
      </div>
    </>
  );
}

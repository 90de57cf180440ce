import { Button } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { send, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { clockTime, count, dayOf, when } from '../pieces/format';
import { showPhone } from '../pieces/phone';
import { Trouble, useNow, useSettled, useTitle, Waiting } from '../pieces/small';

interface Screen {
  direction: 'in' | 'out';
  address: string;
  text: string;
  at: string;
  arrived: number;
  total: number;
}
interface PhonesAnswer {
  total: number;
  phones: { number: string; name: string; lastAt: string; texts: Screen[] }[];
}

/** The practice carrier's handsets with what is on their screens; answer as one, and move the demo's clock. */
export default function Phones() {
  useTitle('Phones');
  const client = useQueryClient();
  const { session, workspace, offset } = useDesk();
  const now = useNow(offset);
  const [typed, setTyped] = useState('');
  const search = useSettled(typed, 250);
  const [words, setWords] = useState<Record<string, string>>({});
  const [error, setError] = useState<unknown>();
  const answer = useGet<PhonesAnswer>(`/api/phones?search=${encodeURIComponent(search)}`, { every: 1500, keep: true });
  const move = async (minutes: number) => {
    setError(undefined);
    try {
      await send('POST', '/api/clock', { minutes });
      await client.invalidateQueries();
    } catch (refused) {
      setError(refused);
    }
  };
  const answerAs = async (number: string, to: string) => {
    setError(undefined);
    try {
      await send('POST', `/api/phones/${number}/text`, { to, text: words[number] });
      setWords({ ...words, [number]: '' });
      await answer.refetch();
    } catch (refused) {
      setError(refused);
    }
  };
  return (
    <>
      <div className="head">
        <h1>Phones</h1>
        <span className="soft">simulated handsets of the practice carrier; nothing leaves this machine</span>
        {session.demo && (
          <span className="end">
            <span>
              {dayOf(now, workspace.zone)}, <b>{clockTime(now, workspace.zone, true)}</b>
            </span>
            <Button onClick={() => void move(10)}>10 min on</Button>
            <Button onClick={() => void move(60)}>1 hour on</Button>
            <Button onClick={() => void move(720)}>12 hours on</Button>
          </span>
        )}
      </div>
      <div className="pane" style={{ flex: 1 }} tabIndex={0} role="region" aria-label="Handsets">
        <div className="row" style={{ paddingBottom: 12 }}>
          <input
            className="field"
            type="search"
            aria-label="Find a phone by number or text"
            placeholder="Number or words"
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
          />
          {answer.data && (
            <span className="soft small" role="status">
              {answer.data.total === 1 ? '1 phone has' : `${count(answer.data.total)} phones have`} something on the screen
              {answer.data.total > answer.data.phones.length ? `, the latest ${answer.data.phones.length} shown` : ''}
            </span>
          )}
        </div>
        <Trouble error={error ?? answer.error} />
        {!answer.data
          ? !answer.error && <Waiting what="Looking at the phones…" />
          : answer.data.total === 0 && (
              <p className="soft">
                {search
                  ? 'No phone has that on its screen.'
                  : 'Nothing has arrived on any phone yet. Send something, or move the clock on.'}
              </p>
            )}
        <div className="phones">
          {(answer.data?.phones ?? []).map((phone) => {
            const to = [...phone.texts].reverse().find((text) => text.direction === 'in')?.address ?? '72345';
            return (
              <section key={phone.number} className="phone" aria-label={`Phone ${phone.number}`}>
                <header className="row between base">
                  <b className="cut">{phone.name || 'no name'}</b>
                  <span className="soft small">{showPhone(`+${phone.number}`)}</span>
                </header>
                <div className="screen" tabIndex={0} role="log" aria-label={`Texts on ${phone.number}`}>
                  {phone.texts.map((text, i) => (
                    <div key={i} className={`bubble ${text.direction === 'in' ? 'from' : 'to'}`}>
                      {text.text}
                      <span className="small">
                        {text.direction === 'in' ? `from ${text.address}` : `to ${text.address}`},{' '}
                        {when(text.at, workspace.zone, now)}
                        {text.arrived < text.total ? `, ${text.arrived} of ${text.total} parts` : ''}
                      </span>
                    </div>
                  ))}
                </div>
                {/^\d/.test(to) && (
                  <form onSubmit={(event) => (event.preventDefault(), void answerAs(phone.number, to))}>
                    <input
                      className="field grow"
                      aria-label={`Answer as ${phone.number}`}
                      placeholder="Answer as this phone"
                      maxLength={120}
                      value={words[phone.number] ?? ''}
                      onChange={(event) => setWords({ ...words, [phone.number]: event.target.value })}
                    />
                    <Button type="submit" disabled={(words[phone.number] ?? '').trim() === ''}>
                      Send
                    </Button>
                  </form>
                )}
              </section>
            );
          })}
        </div>
      </div>
    </>
  );
}

import { Button } from '@mui/material';
import { useState } from 'react';
import { send } from '../api/client';
import { when } from '../pieces/format';
import { showPhone } from '../pieces/phone';
import { Choose } from '../pieces/small';

export interface ConsentEvent {
  purpose: string;
  act: string;
  how: string;
  evidence: string;
  wording: string;
  number: string;
  at: string;
  by: string | null;
}

const PURPOSE = { service: 'notices', marketing: 'marketing' } as Record<string, string>;

/** The consent record: what counts now, everything said before, and writing down something new. */
export function ConsentPart({
  id,
  number,
  events,
  may,
  optedOut,
  zone,
  now,
  act,
}: {
  id: number;
  number: string | null;
  events: readonly ConsentEvent[];
  may: boolean;
  optedOut: boolean;
  zone: string;
  now: number;
  act: (work: () => Promise<unknown>) => Promise<void>;
}) {
  const [writing, setWriting] = useState(false);
  const [all, setAll] = useState(false);
  const [said, setSaid] = useState({ purpose: 'marketing', act: 'granted', how: 'in person', evidence: '', wording: '' });
  const line = (event: ConsentEvent) =>
    `${event.act}, ${event.how}${event.evidence ? ` (${event.evidence})` : ''}, ${when(event.at, zone, now)}${event.by ? `, ${event.by}` : ''}`;
  const latest = (purpose: string) => events.find((event) => event.purpose === purpose && event.number === number);
  return (
    <>
      <h2 className="line" style={{ paddingTop: 9 }}>
        Consent
      </h2>
      <dl className="facts small">
        {(['service', 'marketing'] as const).map((purpose) => {
          const event = latest(purpose);
          const nothing = !event || event.act === 'cleared';
          return (
            <FactPair
              key={purpose}
              name={PURPOSE[purpose]}
              value={nothing ? (purpose === 'service' ? 'allowed unless withdrawn' : 'not granted') : line(event)}
              brick={event?.act === 'withdrawn'}
            />
          );
        })}
      </dl>
      {all && (
        <ul className="small">
          {events.map((event, i) => (
            <li key={i}>
              {PURPOSE[event.purpose]} {line(event)}
              {event.number !== number ? `, for ${showPhone(event.number)}` : ''}
              {event.wording ? `: “${event.wording}”` : ''}
            </li>
          ))}
        </ul>
      )}
      <p className="small row" style={{ gap: 12 }}>
        {events.length > 0 && (
          <button type="button" className="way" aria-expanded={all} onClick={() => setAll(!all)}>
            {all ? 'less' : `the whole record, ${events.length}`}
          </button>
        )}
        {may && number !== null && (
          <button type="button" className="way" aria-expanded={writing} onClick={() => setWriting(!writing)}>
            write down what they said
          </button>
        )}
        {may && number !== null && !optedOut && (
          <button
            type="button"
            className="way brick"
            onClick={() => void act(() => send('POST', `/api/people/${id}/opt-out`, { words: '' }))}
          >
            they said stop
          </button>
        )}
      </p>
      {writing && (
        <form
          className="stack small"
          style={{ gap: 6 }}
          onSubmit={(event) => {
            event.preventDefault();
            void act(() => send('POST', `/api/people/${id}/consent`, said).then(() => setWriting(false)));
          }}
        >
          <span>
            <Choose
              label="Purpose"
              value={said.purpose}
              options={[
                ['marketing', 'marketing'],
                ['service', 'service notices'],
              ]}
              onChange={(purpose) => setSaid({ ...said, purpose })}
            />{' '}
            <Choose
              label="What they said"
              value={said.act}
              options={[
                ['granted', 'granted'],
                ['withdrawn', 'withdrawn'],
              ]}
              onChange={(next) => setSaid({ ...said, act: next })}
            />
          </span>
          <input
            className="field"
            aria-label="How"
            placeholder="how: in person, paper form…"
            value={said.how}
            onChange={(event) => setSaid({ ...said, how: event.target.value })}
          />
          <input
            className="field"
            aria-label="Evidence"
            placeholder="where that can be seen"
            value={said.evidence}
            onChange={(event) => setSaid({ ...said, evidence: event.target.value })}
          />
          <input
            className="field"
            aria-label="Wording"
            placeholder="the wording they agreed to"
            value={said.wording}
            onChange={(event) => setSaid({ ...said, wording: event.target.value })}
          />
          <span>
            <Button type="submit" disabled={said.how.trim() === ''}>
              Write it down
            </Button>
          </span>
        </form>
      )}
    </>
  );
}

function FactPair({ name, value, brick }: { name: string; value: string; brick: boolean }) {
  return (
    <>
      <dt>{name}</dt>
      <dd className={brick ? 'brick' : ''}>{value}</dd>
    </>
  );
}

import { Button } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { mayDo } from '../../core/api/roles';
import { send, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { clockTime, fieldText, when, zoneName } from '../pieces/format';
import { showPhone } from '../pieces/phone';
import { Trouble, useNow, Waiting } from '../pieces/small';
import { nameOf, type Sources } from './People';
import { PersonForm, type Editable } from './PersonForm';

interface Known {
  person: Editable & { id: number; reach: string; shares: number };
  lists: { id: number; name: string }[];
  tags: { id: number; name: string }[];
  consent: { purpose: string; act: string; how: string; evidence: string; number: string; at: string }[];
  texts: {
    id: number;
    direction: 'to' | 'from';
    body: string;
    at: string;
    state?: string;
    reason?: string | null;
    run?: string | null;
    kind?: string;
  }[];
  suppressed: { at: string; how: string; words: string } | null;
}

/** Everything known about a person, with the thread and the consent record. */
export function PersonPanel({ id, sources, close }: { id: number; sources: Sources | undefined; close: () => void }) {
  const { account, workspace, offset } = useDesk();
  const now = useNow(offset, 30_000);
  const client = useQueryClient();
  const answer = useGet<Known>(`/api/people/${id}`, { keep: true });
  const [editing, setEditing] = useState(false);
  const [words, setWords] = useState('');
  const [error, setError] = useState<unknown>();
  if (answer.error)
    return (
      <aside className="pane card">
        <Trouble error={answer.error} />
      </aside>
    );
  if (!answer.data)
    return (
      <aside className="pane card">
        <Waiting what="Opening…" />
      </aside>
    );
  const { person, lists, tags, consent, texts, suppressed } = answer.data;
  const act = async (work: () => Promise<unknown>) => {
    setError(undefined);
    try {
      await work();
      await client.invalidateQueries();
    } catch (refused) {
      setError(refused);
    }
  };
  const labels = new Map((sources?.fields ?? []).map((field) => [field.slug, field.label]));
  const thread = [...texts].sort((a, b) => (a.at < b.at ? -1 : 1));
  const other = (sources?.lists ?? []).filter((list) => !lists.some((on) => on.id === list.id));
  return (
    <aside className="pane card" aria-label={nameOf(person)} style={{ display: 'flex', flexDirection: 'column', gap: 10 }}>
      <div className="row between base">
        <h1>{nameOf(person)}</h1>
        <span className="row">
          <Button onClick={() => setEditing(true)}>Edit</Button>
          <Button onClick={close} aria-label="Close this person">
            Close
          </Button>
        </span>
      </div>
      <dl className="facts">
        <dt>text number</dt>
        <dd>
          {showPhone(person.number)}
          {person.shares > 0 ? <span className="soft"> shared with {person.shares}</span> : ''}
        </dd>
        <dt>can be texted</dt>
        <dd className={person.reach === 'yes' ? '' : 'brick'}>
          {person.reach}
          {suppressed ? `, ${when(suppressed.at, workspace.zone, now)}, ${suppressed.how}` : ''}
        </dd>
        {person.zone && (
          <>
            <dt>their time</dt>
            <dd>
              {clockTime(now, person.zone)} {zoneName(person.zone)}{' '}
              {person.zone_guessed && <span className="soft">(guessed from the number)</span>}
            </dd>
          </>
        )}
        {person.language && (
          <>
            <dt>language</dt>
            <dd>{person.language}</dd>
          </>
        )}
        {person.reference && (
          <>
            <dt>reference</dt>
            <dd>{person.reference}</dd>
          </>
        )}
        {Object.entries(person.fields).map(([slug, value]) => (
          <FieldRow key={slug} label={labels.get(slug) ?? slug} value={value} />
        ))}
        <dt>lists</dt>
        <dd>
          {lists.map((list, i) => (
            <span key={list.id}>
              {i > 0 ? ', ' : ''}
              <Link to={`/people?list=${list.id}`}>{list.name}</Link>{' '}
              <button
                type="button"
                className="way small"
                aria-label={`Take off ${list.name}`}
                onClick={() => void act(() => send('DELETE', `/api/lists/${list.id}/members/${id}`))}
              >
                ×
              </button>
            </span>
          ))}
          {other.length > 0 && (
            <select
              className="field small"
              aria-label="Put on a list"
              value=""
              onChange={(event) => void act(() => send('PUT', `/api/lists/${event.target.value}/members/${id}`))}
              style={{ marginLeft: lists.length ? 6 : 0, maxWidth: 130 }}
            >
              <option value="">put on…</option>
              {other.map((list) => (
                <option key={list.id} value={list.id}>
                  {list.name}
                </option>
              ))}
            </select>
          )}
        </dd>
        {tags.length > 0 && (
          <>
            <dt>tags</dt>
            <dd>{tags.map((tag) => tag.name).join(', ')}</dd>
          </>
        )}
      </dl>
      <h2 className="line" style={{ paddingTop: 9 }}>
        Consent
      </h2>
      {consent.length === 0 ? (
        <p className="soft small">Nothing on record: service notices are allowed unless withdrawn, marketing is not.</p>
      ) : (
        <ul className="small">
          {consent.map((event, i) => (
            <li key={i}>
              {event.purpose === 'service' ? 'service notices' : 'marketing'} {event.act}, {event.how}
              {event.evidence ? ` (${event.evidence})` : ''}, {when(event.at, workspace.zone, now)}
              {event.number !== person.number ? `, for ${showPhone(event.number)}` : ''}
            </li>
          ))}
        </ul>
      )}
      <h2 className="line" style={{ paddingTop: 9 }}>
        Texts
      </h2>
      <div className="stack" style={{ gap: 7 }}>
        {thread.length === 0 && <p className="soft small">None yet.</p>}
        {thread.map((text) => (
          <div key={`${text.direction}${text.id}`} className={`bubble ${text.direction}`}>
            {text.body || <i className="soft">erased</i>}
            <span className="small">
              {when(text.at, workspace.zone, now)}
              {text.state ? ` · ${text.state.replaceAll('_', ' ')}` : ''}
              {text.reason ? `: ${text.reason}` : ''}
              {text.run ? ` · ${text.run}` : ''}
            </span>
          </div>
        ))}
      </div>
      <Trouble error={error} />
      {mayDo(account.role, 'send') && person.reach === 'yes' && (
        <form
          className="row nowrap"
          onSubmit={(event) => (
            event.preventDefault(),
            void act(() => send('POST', `/api/people/${id}/text`, { words }).then(() => setWords('')))
          )}
        >
          <input
            className="field grow"
            aria-label={`Text ${nameOf(person)}`}
            placeholder={`Text ${person.given_name || 'them'}…`}
            value={words}
            onChange={(event) => setWords(event.target.value)}
          />
          <Button type="submit" variant="contained" disabled={words.trim() === ''}>
            Send
          </Button>
        </form>
      )}
      {mayDo(account.role, 'manage') && (
        <p className="small">
          <button
            type="button"
            className="way brick"
            onClick={() => {
              if (
                window.confirm(
                  `Erase ${nameOf(person)}? Everything known about them goes; a number that opted out stays in the register.`,
                )
              )
                void act(() => send('DELETE', `/api/people/${id}`).then(close));
            }}
          >
            Erase this person
          </button>
        </p>
      )}
      {editing && <PersonForm person={person} sources={sources} close={() => setEditing(false)} />}
    </aside>
  );
}

function FieldRow({ label, value }: { label: string; value: string }) {
  return (
    <>
      <dt>{label}</dt>
      <dd>{fieldText(value)}</dd>
    </>
  );
}

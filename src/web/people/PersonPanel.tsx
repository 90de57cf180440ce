import { Button } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Condition } from '../../core/audience/condition';
import { mayDo } from '../../core/api/roles';
import { send, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { clockTime, fieldText, wallTime, when, zoneName } from '../pieces/format';
import { showPhone } from '../pieces/phone';
import { Trouble, useNow, Waiting } from '../pieces/small';
import { ConsentPart, type ConsentEvent } from './ConsentPart';
import { CONTACT_WORDS, DependantForm, type DependantRow } from './DependantForm';
import { Merge } from './MergePart';
import { PersonForm, type Editable } from './PersonForm';
import { WhyPart } from './WhyPart';
import { nameOf, type Sources } from './sources';

interface Known {
  person: Editable & { id: number; reach: string; shares: number };
  lists: { id: number; name: string }[];
  tags: { id: number; name: string }[];
  consent: ConsentEvent[];
  texts: {
    id: number;
    direction: 'to' | 'from';
    body: string;
    at: string;
    state?: string;
    reason?: string | null;
    run?: string | null;
    run_id?: number | null;
    kind?: string;
  }[];
  dependants: DependantRow[];
  sharers: { id: number; given_name: string; family_name: string }[];
  suppressed: { at: string; how: string; words: string } | null;
}

/** Everything known about a person: why in the rule, contacts, consent record, the thread. */
export function PersonPanel({
  id,
  sources,
  rule,
  close,
}: {
  id: number;
  sources: Sources | undefined;
  rule: Condition | undefined;
  close: () => void;
}) {
  const { account, workspace, offset } = useDesk();
  const now = useNow(offset, 30_000);
  const client = useQueryClient();
  const answer = useGet<Known>(`/api/people/${id}`, { keep: true });
  const [editing, setEditing] = useState(false);
  const [dependant, setDependant] = useState<DependantRow | 'new'>();
  const [merging, setMerging] = useState(false);
  const [words, setWords] = useState('');
  const [error, setError] = useState<unknown>();
  if (answer.error)
    return (
      <aside className="pane card">
        <Trouble error={answer.error} />
        <Button onClick={close}>Close</Button>
      </aside>
    );
  if (!answer.data)
    return (
      <aside className="pane card">
        <Waiting what="Opening…" />
      </aside>
    );
  const { person, lists, tags, consent, texts, dependants, sharers, suppressed } = answer.data;
  const act = async (work: () => Promise<unknown>) => {
    setError(undefined);
    try {
      await work();
      await client.invalidateQueries();
    } catch (refused) {
      setError(refused);
    }
  };
  const labels = new Map(
    (sources?.fields ?? []).filter((field) => field.about === 'person').map((field) => [field.slug, field.label]),
  );
  const thread = [...texts].sort((a, b) => (a.at < b.at ? -1 : 1));
  const may = mayDo(account.role, 'write');
  return (
    <aside className="pane card" aria-label={nameOf(person)} style={{ display: 'flex', flexDirection: 'column', gap: 9 }}>
      <div className="row between base">
        <h1>{nameOf(person)}</h1>
        <span className="row">
          {may && <Button onClick={() => setEditing(true)}>Edit</Button>}
          <Button onClick={close} aria-label="Close this person">
            Close
          </Button>
        </span>
      </div>
      <dl className="facts">
        <dt>text number</dt>
        <dd>
          {showPhone(person.number)}
          {person.number_kind === 'mobile' || person.number_kind === 'fixed' ? (
            <span className="soft">
              {' '}
              {person.number_kind === 'fixed' ? 'fixed line' : 'mobile'}
              {person.kind_source ? `, ${person.kind_source === 'file' ? 'by the file' : person.kind_source}` : ''}
            </span>
          ) : null}
          {sharers.length > 0 && (
            <span className="soft">
              {' '}
              shared with{' '}
              {sharers.map((each, i) => (
                <span key={each.id}>
                  {i > 0 ? ', ' : ''}
                  <Link to={`/people/${each.id}`}>{nameOf(each)}</Link>
                </span>
              ))}
            </span>
          )}
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
        {person.quiet && (
          <Fact
            name="not disturbed"
            value={`${wallTime(person.quiet.slice(0, 5))} to ${wallTime(person.quiet.slice(6))}, their time`}
          />
        )}
        {person.language && <Fact name="language" value={person.language} />}
        {person.reference && <Fact name="reference" value={person.reference} />}
        {person.born && <Fact name="born" value={fieldText(person.born)} />}
        {Object.entries(person.fields)
          .filter(([, value]) => value !== '')
          .map(([slug, value]) => (
            <Fact key={slug} name={labels.get(slug) ?? slug.replaceAll('_', ' ')} value={fieldText(value)} />
          ))}
        {(['lists', 'tags'] as const).map((kind) => (
          <Groups
            key={kind}
            kind={kind}
            mine={kind === 'lists' ? lists : tags}
            all={(kind === 'lists' ? sources?.lists : sources?.tags) ?? []}
            may={may}
            put={(group) => void act(() => send('PUT', `/api/${kind}/${group}/members/${id}`))}
            take={(group) => void act(() => send('DELETE', `/api/${kind}/${group}/members/${id}`))}
          />
        ))}
      </dl>
      {rule && <WhyPart rule={rule} id={id} />}
      {(dependants.length > 0 || may) && (
        <>
          <div className="row between base line" style={{ paddingTop: 9 }}>
            <h2>Contact of</h2>
            {may && (
              <button type="button" className="way small" onClick={() => setDependant('new')}>
                add someone
              </button>
            )}
          </div>
          {dependants.length === 0 && <p className="soft small">Nobody.</p>}
          <ul className="small stack" style={{ gap: 5 }}>
            {dependants.map((each) => (
              <li key={each.id}>
                <button type="button" className="way strong" onClick={() => setDependant(each)}>
                  {nameOf(each)}
                </button>{' '}
                {Object.values(each.fields).filter(Boolean).join(', ')}{' '}
                <span className="soft">
                  {CONTACT_WORDS[each.contact] ?? `contact ${each.contact}`}
                  {(each.others ?? []).length > 0 ? ', also ' : ''}
                </span>
                {(each.others ?? []).map((other, i) => (
                  <span key={other.id}>
                    {i > 0 ? ', ' : ''}
                    <Link to={`/people/${other.id}`}>{other.name || 'no name'}</Link>
                  </span>
                ))}
                {each.must_not_receive && <span className="brick"> must not receive</span>}
              </li>
            ))}
          </ul>
        </>
      )}
      <ConsentPart
        id={id}
        number={person.number}
        events={consent}
        may={may}
        optedOut={suppressed !== null}
        zone={workspace.zone}
        now={now}
        act={act}
      />
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
              {text.run && text.run_id ? (
                <>
                  {' · '}
                  <Link to={`/runs/${text.run_id}`}>{text.run}</Link>
                </>
              ) : (
                ''
              )}
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
      <p className="small row" style={{ gap: 14 }}>
        {may && (
          <button type="button" className="way" aria-expanded={merging} onClick={() => setMerging(!merging)}>
            Merge with another…
          </button>
        )}
        {mayDo(account.role, 'manage') && (
          <Erase name={nameOf(person)} erase={() => act(() => send('DELETE', `/api/people/${id}`).then(close))} />
        )}
      </p>
      {merging && <Merge id={id} name={nameOf(person)} done={() => setMerging(false)} act={act} />}
      {editing && <PersonForm person={person} sources={sources} close={() => setEditing(false)} />}
      {dependant && (
        <DependantForm
          personId={id}
          dependant={dependant === 'new' ? undefined : dependant}
          sources={sources}
          close={() => setDependant(undefined)}
        />
      )}
    </aside>
  );
}

function Fact({ name, value }: { name: string; value: string }) {
  return (
    <>
      <dt>{name}</dt>
      <dd>{value}</dd>
    </>
  );
}

/** Lists or tags someone has, to be added to and taken from. */
function Groups({
  kind,
  mine,
  all,
  may,
  put,
  take,
}: {
  kind: 'lists' | 'tags';
  mine: readonly { id: number; name: string }[];
  all: readonly { id: number; name: string }[];
  may: boolean;
  put: (id: number) => void;
  take: (id: number) => void;
}) {
  const other = all.filter((each) => !mine.some((one) => one.id === each.id));
  const words = kind === 'lists' ? 'Put on a list' : 'Give a tag';
  if (!may && mine.length === 0) return null;
  return (
    <>
      <dt>{kind}</dt>
      <dd>
        {mine.map((each, i) => (
          <span key={each.id}>
            {i > 0 ? ', ' : ''}
            <Link to={`/people?${kind === 'lists' ? 'list' : 'tag'}=${each.id}`}>{each.name}</Link>
            {may && (
              <>
                {' '}
                <button
                  type="button"
                  className="way small"
                  aria-label={`Take ${kind === 'lists' ? 'off' : 'away'} ${each.name}`}
                  onClick={() => take(each.id)}
                >
                  ×
                </button>
              </>
            )}
          </span>
        ))}
        {may && other.length > 0 && (
          <select
            className="field small"
            aria-label={words}
            value=""
            onChange={(event) => put(Number(event.target.value))}
            style={{ marginLeft: mine.length ? 6 : 0, maxWidth: 116, padding: '0 4px' }}
          >
            <option value="">{kind === 'lists' ? 'put on…' : 'add…'}</option>
            {other.map((each) => (
              <option key={each.id} value={each.id}>
                {each.name}
              </option>
            ))}
          </select>
        )}
      </dd>
    </>
  );
}

function Erase({ name, erase }: { name: string; erase: () => Promise<void> }) {
  const [sure, setSure] = useState(false);
  return sure ? (
    <span className="stack" style={{ gap: 4 }}>
      <span>Everything known about {name} goes; a number that opted out stays in the register.</span>
      <span className="row">
        <Button onClick={() => void erase()}>Erase {name}</Button>
        <Button onClick={() => setSure(false)}>Leave it</Button>
      </span>
    </span>
  ) : (
    <button type="button" className="way brick" onClick={() => setSure(true)}>
      Erase this person…
    </button>
  );
}

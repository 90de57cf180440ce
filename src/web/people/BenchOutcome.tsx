import { Button } from '@mui/material';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { ImportState, Verdict } from '../../core/api/imports';
import type { PreparedRow } from '../../core/people/prepare';
import { send, useGet } from '../api/client';
import { count, people } from '../pieces/format';
import { Trouble } from '../pieces/small';
import type { Change, RowFilter, Staged } from './staged';
import { Policies } from './BenchPolicies';
import { Stored } from './BenchStored';
import type { Sources } from './sources';

const OUTCOMES: readonly [Verdict, string][] = [
  ['new', 'new people'],
  ['changed', 'changed'],
  ['unchanged', 'unchanged'],
  ['twice', 'same number twice'],
  ['set_aside', 'left out by you'],
  ['rejected', 'rejected'],
];

const TITLES: Partial<Record<ImportState, string>> = {
  open: 'What will happen',
  done: 'What was done',
  writing: 'Being written',
  undoing: 'Being undone',
  undone: 'Undone',
  once: 'Used once',
};

/** What will happen, by whose choice, one person as they will be stored, and the decision. */
export function BenchOutcome({
  staged,
  open,
  busy,
  error,
  shown,
  sources,
  change,
  see,
  work,
}: {
  staged: Staged;
  open: boolean;
  busy: boolean;
  error: unknown;
  shown: { no: number; stored: PreparedRow; known: boolean } | undefined;
  sources: Sources | undefined;
  change: Change;
  see: (filter: RowFilter) => void;
  work: (task: () => Promise<Staged | undefined>) => Promise<void>;
}) {
  const navigate = useNavigate();
  const { counts, settings, facts, id } = staged;
  const [list, setList] = useState<string>();
  const checking = open && staged.at_row > 0;
  const going = (counts.new ?? 0) + (counts.changed ?? 0);
  const last = Math.max(1, facts.last ?? 1);
  const decide = () =>
    work(async () => {
      let { version } = staged;
      if ((list ?? settings.list) !== settings.list)
        ({ version } = await send<Staged>('PUT', `/api/imports/${id}/settings`, { ...settings, list: list ?? '' }));
      await send('POST', `/api/imports/${id}/decide`, { version });
      return undefined;
    });
  const once = () =>
    work(async () => {
      const made = await send<{ broadcast_id: number }>('POST', `/api/imports/${id}/use-once`);
      await navigate(`/broadcasts/${made.broadcast_id}`);
      return undefined;
    });
  const giveUp = () =>
    work(async () => {
      await send('DELETE', `/api/imports/${id}`);
      await navigate('/people/bring-in');
      return undefined;
    });
  const title = TITLES[staged.state];
  return (
    <aside className="pane card" aria-label="What will happen" style={{ display: 'flex', flexDirection: 'column', gap: 10 }}>
      <h2>{title}</h2>
      {checking && (
        <div role="status" className="small">
          Checking row {count(staged.at_row)} of {count(last + 1)}
          <progress className="progress" aria-label="Checking the rows" value={staged.at_row} max={last} />
        </div>
      )}
      <div aria-live="polite" style={checking ? { opacity: 0.55 } : undefined}>
        {OUTCOMES.filter(([verdict]) => verdict !== 'set_aside' || counts.set_aside > 0).map(([verdict, words]) => (
          <div className="fact" key={verdict}>
            <span className={verdict === 'rejected' && counts.rejected > 0 ? 'brick' : ''}>
              {verdict === 'twice' && settings.shared_number === 'by_name' ? 'same person twice' : words}
            </span>
            <button
              type="button"
              className={`way fig mid ${verdict === 'rejected' && counts.rejected > 0 ? 'brick' : ''}`}
              onClick={() => see({ verdict })}
            >
              {count(counts[verdict] ?? 0)}
            </button>
          </div>
        ))}
        {counts.waiting > 0 && (
          <p className="soft small">
            {count(counts.waiting)} of the rejected {counts.waiting === 1 ? 'waits' : 'wait'} for your fix.
          </p>
        )}
        {counts.dependants > 0 && (
          <p className="small">
            About {count(counts.dependants)} {counts.dependants === 1 ? 'dependant' : 'dependants'}
            {counts.second_contacts > 0 ? `, ${count(counts.second_contacts)} with a second contact` : ''}.
          </p>
        )}
      </div>
      {open ? (
        <>
          {shown ? (
            <Stored shown={shown} sources={sources} settings={settings} />
          ) : (
            <p className="soft small">Choose a row to see that person as stored.</p>
          )}
          <Policies staged={staged} sources={sources} change={change} list={list ?? settings.list} setList={setList} />
          <div className="stack foot">
            <Trouble error={error} />
            <Button
              variant="contained"
              size="medium"
              disabled={busy || checking || going + (counts.unchanged ?? 0) === 0}
              onClick={() => void decide()}
            >
              {busy ? 'Working…' : `Bring in ${people(going)}`}
            </Button>
            <p className="soft small" style={{ textAlign: 'center' }}>
              all or nothing; undo within 30 days
            </p>
            <p className="small row between">
              <button type="button" className="way" onClick={() => void once()}>
                use it once only
              </button>
              <button type="button" className="way" onClick={() => void giveUp()}>
                give it up
              </button>
            </p>
          </div>
        </>
      ) : (
        <Decided staged={staged} error={error} work={work} />
      )}
    </aside>
  );
}

/** After the decision: progress, the way on, and the way back. */
function Decided({
  staged,
  error,
  work,
}: {
  staged: Staged;
  error: unknown;
  work: (task: () => Promise<Staged | undefined>) => Promise<void>;
}) {
  const navigate = useNavigate();
  const { id, facts, settings } = staged;
  const [sure, setSure] = useState(false);
  const kept = useGet<{ people: { id: number; name: string; number: string | null; why: string }[] }>(
    staged.state === 'undone' && facts.kept ? `/api/imports/${id}/kept` : undefined,
  ).data?.people;
  const write = () =>
    work(async () => {
      const made = await send<{ id: number }>('POST', '/api/broadcasts', { name: '', list_id: facts.list_id });
      await navigate(`/broadcasts/${made.id}`);
      return undefined;
    });
  const undo = () =>
    work(async () => {
      await send('POST', `/api/imports/${id}/undo`);
      return undefined;
    });
  return (
    <div className="stack">
      {staged.state === 'writing' && (
        <p role="status">
          Row {count(Math.min(Math.max(0, staged.written + 1), (facts.last ?? staged.row_count) + 1))} of{' '}
          {count((facts.last ?? staged.row_count) + 1)}. It goes on by itself, also after a restart.
          <progress
            className="progress"
            aria-label="Writing"
            value={Math.max(0, staged.written)}
            max={Math.max(1, facts.last ?? 1)}
          />
        </p>
      )}
      {staged.state === 'undoing' && <p role="status">It goes on by itself, also after a restart.</p>}
      {staged.state === 'done' && <p role="status">Done. Rejected rows stay in the rejects file.</p>}
      {facts.differs && (
        <p role="alert">
          {count(facts.differs.said)} rows were to come in, and {count(facts.differs.wrote)} did. Undo it and bring the file in
          again.
        </p>
      )}
      {staged.state === 'once' && <p>Its people are in one broadcast and not in the address book.</p>}
      {staged.state === 'undone' && (
        <p role="status">
          Taken back.
          {facts.kept && facts.kept.texted + facts.kept.changed > 0
            ? ` ${people(facts.kept.texted + facts.kept.changed)} stayed as they are: ${count(facts.kept.texted)} texted since, ${count(facts.kept.changed)} changed since.`
            : ' Everything is as it was before.'}{' '}
          Numbers that opted out stay out.
        </p>
      )}
      {(kept ?? []).length > 0 && (
        <ul className="small">
          {(kept ?? []).map((person) => (
            <li key={person.id}>
              <Link to={`/people/${person.id}`}>{person.name || person.number}</Link> <span className="soft">{person.why}</span>
            </li>
          ))}
        </ul>
      )}
      {staged.state === 'done' && facts.list_id !== undefined && (
        <Button variant="contained" size="medium" onClick={() => void write()}>
          Write to “{settings.list}”
        </Button>
      )}
      {staged.state === 'done' && (
        <Link to={facts.list_id ? `/people?list=${facts.list_id}` : '/people'}>See them in People</Link>
      )}
      {staged.state === 'done' &&
        (sure ? (
          <div className="stack line" style={{ paddingTop: 10 }}>
            <span>
              New people go again, changed ones get back what they had. Who was texted or changed since stays, and you are told
              who.
            </span>
            <span className="row">
              <Button onClick={() => void undo()}>Undo the import</Button>
              <Button onClick={() => setSure(false)}>Leave it</Button>
            </span>
          </div>
        ) : (
          <button type="button" className="way" onClick={() => setSure(true)}>
            Undo this import…
          </button>
        ))}
      <Trouble error={error} />
    </div>
  );
}

import { Button } from '@mui/material';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { ImportSettings, Verdict } from '../../core/api/imports';
import type { PreparedRow } from '../../core/people/prepare';
import { send, useGet } from '../api/client';
import { count, fieldText, people, zoneName } from '../pieces/format';
import { showPhone } from '../pieces/phone';
import { Choose, Trouble } from '../pieces/small';
import type { Change, RowFilter, Staged } from './Bench';
import type { Sources } from './sources';

const OUTCOMES: readonly [Verdict, string][] = [
  ['new', 'new people'],
  ['changed', 'changed'],
  ['unchanged', 'unchanged'],
  ['twice', 'same number twice'],
  ['set_aside', 'left out by you'],
  ['rejected', 'rejected'],
];

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
      if ((list ?? settings.list) !== settings.list)
        await send('PUT', `/api/imports/${id}/settings`, { ...settings, list: list ?? '' });
      await send('POST', `/api/imports/${id}/decide`);
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
  const title = {
    open: 'What will happen',
    done: 'What was done',
    writing: 'Being written',
    undoing: 'Being undone',
    undone: 'Undone',
    once: 'Used once',
  }[staged.state];
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

function Policies({
  staged,
  sources,
  change,
  list,
  setList,
}: {
  staged: Staged;
  sources: Sources | undefined;
  change: Change;
  list: string;
  setList: (list: string) => void;
}) {
  const { settings, counts } = staged;
  const [tags, setTags] = useState<string>();
  const [stating, setStating] = useState(false);
  const fixed = Math.max(counts.fixed_lines, counts.set_aside);
  const existing = (sources?.lists ?? []).some((each) => each.name === list.trim());
  return (
    <div className="stack" style={{ gap: 7, fontSize: 14 }}>
      <span>
        Already here:{' '}
        <Choose
          label="People already here"
          value={settings.already}
          options={[
            ['fill_blanks', 'fill blanks only'],
            ['overwrite', 'overwrite from the file'],
            ['skip', 'leave as they are'],
          ]}
          onChange={(already) => void change({ already })}
        />
      </span>
      <span>
        Same number, other name:{' '}
        <Choose
          label="Same number under another name"
          value={settings.shared_number}
          options={[
            ['one_person', 'the same person'],
            ['by_name', 'another who shares it'],
          ]}
          onChange={(shared_number) => void change({ shared_number })}
        />
      </span>
      {(counts.fixed_lines > 0 || counts.set_aside > 0) && (
        <span>
          {count(fixed)} fixed {fixed === 1 ? 'line' : 'lines'}:{' '}
          <Choose
            label="Fixed lines"
            value={settings.landlines}
            options={[
              ['keep', 'bring in, never text'],
              ['leave_out', 'leave out'],
            ]}
            onChange={(landlines) => void change({ landlines })}
          />
        </span>
      )}
      <label className="row base nowrap">
        Add to list{' '}
        <input
          className="field grow"
          list="lists"
          placeholder="no list"
          value={list}
          onChange={(event) => setList(event.target.value)}
          onBlur={() => list !== settings.list && existing && void change({ list })}
          style={{ width: 130 }}
        />
      </label>
      <datalist id="lists">
        {(sources?.lists ?? []).map((each) => (
          <option key={each.id} value={each.name} />
        ))}
      </datalist>
      {existing && counts.missing > 0 && list === settings.list && (
        <span>
          On that list, not in this file, {count(counts.missing)}:{' '}
          <Choose
            label="On that list and not in this file"
            value={settings.missing}
            options={[
              ['keep', 'keep'],
              ['take_off', 'take off the list'],
            ]}
            onChange={(missing) => void change({ missing })}
          />
        </span>
      )}
      <label className="row base nowrap">
        Tags for all{' '}
        <input
          className="field grow"
          placeholder="none"
          value={tags ?? settings.tags.join(', ')}
          onChange={(event) => setTags(event.target.value)}
          onBlur={() => {
            const next = (tags ?? '').split(/\s*,\s*/).filter((tag) => tag !== '');
            if (tags !== undefined && next.join() !== settings.tags.join()) void change({ tags: next });
          }}
          style={{ width: 120 }}
        />
      </label>
      <span>
        {settings.match.includes('consent') ? 'Consent “yes” is for ' : 'Consent is for '}
        <Choose
          label="Purpose of the consent"
          value={settings.consent_purpose}
          options={[
            ['service', 'service notices'],
            ['marketing', 'marketing'],
          ]}
          onChange={(consent_purpose) => void change({ consent_purpose })}
        />
      </span>
      {settings.consent_all ? (
        <span className="small">
          Everyone else in the file agreed: {settings.consent_all.how}
          {settings.consent_all.evidence ? `, ${settings.consent_all.evidence}` : ''}.{' '}
          <button type="button" className="way" onClick={() => void change({ consent_all: null })}>
            take that back
          </button>
        </span>
      ) : (
        <button type="button" className="way small" aria-expanded={stating} onClick={() => setStating(!stating)}>
          state consent for the whole file
        </button>
      )}
      {stating && !settings.consent_all && (
        <StateConsent
          done={(consent_all) => {
            setStating(false);
            void change({ consent_all });
          }}
        />
      )}
      {(counts.opted_out > 0 || counts.consent_no > 0) && (
        <span className="soft">
          {counts.consent_no > 0 ? (
            <>
              {count(counts.consent_no)} {counts.consent_no === 1 ? 'says' : 'say'} no.{' '}
            </>
          ) : null}
          {counts.opted_out > 0 ? `${count(counts.opted_out)} opted out before and stay out.` : ''}
        </span>
      )}
    </div>
  );
}

function StateConsent({ done }: { done: (all: NonNullable<ImportSettings['consent_all']>) => void }) {
  const [all, setAll] = useState({ how: 'paper form', evidence: '', wording: '' });
  const input = (name: 'how' | 'evidence' | 'wording', label: string, placeholder: string) => (
    <label className="stack small" style={{ gap: 1 }}>
      {label}
      <input
        className="field"
        placeholder={placeholder}
        value={all[name]}
        onChange={(event) => setAll({ ...all, [name]: event.target.value })}
      />
    </label>
  );
  return (
    <form className="stack line-b" style={{ gap: 6, paddingBottom: 8 }} onSubmit={(event) => (event.preventDefault(), done(all))}>
      {input('how', 'How they agreed', 'paper form, web form…')}
      {input('evidence', 'Where that can be seen', 'binder 3, May 2026')}
      {input('wording', 'The wording they agreed to', '')}
      <span>
        <Button type="submit" disabled={all.how.trim() === ''}>
          State it
        </Button>
      </span>
      <span className="soft small">Whoever said no in their own words stays out.</span>
    </form>
  );
}

/** One person as they will be stored. */
function Stored({
  shown,
  sources,
  settings,
}: {
  shown: { no: number; stored: PreparedRow; known: boolean };
  sources: Sources | undefined;
  settings: ImportSettings;
}) {
  const { person, second, dependant } = shown.stored;
  const label = (slug: string) =>
    sources?.fields.find((field) => field.slug === slug)?.label ??
    settings.new_fields[`field:${slug}`]?.label ??
    slug.replaceAll('_', ' ');
  const name = (p: { given_name: string; family_name: string }) => `${p.given_name} ${p.family_name}`.trim();
  return (
    <div className="stored small" aria-label="As they will be stored">
      <div>
        <b>{name(person) || 'no name'}</b>{' '}
        <span className="soft">
          row {shown.no + 1}
          {shown.known ? ', here already' : ', new'}
        </span>
      </div>
      <div>
        {person.number ? showPhone(person.number) : 'no number'}
        {person.number_kind === 'fixed' ? ', fixed line' : ''}
      </div>
      {person.zone && (
        <div>
          {zoneName(person.zone)} time {person.zone_guessed && <span className="soft">(guessed from the number)</span>}
          {person.language ? `, ${person.language}` : ''}
        </div>
      )}
      {Object.entries(person.fields).map(([slug, value]) => (
        <div key={slug}>
          <span className="soft">{label(slug)}</span> {fieldText(value)}
        </div>
      ))}
      {person.tags.length + settings.tags.length > 0 && (
        <div>
          <span className="soft">tags</span> {[...new Set([...person.tags, ...settings.tags])].join(', ')}
        </div>
      )}
      {person.consent && (
        <div>
          {settings.consent_purpose === 'service' ? 'service notices' : 'marketing'} {person.consent}
        </div>
      )}
      {dependant && (
        <div>
          first contact of <b>{name(dependant) || dependant.reference}</b>
          {Object.keys(dependant.fields).length > 0 ? ` (${Object.values(dependant.fields).join(', ')})` : ''}
        </div>
      )}
      {second && (
        <div>
          second contact: {name(second) || 'no name'} {second.number ? showPhone(second.number) : ''}
        </div>
      )}
    </div>
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
          Row {count(Math.max(0, staged.written + 1))} of {count((facts.last ?? staged.row_count) + 1)}. It goes on by itself,
          also after a restart.
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

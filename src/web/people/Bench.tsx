import { Button } from '@mui/material';
import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import type { ImportCounts, ImportSettings, Verdict } from '../../core/api/imports';
import { slugOf, TARGET_WORDS } from '../../core/people/targets';
import { send, useGet } from '../api/client';
import { count } from '../pieces/format';
import { Choose, Trouble, useTitle, Waiting } from '../pieces/small';
import { BenchRows } from './BenchRows';
import { FixList } from './FixList';

export interface Staged {
  id: number;
  file_name: string;
  state: string;
  facts: { headings: string[]; encoding: string; delimiter: string; notes: string[]; list_id?: number };
  settings: ImportSettings;
  counts: ImportCounts;
  row_count: number;
  written: number;
}

export type RowFilter = { verdict?: Verdict; fix?: string };

const OUTCOMES: readonly [Verdict, string][] = [
  ['new', 'new people'],
  ['changed', 'changed'],
  ['unchanged', 'unchanged'],
  ['twice', 'same number twice'],
  ['rejected', 'rejected'],
];

/** Match, fix and dry run, visible together; every change updates the others. */
export default function Bench() {
  const id = Number(useParams().id);
  const navigate = useNavigate();
  const answer = useGet<Staged>(`/api/imports/${id}`, { keep: true });
  const sources = useGet<{ fields: { slug: string; label: string }[]; lists: { id: number; name: string; people: number }[] }>(
    '/api/people/sources',
  ).data;
  const [staged, setStaged] = useState<Staged>();
  const [filter, setFilter] = useState<RowFilter>({});
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<unknown>();
  const [list, setList] = useState<string>();
  useTitle('Bringing in people');
  const latest = useRef(0);
  useEffect(() => {
    if (answer.data) setStaged(answer.data);
  }, [answer.data]);
  if (answer.error && !staged)
    return (
      <div className="pane">
        <Trouble error={answer.error} />
      </div>
    );
  if (!staged) return <Waiting what="Reading the file…" />;
  const { settings, counts, facts } = staged;
  const open = staged.state === 'open';
  const change = async (part: Partial<ImportSettings>) => {
    const next = { ...settings, ...part };
    setStaged({ ...staged, settings: next });
    setBusy(true);
    setError(undefined);
    // two changes in quick succession: only the answer to the last one counts
    const mine = (latest.current += 1);
    try {
      const answered = await send<Staged>('PUT', `/api/imports/${id}/settings`, next);
      if (mine === latest.current) setStaged(answered);
    } catch (refused) {
      setError(refused);
    } finally {
      if (mine === latest.current) setBusy(false);
    }
  };
  const decide = async () => {
    setBusy(true);
    setError(undefined);
    try {
      if ((list ?? settings.list) !== settings.list)
        await send('PUT', `/api/imports/${id}/settings`, { ...settings, list: list ?? '' });
      await send('POST', `/api/imports/${id}/decide`);
      await answer.refetch();
    } catch (refused) {
      setError(refused);
    } finally {
      setBusy(false);
    }
  };
  const write = async () => {
    const name = settings.list || staged.file_name;
    const made = await send<{ id: number }>('POST', '/api/broadcasts', { name: '', list_id: facts.list_id });
    void name;
    await navigate(`/broadcasts/${made.id}`);
  };
  const going = counts.new + counts.changed;
  const fields = new Map([
    ...(sources?.fields ?? []).map((field) => [field.slug, field.label] as const),
    ...Object.entries(settings.new_fields),
  ]);
  const options = (column: number): (readonly [string, string])[] => {
    const slug = slugOf(facts.headings[column]);
    return [
      ...Object.entries(TARGET_WORDS),
      ...[...fields].map(([key, label]) => [`field:${key}`, label] as const),
      ...(fields.has(slug) ? [] : [[`new:${slug}`, `new field “${facts.headings[column]}”`] as const]),
    ];
  };
  const match = (column: number, target: string) => {
    const slug = target.startsWith('new:') ? target.slice(4) : undefined;
    const value = slug ? `field:${slug}` : target;
    const next = settings.match.map((each, at) =>
      at === column ? value : each === value && value !== 'skip' && value !== 'tags' ? 'skip' : each,
    );
    void change({
      match: next,
      new_fields: slug ? { ...settings.new_fields, [slug]: facts.headings[column] } : settings.new_fields,
    });
  };
  return (
    <>
      <div className="head">
        <h1>Bringing in people</h1>
        <span className="soft">
          {staged.file_name}
          {open && (
            <>
              , headings in row{' '}
              <Choose
                label="Row of the headings"
                value={String(settings.heading_row)}
                options={[
                  ['-1', 'none'],
                  ...Array.from({ length: Math.min(12, staged.row_count) }, (_, row) => [String(row), String(row + 1)] as const),
                ]}
                onChange={(row) => void change({ heading_row: Number(row) })}
              />
            </>
          )}
        </span>
        <span className="end soft small">
          {open ? 'Nothing is written until you say so' : ''} <Link to="/people/bring-in">past imports</Link>
        </span>
      </div>
      <div className="bench">
        <aside className="pane" aria-label="What to fix">
          <FixList counts={counts} settings={settings} open={open} change={change} see={setFilter} importId={id} />
        </aside>
        <section className="pane" style={{ padding: 0, display: 'flex', flexDirection: 'column' }} aria-label="The file's rows">
          <BenchRows
            staged={staged}
            filter={filter}
            setFilter={setFilter}
            options={options}
            match={match}
            open={open}
            change={change}
          />
        </section>
        <aside className="pane card" aria-label="What will happen" style={{ display: 'flex', flexDirection: 'column', gap: 10 }}>
          <h2>{open ? 'What will happen' : staged.state === 'done' ? 'What was done' : 'Being written'}</h2>
          <div aria-live="polite">
            {OUTCOMES.map(([verdict, words]) => (
              <div className="fact" key={verdict}>
                <span className={verdict === 'rejected' && counts.rejected > 0 ? 'brick' : ''}>{words}</span>
                <button
                  type="button"
                  className={`way fig mid ${verdict === 'rejected' && counts.rejected > 0 ? 'brick' : ''}`}
                  onClick={() => setFilter({ verdict })}
                >
                  {count(counts[verdict])}
                </button>
              </div>
            ))}
            {counts.waiting > 0 && <p className="soft small">{count(counts.waiting)} of the rejected wait for your fix.</p>}
          </div>
          {open ? (
            <>
              <div className="stack small" style={{ gap: 7, fontSize: 14.5 }}>
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
                <label className="row base nowrap">
                  Add to list{' '}
                  <input
                    className="field grow"
                    list="lists"
                    placeholder="no list"
                    value={list ?? settings.list}
                    onChange={(event) => setList(event.target.value)}
                    style={{ width: 130 }}
                  />
                </label>
                <datalist id="lists">
                  {(sources?.lists ?? []).map((each) => (
                    <option key={each.id} value={each.name} />
                  ))}
                </datalist>
                {settings.match.includes('consent') && (
                  <span>
                    Consent “yes” is for{' '}
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
                )}
                {(counts.opted_out > 0 || counts.consent_no > 0) && (
                  <span className="soft">
                    {counts.consent_no > 0 ? `${count(counts.consent_no)} say no. ` : ''}
                    {counts.opted_out > 0 ? `${count(counts.opted_out)} opted out before and stay out.` : ''}
                  </span>
                )}
              </div>
              <div style={{ marginTop: 'auto' }} className="stack">
                <Trouble error={error} />
                <Button
                  variant="contained"
                  size="medium"
                  disabled={busy || going + counts.unchanged === 0}
                  onClick={() => void decide()}
                >
                  {busy ? 'Working…' : `Bring in ${count(going)} ${going === 1 ? 'person' : 'people'}`}
                </Button>
                <p className="soft small" style={{ textAlign: 'center' }}>
                  all or nothing
                </p>
              </div>
            </>
          ) : (
            <div className="stack">
              {staged.state === 'writing' ? (
                <p role="status">
                  {count(Math.max(0, staged.written))} of {count(staged.row_count)} rows written. It goes on by itself, also after
                  a restart.
                </p>
              ) : (
                <p role="status">Done. Rejected rows stay in the rejects file.</p>
              )}
              {staged.state === 'done' && facts.list_id !== undefined && (
                <Button variant="contained" size="medium" onClick={() => void write()}>
                  Write to “{settings.list}”
                </Button>
              )}
              {staged.state === 'done' && (
                <Link to={facts.list_id ? `/people?list=${facts.list_id}` : '/people'}>See them in People</Link>
              )}
              <Trouble error={error} />
            </div>
          )}
        </aside>
      </div>
    </>
  );
}

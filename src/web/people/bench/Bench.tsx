import { Alert } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import type { ImportSettings } from '../../../core/api/people/import-settings';
import { imports, type SourceChoice } from '../../../core/api/people/imports';
import { people } from '../../../core/api/people/people';
import type { PreparedRow } from '../../../core/people/prepare';
import { slugOf, TARGET_WORDS } from '../../../core/people/targets';
import { ask, askAgain, useGet } from '../../api/client';
import { count } from '../../pieces/format';
import { Trouble, useTitle, Waiting } from '../../pieces/small';
import { BenchHead } from './BenchHead';
import { BenchOutcome } from './BenchOutcome';
import { Questions } from './BenchQuestions';
import { BenchRows } from './BenchRows';
import { FixList } from './FixList';
import type { Change, RowFilter, Staged } from './staged';
import { Bit, Column, Head, Pane, Panes } from '../../pieces/layout';
import { Progress } from '../../pieces/chart/Progress';
import { Way } from '../../pieces/ways';

/** What several columns may be matched to at once. */
const SEVERAL = new Set(['skip', 'tags', 'consent', 'refusal']);

/** Match, fix and dry run, visible together; every change updates the others. */
export default function Bench() {
  const id = Number(useParams().id);
  const navigate = useNavigate();
  const client = useQueryClient();
  const answer = useGet(imports.get, { params: { id } }, { keep: true });
  const sources = useGet(people.sources, {}).data;
  const [staged, setStaged] = useState<Staged>();
  const [filter, setFilter] = useState<RowFilter>({});
  const [shown, setShown] = useState<{ no: number; stored: PreparedRow; known: boolean }>();
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<unknown>();
  useTitle('Bringing in people');
  const latest = useRef(0);
  useEffect(() => {
    // an answer that left before the last change would bring the old settings back
    if (answer.data && !busy) setStaged(answer.data);
  }, [answer.data, busy]);
  if (answer.error && !staged)
    return (
      <Pane>
        <Trouble error={answer.error} />
      </Pane>
    );
  if (!staged) return <Waiting what="Reading the file…" />;
  if (staged.state === 'reading' || staged.state === 'failed' || staged.state === 'given_up')
    return <Unread staged={staged} again={() => void navigate('/people/bring-in')} />;
  const { settings, facts } = staged;
  const open = staged.state === 'open';
  const work = async (task: () => Promise<Staged | undefined>) => {
    setBusy(true);
    setError(undefined);
    // two changes in quick succession: only the answer to the last one counts
    const mine = (latest.current += 1);
    try {
      const answered = await task();
      if (answered && mine === latest.current) setStaged(answered);
      await askAgain(client, ['import']);
    } catch (refused) {
      setError(refused);
    } finally {
      if (mine === latest.current) setBusy(false);
    }
  };
  const change: Change = (part) => {
    const next = { ...settings, ...part };
    setStaged({ ...staged, settings: next });
    return work(() => ask(imports.settings, { params: { id }, body: next }));
  };
  const reread = (source: SourceChoice) => work(() => ask(imports.source, { params: { id }, body: source }));
  const fields = (about: 'person' | 'dependant') =>
    (sources?.fields ?? []).filter((field) => field.about === about).map((field) => [field.slug, field.label] as const);
  const options = (column: number): (readonly [string, string])[] => {
    const slug = slugOf(facts.headings[column]);
    const heading = facts.headings[column];
    const person = fields('person');
    const dependant = fields('dependant');
    const added = Object.entries(settings.new_fields).map(([target, field]) => [target, `${field.label}, new`] as const);
    const has = (target: string) => added.some(([key]) => key === target);
    return [
      ...Object.entries(TARGET_WORDS),
      ...person.map(([key, label]) => [`field:${key}`, label] as const),
      ...dependant.map(([key, label]) => [`dependant:field:${key}`, `dependant’s ${label}`] as const),
      ...added,
      ...(person.some(([key]) => key === slug) || has(`field:${slug}`)
        ? []
        : (['text', 'number', 'date', 'choice', 'yes_no'] as const).map(
            (type) => [`new:field:${slug}:${type}`, `new ${type.replace('_', '/')} field “${heading}”`] as const,
          )),
      ...(dependant.some(([key]) => key === slug) || has(`dependant:field:${slug}`)
        ? []
        : [[`new:dependant:field:${slug}:text`, `new dependant’s field “${heading}”`] as const]),
    ];
  };
  const match = (column: number, chosen: string) => {
    const made = /^new:((?:dependant:)?field:[a-z0-9_]+):(\w+)$/.exec(chosen);
    const target = made ? made[1] : chosen;
    const next = facts.headings.map((_, at) => {
      const each = settings.match[at] ?? 'skip';
      return at === column ? target : each === target && !SEVERAL.has(target) ? 'skip' : each;
    });
    void change({
      match: next,
      new_fields: made
        ? {
            ...settings.new_fields,
            [target]: { label: facts.headings[column], type: made[2] as ImportSettings['new_fields'][string]['type'] },
          }
        : settings.new_fields,
    });
  };
  return (
    <>
      <BenchHead staged={staged} open={open} change={change} reread={reread} />
      <Panes columns="256px minmax(0, 1fr) 252px">
        <Pane as="aside" aria-label="What to fix">
          {open && facts.failure && <Alert severity="error">{facts.failure}</Alert>}
          {open && <Questions staged={staged} change={change} match={match} />}
          <FixList staged={staged} open={open} change={change} see={setFilter} />
        </Pane>
        <Pane as="section" fill aria-label="The file's rows">
          <BenchRows
            staged={staged}
            filter={filter}
            setFilter={setFilter}
            options={options}
            match={match}
            open={open}
            change={change}
            shown={shown?.no}
            show={setShown}
          />
        </Pane>
        <BenchOutcome
          staged={staged}
          open={open}
          busy={busy}
          error={error}
          shown={shown}
          sources={sources}
          change={change}
          see={setFilter}
          work={work}
        />
      </Panes>
    </>
  );
}

/** A file that is still being read, or could not be. */
function Unread({ staged, again }: { staged: Staged; again: () => void }) {
  return (
    <>
      <Head>
        <h1>Bringing in people</h1>
        <Bit soft>{staged.file_name}</Bit>
      </Head>
      <Pane most={640}>
        <Column gap={12}>
          {staged.state === 'reading' ? (
            <>
              <p role="status">
                <Bit fig figure="mid">
                  {count(staged.row_count)}
                </Bit>{' '}
                rows read so far. It goes on by itself, also after a restart; nothing is written to the address book yet.
              </p>
              <Progress label="Reading the file" />
            </>
          ) : (
            <>
              <p role="alert">
                {staged.state === 'failed' ? (staged.facts.failure ?? 'The file could not be read.') : 'This file was given up.'}{' '}
                Nothing was brought in.
              </p>
              <p>
                <Way onClick={again}>Choose another file</Way>
              </p>
            </>
          )}
        </Column>
      </Pane>
    </>
  );
}

import { Alert } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { imports, type SourceChoice } from '../../../core/api/people/imports';
import { people } from '../../../core/api/people/people';
import type { PreparedRow } from '../../../core/people/prepare';
import { ask, askAgain, useGet } from '../../api/client';
import { count } from '../../pieces/format';
import { Trouble, useTitle, Waiting } from '../../pieces/small';
import { BenchHead } from './BenchHead';
import { BenchOutcome } from './BenchOutcome';
import { Questions } from './BenchQuestions';
import { matched, targetsFor } from './matching';
import { BenchRows } from './BenchRows';
import type { Correct } from './CellEdit';
import { FixList } from './FixList';
import type { Change, RowFilter, Staged } from './staged';
import { Bit, Column, Head, Pane, Panes } from '../../pieces/layout';
import { Progress } from '../../pieces/chart/Progress';
import { Way } from '../../pieces/ways';

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
  const correct: Correct = (row, column, text) =>
    void work(() => ask(imports.correct, { params: { id }, body: { row, column, text } }));
  const options = (column: number) => targetsFor(facts.headings[column], settings, sources);
  const match = (column: number, chosen: string) => void change(matched(column, chosen, facts.headings, settings));
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
            correct={correct}
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

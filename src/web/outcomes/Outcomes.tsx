import { Button } from '@mui/material';
import { styled } from '@mui/material/styles';
import { useState } from 'react';
import { runs, type OutcomeRow } from '../../core/api/runs';
import { useGet } from '../api/client';
import { useDesk } from '../api/session';
import { ColumnsMenu } from '../pieces/ColumnsMenu';
import { DataTable, type Column } from '../pieces/DataTable';
import { count, money, when } from '../pieces/format';
import { Bit, End, Head, Pane, Row } from '../pieces/layout';
import { OutcomeBar } from '../pieces/OutcomeBar';
import { Nothing, useNow, useTitle } from '../pieces/small';
import { useTableLayout } from '../pieces/table-layout';
import { Way } from '../pieces/ways';

const PAGE = 50;
const Share = styled('div')(({ theme }) => ({
  minWidth: 6,
  '& > div': { margin: 0, border: `1px solid ${theme.bell.edge}` },
}));
const bad = (run: OutcomeRow) => (run.tally.not_delivered ?? 0) + (run.tally.expired ?? 0);

/** Every run on one scale, latest first: what became of it. */
export default function Outcomes() {
  useTitle('Outcomes');
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 60_000);
  const [skip, setSkip] = useState(0);
  const answer = useGet(runs.outcomes, { query: { skip } }, { keep: true });
  const layout = useTableLayout('outcomes');
  const rows = answer.data?.runs ?? [];
  const total = answer.data?.total;
  const most = Math.max(1, ...rows.map((run) => run.people));
  const columns: Column<OutcomeRow>[] = [
    { key: 'when', heading: 'When', nobreak: true, width: 170, cell: (run) => when(run.due_at, workspace.zone, now) },
    {
      key: 'name',
      heading: 'Broadcast',
      stays: true,
      nobreak: true,
      cell: (run) => (
        <>
          <Way to={`/runs/${run.id}`}>{run.name || 'no name'}</Way>
          {run.state !== 'finished' && (
            <Bit soft small>
              {' '}
              {run.state}
            </Bit>
          )}
        </>
      ),
    },
    {
      key: 'bar',
      heading: 'Delivered, on one scale',
      width: 260,
      cell: (run) => (
        <Share style={{ width: `${Math.max(2, (100 * run.people) / most)}%` }}>
          <OutcomeBar
            thin
            people={run.people}
            parts={[
              ['delivered', run.tally.delivered ?? 0],
              ['not_delivered', bad(run)],
              ['uncertain', run.tally.uncertain ?? 0],
            ]}
          />
        </Share>
      ),
    },
    {
      key: 'delivered',
      heading: 'Delivered',
      num: true,
      nobreak: true,
      cell: (run) => (
        <>
          <b>{count(run.tally.delivered ?? 0)}</b> <Bit soft>of {count(run.people)}</Bit>
        </>
      ),
    },
    {
      key: 'not_delivered',
      heading: 'Not delivered',
      num: true,
      cell: (run) => (
        <Bit brick={bad(run) > 0} soft={bad(run) === 0}>
          {count(bad(run))}
        </Bit>
      ),
    },
    {
      key: 'uncertain',
      heading: 'Uncertain',
      num: true,
      cell: (run) => (
        <Bit plum={(run.tally.uncertain ?? 0) > 0} soft={!run.tally.uncertain}>
          {count(run.tally.uncertain ?? 0)}
        </Bit>
      ),
    },
    { key: 'answers', heading: 'Answers', num: true, cell: (run) => count(run.answers) },
    { key: 'clicked', heading: 'Clicked', num: true, cell: (run) => count(run.clicked) },
    { key: 'opted_out', heading: 'Opted out', num: true, cell: (run) => count(run.opted_out) },
    { key: 'parts', heading: 'Parts', num: true, cell: (run) => count(run.parts) },
    { key: 'cost', heading: 'Cost', num: true, cell: (run) => money(run.cost_micro, workspace.currency) },
  ];
  return (
    <>
      <Head>
        <h1>Outcomes</h1>
        <Bit soft>what became of each run, latest first</Bit>
        <End>
          <ColumnsMenu columns={columns} layout={layout} />
        </End>
      </Head>
      <Pane fill grow pad="0 20px">
        <DataTable
          label="Runs and their outcomes"
          columns={columns}
          rows={rows}
          idOf={(run) => run.id}
          layout={layout}
          loading={answer.isPending}
          error={answer.error}
          empty={
            <Nothing title="Nothing has been sent yet">
              After a broadcast each run stands here: delivered and not, answers, clicks, who said stop, and what it cost.
            </Nothing>
          }
        />
        {total !== undefined && total > PAGE && (
          <Row pad="8px 0">
            <Button disabled={skip === 0} onClick={() => setSkip(Math.max(0, skip - PAGE))}>
              Later runs
            </Button>
            <Bit soft small>
              {count(skip + 1)} to {count(Math.min(total, skip + PAGE))} of {count(total)}
            </Bit>
            <Button disabled={skip + PAGE >= total} onClick={() => setSkip(skip + PAGE)}>
              Earlier runs
            </Button>
          </Row>
        )}
      </Pane>
    </>
  );
}

import { Button } from '@mui/material';
import { styled } from '@mui/material/styles';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { outcomes, type OutcomeRow } from '../../core/api/sending/outcomes';
import { wallClock } from '../../core/zones';
import { fileAt, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { useInAddress } from '../pieces/address';
import { ColumnsMenu } from '../pieces/table/ColumnsMenu';
import { Tick } from '../pieces/form/choices';
import { DataTable, type Column } from '../pieces/table/DataTable';
import { count, money, when } from '../pieces/format';
import { Bit, End, Head, Pane, Row, Words } from '../pieces/layout';
import { OutcomeBar } from '../pieces/chart/OutcomeBar';
import { Pager } from '../pieces/table/Pager';
import { Nothing, useNow, useSettled, useTitle } from '../pieces/small';
import { useTableLayout } from '../pieces/table/table-layout';
import { Way } from '../pieces/ways';
import { percent, ShareFigure } from './ShareFigure';
import { NARROWED_BY, queryOf, Which } from './Which';

const PAGE = 50;
const MOST_COMPARED = 4;
const HIDDEN = ['sender', 'by', 'parts', 'uncertain'];
const Share = styled('div')(({ theme }) => ({
  minWidth: 6,
  '& > div': { margin: 0, border: `1px solid ${theme.bell.edge}` },
}));
const bad = (run: OutcomeRow) => (run.tally.not_delivered ?? 0) + (run.tally.expired ?? 0);

/** Every run on one scale, latest first: what became of it, beside what is usual; two to four of them compared. */
export default function Outcomes() {
  useTitle('Outcomes');
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 60_000);
  const navigate = useNavigate();
  const [narrowed, narrow, address] = useInAddress(NARROWED_BY);
  const [skip, setSkip] = useState(0);
  const [picked, setPicked] = useState<readonly number[]>([]);
  const wanted = JSON.stringify(queryOf(narrowed, wallClock(now, workspace.zone).date));
  const settled = useSettled(wanted, 250);
  const which = JSON.parse(settled) as ReturnType<typeof queryOf>;
  const answer = useGet(outcomes.list, { query: { ...which, skip } }, { keep: true });
  const layout = useTableLayout('outcomes', { hidden: HIDDEN });
  const rows = answer.data?.runs ?? [];
  const usual = answer.data?.usual;
  const most = Math.max(1, ...rows.map((run) => run.people));
  const delivered = (run: OutcomeRow) => run.tally.delivered ?? 0;
  const scale = (share: (run: OutcomeRow) => number, middle: number | null | undefined) =>
    Math.max(0.01, middle ?? 0, ...rows.map((run) => (delivered(run) > 0 ? share(run) / delivered(run) : 0)));
  const scales = {
    answers: scale((run) => run.answers, usual?.answers),
    clicked: scale((run) => run.clicked, usual?.clicked),
    opted_out: scale((run) => run.opted_out, usual?.opted_out),
  };
  const columns: Column<OutcomeRow>[] = [
    {
      key: 'compare',
      heading: '',
      said: 'Compare',
      width: 34,
      stays: true,
      cell: (run) => (
        <Tick
          label={`Compare ${run.name || 'no name'}`}
          checked={picked.includes(run.id)}
          disabled={!picked.includes(run.id) && picked.length >= MOST_COMPARED}
          onChange={(on) => setPicked(on ? [...picked, run.id] : picked.filter((id) => id !== run.id))}
        />
      ),
    },
    { key: 'when', heading: 'When', nobreak: true, width: 150, cell: (run) => when(run.due_at, workspace.zone, now) },
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
    { key: 'sender', folds: true, heading: 'Sender', nobreak: true, cell: (run) => run.sender },
    { key: 'by', folds: true, heading: 'Sent by', nobreak: true, cell: (run) => run.by },
    {
      key: 'bar',
      folds: 'away',
      heading: 'Delivered, on one scale',
      width: 200,
      cell: (run) => (
        <Share style={{ width: `${Math.max(2, (100 * run.people) / most)}%` }}>
          <OutcomeBar
            thin
            people={run.people}
            parts={[
              ['delivered', delivered(run)],
              ['not_delivered', bad(run)],
              ['uncertain', run.tally.uncertain ?? 0],
            ]}
          />
        </Share>
      ),
    },
    {
      key: 'delivered',
      folds: true,
      heading: 'Delivered',
      num: true,
      nobreak: true,
      cell: (run) => (
        <>
          <b>{count(delivered(run))}</b> <Bit soft>of {count(run.people)}</Bit>
        </>
      ),
    },
    {
      key: 'not_delivered',
      folds: true,
      heading: 'Not',
      num: true,
      cell: (run) => (
        <Bit brick={bad(run) > 0} soft={bad(run) === 0}>
          {count(bad(run))}
        </Bit>
      ),
    },
    {
      key: 'uncertain',
      folds: true,
      heading: 'Uncertain',
      num: true,
      cell: (run) => (
        <Bit plum={(run.tally.uncertain ?? 0) > 0} soft={!run.tally.uncertain}>
          {count(run.tally.uncertain ?? 0)}
        </Bit>
      ),
    },
    {
      key: 'answers',
      folds: true,
      heading: 'Answered',
      cell: (run) => <ShareFigure k={run.answers} n={delivered(run)} usual={usual?.answers ?? null} most={scales.answers} />,
    },
    {
      key: 'clicked',
      folds: true,
      heading: 'Clicked',
      cell: (run) => (
        <ShareFigure
          k={run.clicked}
          n={run.linked > 0 ? Math.min(run.linked, delivered(run)) : 0}
          usual={usual?.clicked ?? null}
          most={scales.clicked}
        />
      ),
    },
    {
      key: 'opted_out',
      folds: true,
      heading: 'Opted out',
      cell: (run) => (
        <ShareFigure k={run.opted_out} n={delivered(run)} usual={usual?.opted_out ?? null} most={scales.opted_out} />
      ),
    },
    { key: 'parts', folds: true, heading: 'Parts', num: true, cell: (run) => count(run.parts) },
    { key: 'cost', folds: true, heading: 'Cost', num: true, cell: (run) => money(run.cost_micro, workspace.currency) },
  ];
  const said = (['answer', 'click', 'opt out'] as const).flatMap((act) => {
    const share = usual?.[act === 'answer' ? 'answers' : act === 'click' ? 'clicked' : 'opted_out'] ?? null;
    return share === null ? [] : [`${percent(share)} ${act}`];
  });
  return (
    <>
      <Head>
        <h1>Outcomes</h1>
        <Bit soft small role="status">
          {/* while others are counted, what stands is of those before, and is not said to be of these */}
          {answer.data && !answer.isPlaceholderData && settled === wanted
            ? `${count(answer.data.total)} ${answer.data.total === 1 ? 'run' : 'runs'}`
            : 'counting…'}
        </Bit>
        <End>
          <Button
            variant="contained"
            disabled={picked.length < 2}
            onClick={() => void navigate(`/outcomes/compare?ids=${picked.join(',')}`)}
          >
            {picked.length < 2 ? 'Compare two to four' : `Compare ${picked.length}`}
          </Button>
          <Way to={`/outcomes/over-time?${address}`}>Over time</Way>
          <ColumnsMenu columns={columns} layout={layout} />
          <Button component="a" href={fileAt(outcomes.csv, { query: which })} download>
            Export
          </Button>
        </End>
      </Head>
      <Pane fill grow pad="10px 20px">
        <Which
          narrowed={narrowed}
          change={(part) => {
            setSkip(0);
            narrow(part);
          }}
        />
        {said.length > 0 && (
          <Words soft small above={6}>
            usual of {usual?.runs === 1 ? 'one run' : `${count(usual?.runs ?? 0)} runs`} (the tick): {said.join(', ')} of those
            who got it
          </Words>
        )}
        <DataTable
          label="Runs and their outcomes"
          columns={columns}
          rows={rows}
          idOf={(run) => run.id}
          layout={layout}
          loading={answer.isPending}
          error={answer.error}
          empty={
            address !== '' ? (
              <Nothing title="No such run">Nothing that was sent is all of that. Take one of them away.</Nothing>
            ) : (
              <Nothing title="Nothing has been sent yet">
                After a broadcast each run stands here: delivered and not, answers, clicks, who said stop, and what it cost.
              </Nothing>
            )
          }
        />
        <Row>
          <Pager skip={skip} page={PAGE} total={answer.data?.total} go={setSkip} />
        </Row>
      </Pane>
    </>
  );
}

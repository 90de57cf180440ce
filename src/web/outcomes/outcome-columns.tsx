import { styled } from '@mui/material/styles';
import { sumsOf, type RunSums } from '../../core/outcome/sums-of';
import { runStateWords } from '../../core/outcome/run-words';
import type { OutcomeRow, Usual } from '../../core/api/sending/outcomes';
import { OutcomeBar } from '../pieces/chart/OutcomeBar';
import { count, money, when } from '../pieces/format';
import { Tick } from '../pieces/form/choices';
import { Bit } from '../pieces/layout';
import type { Column } from '../pieces/table/DataTable';
import { Way } from '../pieces/ways';
import { ShareFigure } from './ShareFigure';

const MOST_COMPARED = 4;
const Share = styled('div')(({ theme }) => ({
  minWidth: 6,
  '& > div': { margin: 0, border: `1px solid ${theme.bell.edge}` },
}));
const delivered = (run: OutcomeRow) => sumsOf(run.tally).delivered;

/** The ends of the scales on which shares are drawn: the largest of the page and what is usual. */
function scalesOf(rows: readonly OutcomeRow[], usual: Usual | undefined) {
  const scale = (share: (run: OutcomeRow) => number, middle: number | null | undefined) =>
    Math.max(0.01, middle ?? 0, ...rows.map((run) => (delivered(run) > 0 ? share(run) / delivered(run) : 0)));
  return {
    answers: scale((run) => run.answers, usual?.answers),
    clicked: scale((run) => run.clicked, usual?.clicked),
    opted_out: scale((run) => run.opted_out, usual?.opted_out),
  };
}

interface At {
  rows: readonly OutcomeRow[];
  usual: Usual | undefined;
  picked: readonly number[];
  setPicked: (ids: readonly number[]) => void;
  zone: string;
  currency: string;
  now: number;
}

/** The columns of the table of outcomes; the first picks runs to compare. */
export const outcomeColumns = (at: At): Column<OutcomeRow>[] => [...whichColumns(at), ...shareColumns(at)];

/** Which run, and how many got it. */
function whichColumns({ rows, picked, setPicked, zone, now }: At): Column<OutcomeRow>[] {
  const most = Math.max(1, ...rows.map((run) => run.people));
  return [
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
    { key: 'when', heading: 'When', nobreak: true, width: 150, cell: (run) => when(run.due_at, zone, now) },
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
              {runStateWords(run.state, run.tally)}
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
              ['delivered', sumsOf(run.tally).delivered],
              ['not_delivered', sumsOf(run.tally).notDelivered],
              ['uncertain', sumsOf(run.tally).uncertain],
              ['not_sent', sumsOf(run.tally).notSent],
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
      heading: 'Not delivered',
      num: true,
      nobreak: true,
      cell: (run) => <Missed sums={sumsOf(run.tally)} />,
    },
    {
      key: 'uncertain',
      folds: true,
      heading: 'Uncertain',
      num: true,
      cell: (run) => (
        <Bit plum={sumsOf(run.tally).uncertain > 0} soft={sumsOf(run.tally).uncertain === 0}>
          {count(sumsOf(run.tally).uncertain)}
        </Bit>
      ),
    },
  ];
}

/** Whom it did not reach: where it failed, and where it was never sent. */
function Missed({ sums: { notDelivered, notSent } }: { sums: RunSums }) {
  return (
    <>
      <Bit brick={notDelivered > 0} soft={notDelivered === 0}>
        {count(notDelivered)}
      </Bit>
      {notSent > 0 && <Bit small> {count(notSent)} not sent</Bit>}
    </>
  );
}

/** What people did with it, beside what is usual; parts and cost. */
function shareColumns({ rows, usual, currency }: At): Column<OutcomeRow>[] {
  const scales = scalesOf(rows, usual);
  return [
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
    { key: 'parts', folds: true, heading: 'Parts', num: true, cell: (run) => count(run.spent_parts) },
    { key: 'cost', folds: true, heading: 'Cost', num: true, cell: (run) => money(run.spent_micro, currency) },
  ];
}

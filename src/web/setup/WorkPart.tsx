import { jobs, type KeptForAWhile, type KindOfJob } from '../../core/api/desk/jobs';
import { useGet } from '../api/client';
import { useDesk } from '../api/session';
import { DataTable, type Column } from '../pieces/table/DataTable';
import { count, when } from '../pieces/format';
import { Bit, Words } from '../pieces/layout';
import { Nothing, useNow } from '../pieces/small';
import { Failing, soon } from './Failing';

const EVERY = 5000;

/** What goes on by itself: how much of it waits, and what keeps failing, with when it is tried again. */
export default function WorkPart() {
  const { workspace, offset } = useDesk();
  const now = useNow(offset, EVERY);
  const all = useGet(jobs.list, {}, { keep: true, every: EVERY });
  const columns: Column<KindOfJob>[] = [
    { key: 'words', heading: 'Work', cell: (each) => each.words },
    { key: 'waiting', heading: 'Waits', num: true, cell: (each) => figure(each.waiting, false) },
    {
      key: 'overdue',
      heading: 'Overdue',
      num: true,
      folds: 'away',
      cell: (each) => figure(each.overdue, true),
    },
    {
      key: 'failing',
      heading: 'Failed last time',
      num: true,
      folds: 'away',
      cell: (each) => figure(each.failing, true),
    },
    {
      key: 'next',
      heading: 'Next',
      nobreak: true,
      folds: true,
      cell: (each) =>
        each.next_at === null ? (
          <Bit soft>as it comes</Bit>
        ) : soon(each.next_at, now) ? (
          'now'
        ) : (
          when(each.next_at, workspace.zone, now)
        ),
    },
  ];
  return (
    <>
      <h2>By itself</h2>
      <Words as="p" soft below={10}>
        What nobody has to press. Each piece of work is tried again by itself when it fails, later each time; what keeps failing
        stands here and on Today.
      </Words>
      {all.data?.failing.map((job) => (
        <Failing job={job} key={`${job.kind} ${job.key}`} />
      ))}
      <DataTable
        label="Work that goes on by itself"
        columns={columns}
        rows={all.data?.kinds ?? []}
        idOf={(each) => each.kind}
        loading={all.isPending}
        error={all.error}
        empty={<Nothing title="Nothing yet">What goes on by itself stands here.</Nothing>}
      />
      <h2>Kept for a while</h2>
      <Words as="p" soft below={10}>
        What would only grow is taken away by itself. Everything else stays until somebody deletes it.
      </Words>
      <DataTable
        label="What is kept for a while only"
        columns={KEPT}
        rows={all.data?.kept ?? []}
        idOf={(each) => each.words}
        loading={all.isPending}
        error={all.error}
        empty={<Nothing title="Nothing yet">What is kept for a while only stands here.</Nothing>}
      />
    </>
  );
}

const KEPT: readonly Column<KeptForAWhile>[] = [
  { key: 'words', heading: 'What', cell: (each) => each.words },
  { key: 'keeps', heading: 'How long', cell: (each) => each.keeps },
  { key: 'rows', heading: 'Now', num: true, cell: (each) => figure(each.rows, false) },
];

/** A figure; nought is quiet, and what is trouble is not. */
const figure = (n: number, trouble: boolean) => (n === 0 ? <Bit soft>0</Bit> : trouble ? <Bit brick>{count(n)}</Bit> : count(n));

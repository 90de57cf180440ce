import { Button } from '@mui/material';
import { jobs, type FailingJob, type KindOfJob } from '../../core/api/jobs';
import { mayDo } from '../../core/api/roles';
import { useAct, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { useWork } from '../api/work';
import { DataTable, type Column } from '../pieces/DataTable';
import { count, when } from '../pieces/format';
import { Bit, Column as Stack, Row, Words } from '../pieces/layout';
import { useSay } from '../pieces/Said';
import { Nothing, Trouble, useNow } from '../pieces/small';

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
    </>
  );
}

/** A figure; nought is quiet, and what is trouble is not. */
const figure = (n: number, trouble: boolean) => (n === 0 ? <Bit soft>0</Bit> : trouble ? <Bit brick>{count(n)}</Bit> : count(n));
const soon = (at: string, now: number) => Date.parse(at) <= now + 1000;

/** Work that keeps failing: what it is, why, since when, and when it is tried again. */
export function Failing({ job }: { job: FailingJob }) {
  const { account, workspace, offset } = useDesk();
  const now = useNow(offset, EVERY);
  const again = useAct(jobs.again);
  const say = useSay();
  const { work, busy, error } = useWork();
  return (
    <Stack line pad="10px 0" gap={4}>
      <Row between base>
        <Words as="h3" brick>
          It keeps failing: {job.words}
        </Words>
        <Bit soft small>
          since {when(job.failing_since, workspace.zone, now)}
        </Bit>
      </Row>
      <Row between base>
        <Bit soft small>
          “{job.trouble}”{' '}
          {soon(job.due_at, now)
            ? 'It is tried again now.'
            : `Tried ${count(job.attempts)} times, again ${when(job.due_at, workspace.zone, now)}.`}
        </Bit>
        {mayDo(account.role, 'send') && (
          <Button
            disabled={busy}
            onClick={() =>
              void work(async () => {
                await again({ body: { kind: job.kind, key: job.key } });
                say('It is tried again now.');
              })
            }
          >
            Try again now
          </Button>
        )}
      </Row>
      <Trouble error={error} />
    </Stack>
  );
}

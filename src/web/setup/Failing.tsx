import { Button } from '@mui/material';
import { jobs, type FailingJob } from '../../core/api/desk/jobs';
import { mayDo } from '../../core/api/roles';
import { useAct } from '../api/client';
import { useDesk } from '../api/session';
import { useWork } from '../api/work';
import { count, when } from '../pieces/format';
import { Bit, Column as Stack, Row, Words } from '../pieces/layout';
import { useSay } from '../pieces/Said';
import { Trouble, useNow } from '../pieces/small';

const EVERY = 5000;

/** Whether a moment is now, or was. */
export const soon = (at: string, now: number) => Date.parse(at) <= now + 1000;

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

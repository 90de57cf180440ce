import { Alert, Button } from '@mui/material';
import { runs, type RunAnswer } from '../../../core/api/sending/runs';
import { formatDay } from '../../../core/merge/date-pattern';
import { otherDayWords } from '../../../core/outcome/alarms';
import { wallClock } from '../../../core/zones';
import { useAct } from '../../api/client';
import { useWork } from '../../api/work';
import { Words } from '../../pieces/layout';
import { Trouble } from '../../pieces/small';

/** Texts wait, since what they say of days would be wrong: both days, and what to do about it. */
export function OtherDay({
  run,
  waits,
  may,
  zone,
  now,
}: {
  run: number;
  waits: NonNullable<RunAnswer['other_day']>;
  may: boolean;
  zone: string;
  now: number;
}) {
  const go = useAct(runs.otherDay);
  const { work, busy, error } = useWork();
  const shown = (day: string) => formatDay(day, 'EEE, MMM d', 'en');
  return (
    <Words pad="10px 20px" under>
      <Alert
        severity="warning"
        action={
          may && (
            <Button disabled={busy} onClick={() => void work(() => go({ params: { id: run }, body: {} }))}>
              Send {waits.n === 1 ? 'it' : 'them'} as {waits.n === 1 ? 'it is' : 'they are'}
            </Button>
          )
        }
      >
        {otherDayWords(waits.n, shown(waits.day), shown(wallClock(now, zone).date))}
      </Alert>
      <Trouble error={error} />
    </Words>
  );
}

/** It waits for a person, and until when. */
export function Asks({ run, may }: { run: RunAnswer['run']; may: boolean }) {
  const agree = useAct(runs.agree);
  const { work, busy, error } = useWork();
  return (
    <Words pad="10px 20px" under>
      <Alert
        severity="warning"
        action={
          may && (
            <Button
              variant="contained"
              disabled={busy}
              onClick={() => void work(() => agree({ params: { id: run.id }, body: {} }))}
            >
              Let it go
            </Button>
          )
        }
      >
        It waits for somebody: {run.asks}. If nobody says so in time, nothing of it goes.
      </Alert>
      <Trouble error={error} />
    </Words>
  );
}

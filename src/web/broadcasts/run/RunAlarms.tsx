import { Button } from '@mui/material';
import { alarms as api, type RunAnswer } from '../../../core/api/sending/runs';
import { mayDo } from '../../../core/api/roles';
import { useAct } from '../../api/client';
import { useDesk } from '../../api/session';
import { useWork } from '../../api/work';
import { clockTime } from '../../pieces/format';
import { Bit, Row, Words } from '../../pieces/layout';
import { Trouble } from '../../pieces/small';

/** What is wrong with a run, until somebody has seen it. */
export function RunAlarms({ answer }: { answer: RunAnswer }) {
  const { account, workspace } = useDesk();
  const seen = useAct(api.seen);
  const { work, busy, error } = useWork();
  if (answer.alarms.length === 0) return null;
  return (
    <div role="status">
      <Words as="h2" under below={6}>
        Something is wrong
      </Words>
      <Trouble error={error} />
      {answer.alarms.map((alarm) => (
        <Words key={alarm.id} pad="5px 0">
          <Bit brick={alarm.seen_at === null} soft={alarm.seen_at !== null}>
            {alarm.words}
          </Bit>
          <Row between base small soft>
            <span>
              {clockTime(alarm.at, workspace.zone)}
              {alarm.seen_at !== null && `, seen${alarm.seen_by ? ` by ${alarm.seen_by}` : ''}`}
            </span>
            {alarm.seen_at === null && mayDo(account.role, 'write') && (
              <Button disabled={busy} onClick={() => void work(() => seen({ params: { id: alarm.id } }))}>
                I have seen it
              </Button>
            )}
          </Row>
        </Words>
      ))}
    </div>
  );
}

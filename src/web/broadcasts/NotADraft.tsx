import { Button } from '@mui/material';
import { useNavigate } from 'react-router';
import { broadcasts, type BroadcastAnswer } from '../../core/api/broadcasts';
import { useAct } from '../api/client';
import { useDesk } from '../api/session';
import { useWork } from '../api/work';
import { people, when } from '../pieces/format';
import { Bit, Column, Head, Pane, Row } from '../pieces/layout';
import { Trouble, useNow } from '../pieces/small';
import { Way } from '../pieces/ways';

/** A broadcast that is scheduled, or over: what can be done with it. */
export function NotADraft({ broadcast }: { broadcast: BroadcastAnswer }) {
  const { id, run } = broadcast;
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 20_000);
  const navigate = useNavigate();
  const make = useAct(broadcasts.make);
  const setAside = useAct(broadcasts.setAside);
  const { work, busy, error } = useWork();
  const aside = (as: 'set_aside' | 'canceled') => void work(() => setAside({ params: { id }, body: { as } }));
  const copy = () =>
    void work(async () => {
      const made = await make({ body: { name: '', copy: id } });
      await navigate(`/broadcasts/${made.id}`);
    });
  return (
    <>
      <Head>
        <h1>{broadcast.name || 'No name'}</h1>
        <Bit soft>{broadcast.state.replace('_', ' ')}</Bit>
      </Head>
      <Pane most={640}>
        <Column>
          {broadcast.state === 'scheduled' && run && (
            <p>
              It goes to {people(run.people)} at {when(run.due_at, workspace.zone, now)}. While you edit it, it is set aside and
              cannot start.
            </p>
          )}
          {broadcast.state === 'scheduled' && (
            <Row>
              <Button variant="contained" disabled={busy} onClick={() => aside('set_aside')}>
                Set aside and edit
              </Button>
              <Button disabled={busy} onClick={() => aside('canceled')}>
                Cancel it for {people(run?.people ?? 0)}
              </Button>
            </Row>
          )}
          {run && <Way to={`/runs/${run.id}`}>Open its run</Way>}
          <div>
            <Button disabled={busy} onClick={copy}>
              Copy it
            </Button>
          </div>
          <Trouble error={error} />
        </Column>
      </Pane>
    </>
  );
}

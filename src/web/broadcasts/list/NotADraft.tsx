import { Button } from '@mui/material';
import { useNavigate } from 'react-router';
import { broadcasts, type BroadcastAnswer } from '../../../core/api/sending/broadcasts';
import { repeatWords } from '../../../core/plan/times/repeat-words';
import { useAct } from '../../api/client';
import { useDesk } from '../../api/session';
import { useWork } from '../../api/work';
import { people, when } from '../../pieces/format';
import { Bit, Column, Head, Pane, Row } from '../../pieces/layout';
import { Trouble, useNow } from '../../pieces/small';
import { Way } from '../../pieces/ways';
import { ListName } from '../when/ListName';

/** A broadcast that is scheduled, or over: what can be done with it. */
export function NotADraft({ broadcast }: { broadcast: BroadcastAnswer }) {
  const { id, run } = broadcast;
  const timing = broadcast.draft.when;
  const pending = run && (run.state === 'waiting' || run.state === 'planning') ? run : undefined;
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
          {broadcast.state === 'scheduled' && broadcast.goes_on && (
            <p>
              {timing.kind === 'import' ? (
                <>
                  It waits for imports: it goes whenever people have been brought into <ListName id={timing.list_id} />.
                </>
              ) : timing.kind === 'at' && timing.repeats ? (
                `It goes ${repeatWords(timing.repeats, timing.date)}${broadcast.next_at ? `; next after that ${when(broadcast.next_at, workspace.zone, now)}` : ''}.`
              ) : (
                ''
              )}{' '}
              While you edit it, it is set aside, and nothing of it goes.
            </p>
          )}
          {broadcast.state === 'scheduled' && pending && (
            <p>
              It goes to {people(pending.people)} at {when(pending.due_at, workspace.zone, now)}.
              {broadcast.goes_on ? '' : ' While you edit it, it is set aside and cannot start.'}
            </p>
          )}
          {broadcast.state === 'scheduled' && (
            <Row>
              <Button variant="contained" disabled={busy} onClick={() => aside('set_aside')}>
                Set aside and edit
              </Button>
              <Button disabled={busy} onClick={() => aside('canceled')}>
                {broadcast.goes_on ? 'Cancel all that is to come' : `Cancel it for ${people(run?.people ?? 0)}`}
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

import { Button } from '@mui/material';
import { Link } from 'react-router';
import type { BroadcastAnswer } from '../../../core/api/sending/broadcasts';
import type { PlanSummary } from '../../../core/api/sending/plan';
import { mayDo } from '../../../core/api/roles';
import { useDesk } from '../../api/session';
import { people } from '../../pieces/format';
import { Column, Words } from '../../pieces/layout';
import { Trouble } from '../../pieces/small';
import { beginsAtOnce } from '../when/at-once';
import { Different } from './Different';
import type { Looked } from './use-last-look';

/** The press itself, what stands in its way, and until when it can be taken back. */
export function PressPart({
  broadcast,
  plan,
  looked: { error, refusedWith, pressed, press },
  goes,
  now,
}: {
  broadcast: BroadcastAnswer;
  plan: PlanSummary;
  looked: Looked;
  goes: string;
  now: number;
}) {
  const { account, workspace } = useDesk();
  const atOnce = beginsAtOnce(broadcast.draft, plan, now);
  const atImport = broadcast.draft.when.kind === 'import';
  return (
    <Column above={16}>
      {plan.must_fix.map((each) => (
        <Words as="p" brick small key={each.message}>
          {each.message}
        </Words>
      ))}
      <Trouble error={error} />
      {refusedWith && <Different before={refusedWith} after={plan} zone={workspace.zone} now={now} />}
      {mayDo(account.role, 'send') ? (
        <Button variant="go" disabled={pressed || plan.must_fix.length > 0} onClick={() => void press()}>
          {pressed
            ? 'Asking once more…'
            : atImport
              ? 'Send it with each import'
              : `Send to ${people(plan.people)} ${atOnce ? 'now' : goes ? `at\u00a0${goes}` : ''}`}
        </Button>
      ) : (
        <p>Your role is “{account.role}”: someone who may send has to press here.</p>
      )}
      <Words as="p" soft small centered>
        {atImport
          ? 'Until an import brings people it can be set aside; each run after it can be taken back until it starts.'
          : atOnce
            ? `While it is written down, and for ${plan.takeback_seconds} seconds after, you can take it back.`
            : 'Until then you can take it back.'}{' '}
        After that it cannot be called back.
      </Words>
      <Words centered>
        <Button component={Link} to={`/broadcasts/${broadcast.id}`}>
          Back to the sheet
        </Button>
      </Words>
    </Column>
  );
}

import type { ReactNode } from 'react';
import type { TestedAnswer } from '../../../core/api/sending/broadcasts';
import type { Draft } from '../../../core/plan/draft/draft';
import { sinceTest } from '../../../core/plan/ready/since-test';
import { useDesk } from '../../api/session';
import { listed, when } from '../../pieces/format';

/** When it was tried and as whom, and what of that text is different now. */
export function SinceTest({ tested, draft, now }: { tested: TestedAnswer | null; draft: Draft; now: number }): ReactNode {
  const { workspace } = useDesk();
  if (!tested) return 'It has not been tried: no test text was sent.';
  const changed = sinceTest(tested.draft, draft, workspace.languages);
  return (
    <>
      Tried {when(tested.at, workspace.zone, now)}
      {tested.by ? ` by ${tested.by}` : ''}, as {tested.as || 'someone without a name'}, on{' '}
      {tested.numbers === 1 ? 'one number' : `${tested.numbers} numbers`}.{' '}
      {changed.length === 0 ? (
        'Nothing of it has changed since.'
      ) : (
        <>
          <b>Changed since: {listed(changed)}.</b>
        </>
      )}
    </>
  );
}

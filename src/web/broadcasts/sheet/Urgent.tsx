import { useState, type ReactNode } from 'react';
import { mayDo } from '../../../core/api/roles';
import type { Draft } from '../../../core/plan/draft/draft';
import { useDesk } from '../../api/session';
import { TypedValue } from '../../pieces/form/choices';
import { Bit, Column } from '../../pieces/layout';
import { Way } from '../../pieces/ways';

const SHORTEST = 4;

/**
 * An urgent service notice may go at any hour. Only whoever manages may say so, and only with a reason, which stands in the record;
 * until one is written nothing is overridden.
 */
export function Urgent({ draft, change }: { draft: Draft; change: (part: Partial<Draft>) => void }): ReactNode {
  const { account } = useDesk();
  const { urgent, purpose } = draft;
  const [typed, setTyped] = useState<string>();
  const said = typed ?? urgent;
  if (said === undefined)
    return mayDo(account.role, 'manage') && purpose === 'service' ? (
      <>
        {' '}
        <Way small onClick={() => setTyped('')}>
          it cannot wait
        </Way>
      </>
    ) : null;
  const write = (next: string) => {
    const reason = next.slice(0, 300);
    setTyped(reason);
    change({ urgent: reason.trim().length >= SHORTEST ? reason : undefined });
  };
  return (
    <Column gap={2} small>
      <Bit brick strong>
        {purpose !== 'service'
          ? 'Marketing never overrides them.'
          : urgent === undefined
            ? 'Say why; until then they hold.'
            : 'Goes at any hour, also at night, because of'}
      </Bit>
      {purpose === 'service' && (
        <TypedValue
          label="Why it cannot wait"
          placeholder="ice on the quay"
          autoFocus={urgent === undefined}
          value={said}
          onChange={write}
        />
      )}
      <Way
        small
        onClick={() => {
          setTyped(undefined);
          change({ urgent: undefined });
        }}
      >
        let quiet hours hold it
      </Way>
    </Column>
  );
}

import type { ReactNode } from 'react';
import type { Draft } from '../../../core/plan/draft/draft';
import { Several } from '../../pieces/form/choices';
import { TimeField } from '../../pieces/form/dates';
import { Column, Row } from '../../pieces/layout';
import { Value, Way } from '../../pieces/ways';

const DAYS = ['Mo', 'Tu', 'We', 'Th', 'Fr', 'Sa', 'Su'];
const NAMES = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];
const OFFICE = { days: [1, 2, 3, 4, 5], from: '09:00', to: '18:00' };

/** Hours and days in the recipient's time in which it may go, beside quiet hours; who does not fit goes on in the next of them. */
export function Allowed({ draft, change }: { draft: Draft; change: (part: Partial<Draft>) => void }): ReactNode {
  const { allowed } = draft;
  if (!allowed) return <Value onClick={() => change({ allowed: OFFICE })}>no other hours</Value>;
  return (
    <Column gap={4}>
      <Several
        label="Days on which it may go"
        value={allowed.days}
        options={DAYS.map((day, i) => [i + 1, day, NAMES[i]] as const)}
        onChange={(days) => change({ allowed: { ...allowed, days: days.sort() } })}
      />
      <Row gap={4}>
        <TimeField
          inLine
          label="Not before, their time"
          value={allowed.from}
          onChange={(from) => change({ allowed: { ...allowed, from } })}
        />
        to
        <TimeField
          inLine
          label="Not after, their time"
          value={allowed.to === '24:00' ? '23:59' : allowed.to}
          onChange={(to) => change({ allowed: { ...allowed, to } })}
        />
      </Row>
      <Way small onClick={() => change({ allowed: undefined })}>
        any hour instead
      </Way>
    </Column>
  );
}

import type { ReactNode } from 'react';
import type { PlanSummary } from '../../../core/api/sending/plan';
import type { Draft } from '../../../core/plan/draft/draft';
import { wallClock } from '../../../core/zones';
import { useDesk } from '../../api/session';
import { Choose, TypedValue } from '../../pieces/form/choices';
import { DateField, TimeField } from '../../pieces/form/dates';
import { Bit, Column, Row } from '../../pieces/layout';
import { useNow } from '../../pieces/small';

const KINDS = [
  ['fast', 'as fast as it goes'],
  ['a_minute', 'so many a minute'],
  ['until', 'evenly until'],
] as const;

/** How the run is spread, so that whoever answers can keep up; only ever slower than the sender. */
export function Pace({
  draft,
  plan,
  change,
}: {
  draft: Draft;
  plan: PlanSummary | undefined;
  change: (part: Partial<Draft>) => void;
}): ReactNode {
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 60_000);
  const { pace } = draft;
  const twoHoursOn = () => {
    const { date, time } = wallClock((plan?.first ? Date.parse(plan.first) : now) + 2 * 3_600_000, workspace.zone);
    return { kind: 'until' as const, date, time: time.slice(0, 5) };
  };
  return (
    <Column gap={4}>
      <Choose
        label="Pace"
        value={pace?.kind ?? 'fast'}
        options={KINDS}
        onChange={(kind) =>
          change({ pace: kind === 'fast' ? undefined : kind === 'a_minute' ? { kind, texts: 30 } : twoHoursOn() })
        }
      />
      {pace?.kind === 'a_minute' && (
        <Row gap={4} base>
          <TypedValue
            label="Texts a minute"
            type="number"
            value={pace.texts}
            input={{ min: 1, max: 60_000 }}
            onChange={(typed) => {
              const texts = Math.round(Number(typed));
              if (texts >= 1 && texts <= 60_000) change({ pace: { kind: 'a_minute', texts } });
            }}
          />
          <Bit>texts a minute</Bit>
        </Row>
      )}
      {pace?.kind === 'until' && (
        <Row gap={4}>
          <DateField
            inLine
            label="Spread until, date"
            value={pace.date}
            onChange={(date) => date !== '' && change({ pace: { ...pace, date } })}
          />
          <TimeField
            inLine
            label="Spread until, time"
            value={pace.time}
            onChange={(time) => change({ pace: { ...pace, time } })}
          />
        </Row>
      )}
    </Column>
  );
}

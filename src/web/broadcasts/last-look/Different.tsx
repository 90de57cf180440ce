import type { ReactNode } from 'react';
import type { PlanSummary } from '../../../core/api/sending/plan';
import { differences, type Difference } from '../../../core/plan/picture/differences';
import { count, money, when } from '../../pieces/format';
import { Words } from '../../pieces/layout';

/** What a second look shows that the first did not, figure by figure. */
export function Different({
  before,
  after,
  zone,
  now,
}: {
  before: PlanSummary;
  after: PlanSummary;
  zone: string;
  now: number;
}): ReactNode {
  const found = differences(before, after);
  const told = (value: Difference['before'], kind: Difference['kind']) =>
    value === null
      ? 'none'
      : kind === 'count'
        ? count(Number(value))
        : kind === 'money'
          ? money(Number(value), after.currency)
          : kind === 'time'
            ? when(String(value), zone, now)
            : `“${value}”`;
  return (
    <Words small role="status">
      {found.length === 0
        ? 'The figures are the same: other people or other words stand behind them.'
        : found.map(({ of, kind, before: was, after: is }) => `${of} ${told(is, kind)} (${told(was, kind)} before)`).join(', ')}
    </Words>
  );
}

import type { PlanSummary, Remark } from '../../api/sending/plan';
import { showMoney } from './money';

/** What must be fixed where the balance does not cover it; undefined where it does. */
export function shortOf(cost: number, balance: number, currency: string): Omit<Remark, 'check'> | undefined {
  return cost > balance
    ? {
        place: 'cost',
        message: `The balance does not cover it: ${showMoney(cost - balance, currency)} is missing.`,
        fix: 'Add to the balance in Setup.',
      }
    : undefined;
}

/** A plan holds as long as what it is made from; the balance moves with every text, so it is looked at anew each time. */
export function withBalance(summary: PlanSummary, balance: number): PlanSummary {
  if (balance === summary.balance_micro) return summary;
  const others = summary.must_fix.filter(({ check }) => check !== 'balance');
  const short = shortOf(summary.cost_micro, balance, summary.currency);
  return {
    ...summary,
    balance_micro: balance,
    must_fix: short ? [...others, { ...short, check: 'balance' }] : others,
  };
}

import type { PlanSummary } from '../api/plan';
import type { PlanTexts } from './plan';

/** A line of the rate card. */
export interface Rate {
  prefix: string;
  destination: string;
  price_micro: number;
}

/** Which line of the rate card holds for a number: the longest prefix. Made once for a rate card. */
export function rateOf(rates: readonly Rate[]): (number: string) => Rate | undefined {
  const byPrefix = new Map(rates.map((rate) => [rate.prefix, rate]));
  const longest = rates.reduce((most, rate) => Math.max(most, rate.prefix.length), 0);
  return (number) => {
    for (let length = Math.min(longest, number.length); length > 0; length -= 1) {
      const rate = byPrefix.get(number.slice(0, length));
      if (rate) return rate;
    }
    return undefined;
  };
}

/** What it costs by where it goes, the dearest first. */
export function destinationsOf(texts: PlanTexts, rates: readonly Rate[]): PlanSummary['destinations'] {
  const of = rateOf(rates);
  const rows = new Map<string, PlanSummary['destinations'][number]>();
  for (let i = 0; i < texts.count; i += 1) {
    const rate = of(texts.people[i].number ?? '');
    if (!rate) continue;
    let row = rows.get(rate.prefix);
    if (!row) rows.set(rate.prefix, (row = { prefix: rate.prefix, name: rate.destination, people: 0, parts: 0, cost_micro: 0 }));
    row.people += 1;
    row.parts += texts.parts[i] + texts.after[i];
    row.cost_micro += texts.cost[i] + texts.afterCost[i];
  }
  return [...rows.values()].sort((a, b) => b.cost_micro - a.cost_micro || b.people - a.people);
}

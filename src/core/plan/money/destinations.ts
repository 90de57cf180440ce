import type { PlanSummary } from '../../api/sending/plan';
import type { PlanTexts } from '../words/texts';

/** A line of the rate card. */
export interface Rate {
  prefix: string;
  destination: string;
  price_micro: number;
}

/** Index of no line. */
export const NO_RATE = 65_535;

/** Which line of the rate card holds for a number, by index: the longest prefix; made once for a card, asked for every recipient. */
export function rateOf(rates: readonly { prefix: string }[]): (number: string) => number {
  const byPrefix = new Map(rates.map((rate, i) => [rate.prefix, i]));
  const lengths = [...new Set(rates.map((rate) => rate.prefix.length))].filter((length) => length > 0).sort((a, b) => b - a);
  return (number) => {
    for (const length of lengths) {
      const at = byPrefix.get(number.slice(0, length));
      if (at !== undefined) return at;
    }
    return NO_RATE;
  };
}

/** What it costs by where it goes, the dearest first. */
export function destinationsOf(texts: PlanTexts, rates: readonly Rate[]): PlanSummary['destinations'] {
  const rows = new Map<number, PlanSummary['destinations'][number]>();
  for (let i = 0; i < texts.count; i += 1) {
    const at = texts.rate[i];
    if (at === NO_RATE) continue;
    let row = rows.get(at);
    if (!row) rows.set(at, (row = { prefix: rates[at].prefix, name: rates[at].destination, people: 0, parts: 0, cost_micro: 0 }));
    row.people += 1;
    row.parts += texts.parts[i] + texts.after[i];
    row.cost_micro += texts.cost[i] + texts.afterCost[i];
  }
  return [...rows.values()].sort((a, b) => b.cost_micro - a.cost_micro || b.people - a.people);
}

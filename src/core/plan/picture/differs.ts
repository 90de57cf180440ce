import { showMoney } from '../money/money';

/** Of a run, what another is held against. */
export interface RunFigures {
  people: number;
  cost_micro: number;
}

/**
 * Why a run that is planned anew waits for a person: its people or its cost differ from the run before by more than so many in a
 * hundred. Undefined when they do not.
 */
export function differsMuch(before: RunFigures, now: RunFigures, most: number, currency: string): string | undefined {
  const apart = (a: number, b: number) => Math.abs(b - a) * 100 > a * most;
  const count = (n: number) => n.toLocaleString('en-US');
  const told = [
    ...(apart(before.people, now.people) ? [`${count(now.people)} people instead of ${count(before.people)}`] : []),
    ...(apart(before.cost_micro, now.cost_micro)
      ? [`${showMoney(now.cost_micro, currency)} instead of ${showMoney(before.cost_micro, currency)}`]
      : []),
  ];
  return told.length > 0 ? told.join(', ') : undefined;
}

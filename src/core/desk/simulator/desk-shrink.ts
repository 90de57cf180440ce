import { playDesk } from './desk-history';
import type { DeskPlan } from './desk-plan';
import type { DeskRules } from './desk-rules';

/** The shortest history that still goes wrong: what happens, processes, broadcasts and people are taken away while it does. */
export function shrinkDesk(plan: DeskPlan, rules: DeskRules = {}): DeskPlan {
  const wrong = (candidate: DeskPlan) => playDesk(candidate, rules).problems.length > 0;
  const without = <T>(all: readonly T[]) => all.map((_, i) => all.filter((__, j) => j !== i));
  let shortest = plan;
  for (let again = true; again;) {
    again = false;
    const { line } = shortest;
    const candidates: DeskPlan[] = [
      ...without(shortest.happenings).map((happenings) => ({ ...shortest, happenings })),
      ...without(line.happenings).map((happenings) => ({ ...shortest, line: { ...line, happenings } })),
      ...(line.owners > 1 ? [{ ...shortest, line: { ...line, owners: 1 } }] : []),
      ...(line.texts > 1 ? [{ ...shortest, line: { ...line, texts: line.texts - 1 } }] : []),
      ...(shortest.broadcasts.length > 1 ? [{ ...shortest, broadcasts: shortest.broadcasts.slice(0, 1) }] : []),
    ];
    const next = candidates.find(wrong);
    if (next) {
      shortest = next;
      again = true;
    }
  }
  return shortest;
}

import { play } from './history';
import type { Mutation } from './line-processes';
import type { Plan } from './plan';

/** The shortest history that still goes wrong: happenings, owners and texts are taken away while it does. */
export function shrink(plan: Plan, mutation: Mutation = {}): Plan {
  const wrong = (candidate: Plan) => play(candidate, mutation).problems.length > 0;
  let shortest = plan;
  for (let again = true; again;) {
    again = false;
    const candidates: Plan[] = [
      ...shortest.happenings.map((_, i) => ({ ...shortest, happenings: shortest.happenings.filter((__, j) => j !== i) })),
      ...(shortest.owners > 1 ? [{ ...shortest, owners: 1 }] : []),
      ...(shortest.texts > 1 ? [{ ...shortest, texts: shortest.texts - 1 }] : []),
      ...(Object.keys(shortest.temper) as (keyof Plan['temper'])[])
        .filter((key) => typeof shortest.temper[key] === 'number' && shortest.temper[key] !== 0)
        .map((key) => ({ ...shortest, temper: { ...shortest.temper, [key]: 0 } })),
    ];
    const next = candidates.find(wrong);
    if (next) {
      shortest = next;
      again = true;
    }
  }
  return shortest;
}

import { fold } from '../../../core/text/fold';
import type { PlanPerson } from '../../../core/plan/reach/person';
import { usualParts } from '../../../core/plan/picture/picture';
import type { Plan } from '../../../core/plan/plan';
import { CANNOT_BE_TEXTED, LEFT_OUT_STEPS, LEFT_OUT_WORDS, type LeftOutStep } from '../../../core/plan/reach/reach';

/** Positions of a plan's texts by what the proof steps through. */
export function pick(plan: Plan, which: string, zone: string): number[] {
  const { texts } = plan;
  const all = Array.from({ length: texts.count }, (_, i) => i);
  switch (which) {
    case 'longest':
      return all.sort((a, b) => texts.parts[b] - texts.parts[a] || texts.units[b] - texts.units[a]).slice(0, 50);
    case 'fallback':
      return all.filter((i) => texts.fell[i] === 1);
    case 'other_zone':
      return all.filter((i) => (texts.people[i].zone ?? zone) !== plan.summary.zones[0]?.zone);
    case 'usual': {
      const usual = usualParts(texts);
      return all.filter((i) => texts.parts[i] === usual);
    }
    default:
      if (which.startsWith('parts_')) return all.filter((i) => texts.parts[i] === Number(which.slice('parts_'.length)));
      if (which.startsWith('to_')) {
        const line = plan.rates.findIndex(({ prefix }) => prefix === which.slice('to_'.length));
        return all.filter((i) => texts.rate[i] === line);
      }
      return all.filter((i) => texts.languages[texts.language[i]] === which);
  }
}

export const nameOf = (p: { given_name: string; family_name: string }) => `${p.given_name} ${p.family_name}`.trim();
const sortOf = (p: PlanPerson) => fold(`${p.family_name} ${p.given_name}`);

/** The people of a step with why they are in it; `call_list` is everyone who cannot be texted at all. */
export function peopleOfStep(plan: Plan, step: string): { person: PlanPerson; why: string }[] {
  const dropped = (reason: LeftOutStep) => plan.dropped[reason].map((person) => ({ person, why: LEFT_OUT_WORDS[reason] }));
  const getting = () => plan.texts.people.map((person) => ({ person, why: 'will get it' }));
  switch (step) {
    case 'will_get':
      return getting();
    case 'named_twice':
      return [...new Map(plan.reach.twice.map((person) => [person.id, person])).values()].map((person) => ({
        person,
        why: 'named by more than one source',
      }));
    case 'call_list':
      return CANNOT_BE_TEXTED.flatMap(dropped).sort((a, b) => (sortOf(a.person) < sortOf(b.person) ? -1 : 1));
    case 'chosen':
      return [...getting(), ...LEFT_OUT_STEPS.flatMap(dropped)];
    default: {
      const reason = LEFT_OUT_STEPS.find((each) => each === step);
      if (reason) return dropped(reason);
      const { why = '', people = [] } = plan.hinted.get(step) ?? {};
      return people.map((person) => ({ person, why: typeof why === 'string' ? why : why(person) }));
    }
  }
}

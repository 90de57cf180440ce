import { addDays } from '../people/day';
import { fold } from '../text/fold';
import { localInstant } from '../zones';
import type { ActivityCondition, Condition, FieldCondition } from './condition';

export type Folded = Readonly<Record<string, string | number>>;

/** What is known of one person, as conditions see it. */
export interface PersonFacts {
  folded: Folded;
  lists: readonly number[];
  tags: readonly number[];
  /** The latest word for the present number; absent when there is none. */
  consent: { service?: 'granted' | 'withdrawn'; marketing?: 'granted' | 'withdrawn' };
  /** `yes`, or why they cannot be texted. */
  reach: string;
  activity: readonly { what: ActivityCondition['what']; at: number }[];
  dependants: readonly { id: number; folded: Folded; contact: number; mustNotReceive: boolean }[];
}

/** The day the question is asked on, where. */
export interface Today {
  /** `YYYY-MM-DD` in the workspace's zone. */
  day: string;
  zone: string;
}

/** The instant (ms) at which a day so many days ago began. */
export function dayBegan(today: Today, daysAgo: number): number {
  return localInstant(addDays(today.day, -daysAgo), '00:00', today.zone).instant;
}

/** The latest day from which it is so many whole years to today; days as text, so that there may be a February 29 that is none. */
export function yearsAgo(today: Today, years: number): string {
  return `${String(Number(today.day.slice(0, 4)) - years).padStart(4, '0')}${today.day.slice(4)}`;
}

/** Whether the rule holds for one person. */
export function decide(rule: Condition, facts: PersonFacts, today: Today): boolean {
  if ('op' in rule) {
    if (rule.op === 'all') return rule.of.every((each) => decide(each, facts, today));
    const some = rule.of.some((each) => decide(each, facts, today));
    return rule.op === 'any' ? some : !some;
  }
  switch (rule.on) {
    case 'field':
      return decideField(rule, facts.folded, today);
    case 'list':
      return rule.ids.some((id) => facts.lists.includes(id)) !== (rule.not === true);
    case 'tag':
      return rule.ids.some((id) => facts.tags.includes(id)) !== (rule.not === true);
    case 'consent':
      return (facts.consent[rule.purpose] ?? 'nothing') === rule.is;
    case 'reach':
      return rule.is === 'no' ? facts.reach !== 'yes' : facts.reach === rule.is;
    case 'activity': {
      const bound = dayBegan(today, rule.days);
      const at = facts.activity.flatMap((each) => (each.what === rule.what ? each.at : []));
      switch (rule.when) {
        case 'ever':
          return at.length > 0;
        case 'never':
          return at.length === 0;
        case 'last_days':
          return at.some((each) => each >= bound);
        case 'not_days':
          return !at.some((each) => each >= bound);
        case 'longer_ago':
          return at.some((each) => each < bound);
      }
    }
    case 'dependant':
      return matchedDependants(rule, facts, today).length > 0;
  }
}

/** The dependants for whom a person is asked about: those the rule's inner conditions hold for. */
export function matchedDependants(
  rule: Extract<Condition, { on: 'dependant' }>,
  facts: Pick<PersonFacts, 'dependants'>,
  today: Today,
): number[] {
  return facts.dependants
    .filter(
      (each) =>
        !each.mustNotReceive &&
        (rule.contact === 'any' || each.contact === (rule.contact === 'first' ? 1 : 2)) &&
        decideFolded(rule.of, each.folded, today),
    )
    .map((each) => each.id);
}

function decideFolded(rule: Condition, folded: Folded, today: Today): boolean {
  if ('op' in rule) {
    if (rule.op === 'all') return rule.of.every((each) => decideFolded(each, folded, today));
    const some = rule.of.some((each) => decideFolded(each, folded, today));
    return rule.op === 'any' ? some : !some;
  }
  return rule.on === 'field' && decideField(rule, folded, today);
}

function decideField(rule: FieldCondition, folded: Folded, today: Today): boolean {
  const value = folded[rule.field];
  if (rule.test === 'empty') return value === undefined;
  if (value === undefined) return false;
  switch (rule.test) {
    case 'filled':
      return true;
    case 'is':
      return rule.values.some((each) => value === fold(each));
    case 'is_not':
      return !rule.values.some((each) => value === fold(each));
    case 'has':
      return typeof value === 'string' && rule.values.some((each) => value.includes(fold(each)));
    case 'starts':
      return typeof value === 'string' && rule.values.some((each) => value.startsWith(fold(each)));
    case 'equals':
      return value === rule.number;
    case 'less':
      return typeof value === 'number' && value < rule.number;
    case 'more':
      return typeof value === 'number' && value > rule.number;
    case 'at_least':
      return typeof value === 'number' && value >= rule.number;
    case 'at_most':
      return typeof value === 'number' && value <= rule.number;
    case 'on':
      return value === rule.day;
    case 'before':
      return typeof value === 'string' && value < rule.day;
    case 'after':
      return typeof value === 'string' && value > rule.day;
    case 'next_days':
      return typeof value === 'string' && value >= today.day && value <= addDays(today.day, rule.days);
    case 'last_days':
      return typeof value === 'string' && value <= today.day && value >= addDays(today.day, -rule.days);
    case 'later_than':
      return typeof value === 'string' && value > addDays(today.day, rule.days);
    case 'longer_ago':
      return typeof value === 'string' && value < addDays(today.day, -rule.days);
    case 'years_at_least':
      return typeof value === 'string' && value <= yearsAgo(today, rule.years);
    case 'years_less':
      return typeof value === 'string' && value > yearsAgo(today, rule.years);
  }
}

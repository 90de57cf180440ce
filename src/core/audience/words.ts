import type { ActivityCondition, Condition, FieldCondition } from './condition';
import { decide, type PersonFacts, type Today } from './decide';

/** Names of what conditions refer to by id or slug. */
export interface Names {
  field(slug: string, about: 'person' | 'dependant'): string;
  list(id: number): string;
  tag(id: number): string;
}

export const TEST_WORDS: Record<FieldCondition['test'], string> = {
  is: 'is',
  is_not: 'is not',
  has: 'has in it',
  starts: 'starts with',
  empty: 'is empty',
  filled: 'is filled in',
  equals: 'is',
  less: 'is less than',
  more: 'is more than',
  at_least: 'is at least',
  at_most: 'is at most',
  on: 'is on',
  before: 'is before',
  after: 'is after',
  next_days: 'is within the next',
  last_days: 'was within the last',
  later_than: 'is later than',
  longer_ago: 'was longer ago than',
  years_at_least: 'is at least',
  years_less: 'is less than',
};

export const ACTIVITY_WORDS: Record<ActivityCondition['what'], string> = {
  texted: 'got a text',
  delivered: 'had a text delivered',
  not_delivered: 'had a text not delivered',
  answered: 'answered',
  clicked: 'clicked',
  opted_out: 'opted out',
};

/** The same that did not happen. */
export const ACTIVITY_NOT_WORDS: Record<ActivityCondition['what'], string> = {
  texted: 'got no text',
  delivered: 'had no text delivered',
  not_delivered: 'had no text that was not delivered',
  answered: 'did not answer',
  clicked: 'did not click',
  opted_out: 'did not opt out',
};

export const WHEN_WORDS: Record<ActivityCondition['when'], (days: string) => string> = {
  ever: () => '',
  never: () => ' at any time',
  last_days: (n) => ` in the last ${n}`,
  not_days: (n) => ` in the last ${n}`,
  longer_ago: (n) => ` more than ${n} ago`,
};

/** Whose years a condition counts: of a birth date, an age. */
export const isAge = (rule: { field: string }): boolean => rule.field === 'born';

const list = (parts: readonly string[], last: string): string =>
  parts.length < 2 ? (parts[0] ?? '') : `${parts.slice(0, -1).join(', ')} ${last} ${parts[parts.length - 1]}`;
const days = (n: number): string => (n === 1 ? '1 day' : `${n} days`);

/** A rule as a sentence that reads aloud: "home landing is Mill Quay or Pine Point". */
export function sayRule(rule: Condition, names: Names, about: 'person' | 'dependant' = 'person'): string {
  if ('op' in rule) {
    if (rule.of.length === 0) return rule.op === 'any' ? 'nobody' : 'everyone';
    const parts = rule.of.map((each) => ('op' in each ? `(${sayRule(each, names, about)})` : sayRule(each, names, about)));
    if (rule.op === 'none') return `none of: ${parts.join('; ')}`;
    return list(parts, rule.op === 'all' ? 'and' : 'or');
  }
  switch (rule.on) {
    case 'field': {
      const name = names.field(rule.field, about);
      const words = TEST_WORDS[rule.test];
      if ('values' in rule) return `${name} ${words} ${list(rule.values, 'or')}`;
      if ('years' in rule)
        return isAge(rule)
          ? `age ${words} ${rule.years}`
          : `${name} ${words} ${rule.years === 1 ? '1 year' : `${rule.years} years`} ago`;
      if ('number' in rule) return `${name} ${words} ${rule.number}`;
      if ('day' in rule) return `${name} ${words} ${rule.day}`;
      if ('days' in rule) return `${name} ${words} ${days(rule.days)}`;
      return `${name} ${words}`;
    }
    case 'list':
      return `is ${rule.not ? 'not ' : ''}on ${list(
        rule.ids.map((id) => names.list(id)),
        'or',
      )}`;
    case 'tag':
      return `is ${rule.not ? 'not ' : ''}tagged ${list(
        rule.ids.map((id) => names.tag(id)),
        'or',
      )}`;
    case 'consent':
      return rule.is === 'nothing'
        ? `nothing on record about ${rule.purpose === 'service' ? 'service notices' : 'marketing'}`
        : `${rule.purpose === 'service' ? 'service notices' : 'marketing'} ${rule.is}`;
    case 'reach':
      return rule.is === 'yes' ? 'can be texted' : rule.is === 'no' ? 'cannot be texted' : `cannot be texted: ${rule.is}`;
    case 'activity':
      return `${(rule.when === 'never' || rule.when === 'not_days' ? ACTIVITY_NOT_WORDS : ACTIVITY_WORDS)[rule.what]}${WHEN_WORDS[rule.when](days(rule.days))}`;
    case 'dependant': {
      const inner = 'op' in rule.of && rule.of.of.length === 0 ? '' : ` of someone whose ${sayRule(rule.of, names, 'dependant')}`;
      return `is ${rule.contact === 'any' ? 'a' : `the ${rule.contact}`} contact${inner}`;
    }
  }
}

/** One line of why a person is in or out. */
export interface Why {
  words: string;
  holds: boolean;
  /** What the person really has, where the condition is about a value. */
  has?: string;
}

/** Why the rule holds for a person or does not: the outermost conditions, each with what the person has. */
export function explain(
  rule: Condition,
  facts: PersonFacts,
  today: Today,
  names: Names,
  /** A value as it is stored, not as it is folded for comparing. */
  shown: (slug: string) => string | undefined = (slug) =>
    facts.folded[slug] === undefined ? undefined : String(facts.folded[slug]),
): Why[] {
  const parts = 'op' in rule && rule.op === 'all' ? rule.of : [rule];
  return parts.map((part) => {
    return {
      words: sayRule(part, names),
      holds: decide(part, facts, today),
      ...('on' in part && part.on === 'field' ? { has: shown(part.field) ?? 'empty' } : {}),
    };
  });
}

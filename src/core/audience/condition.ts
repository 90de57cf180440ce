import { Type, type Static } from 'typebox';
import { LocalDate } from '../plan/draft/wall-schemas';

/**
 * A segment's rule: conditions nest in groups of all, any, none. The same tree runs as SQL over everyone and, in core,
 * for one person; missing values make a condition false, except "is empty".
 */
const Days = Type.Integer({ minimum: 0, maximum: 3650 });
const Slug = Type.String({ pattern: '^[a-z][a-z0-9_]{0,40}$' });
const Ids = Type.Array(Type.Integer(), { maxItems: 200 });
const strict = { additionalProperties: false } as const;

const Words = Type.Object(
  {
    on: Type.Literal('field'),
    field: Slug,
    test: Type.Union([Type.Literal('is'), Type.Literal('is_not'), Type.Literal('has'), Type.Literal('starts')]),
    /** Any of these. */
    values: Type.Array(Type.String({ maxLength: 200 }), { minItems: 1, maxItems: 100 }),
  },
  strict,
);
const Presence = Type.Object(
  { on: Type.Literal('field'), field: Slug, test: Type.Union([Type.Literal('empty'), Type.Literal('filled')]) },
  strict,
);
const Amount = Type.Object(
  {
    on: Type.Literal('field'),
    field: Slug,
    test: Type.Union([
      Type.Literal('equals'),
      Type.Literal('less'),
      Type.Literal('more'),
      Type.Literal('at_least'),
      Type.Literal('at_most'),
    ]),
    number: Type.Number(),
  },
  strict,
);
const OnDay = Type.Object(
  {
    on: Type.Literal('field'),
    field: Slug,
    test: Type.Union([Type.Literal('on'), Type.Literal('before'), Type.Literal('after')]),
    day: LocalDate,
  },
  strict,
);
const Around = Type.Object(
  {
    on: Type.Literal('field'),
    field: Slug,
    /** Counted in calendar days from today: today itself is within both. */
    test: Type.Union([
      Type.Literal('next_days'),
      Type.Literal('last_days'),
      Type.Literal('later_than'),
      Type.Literal('longer_ago'),
    ]),
    days: Days,
  },
  strict,
);
const Years = Type.Object(
  {
    on: Type.Literal('field'),
    field: Slug,
    /** Whole years from a date to today: of a birth date, somebody's age. */
    test: Type.Union([Type.Literal('years_at_least'), Type.Literal('years_less')]),
    years: Type.Integer({ minimum: 0, maximum: 150 }),
  },
  strict,
);
const Membership = Type.Object(
  {
    on: Type.Union([Type.Literal('list'), Type.Literal('tag')]),
    ids: Ids,
    /** On none of them. */
    not: Type.Optional(Type.Literal(true)),
  },
  strict,
);
const Consent = Type.Object(
  {
    on: Type.Literal('consent'),
    purpose: Type.Union([Type.Literal('service'), Type.Literal('marketing')]),
    is: Type.Union([Type.Literal('granted'), Type.Literal('withdrawn'), Type.Literal('nothing')]),
  },
  strict,
);
const Reach = Type.Object(
  {
    on: Type.Literal('reach'),
    is: Type.Union([
      Type.Literal('yes'),
      Type.Literal('no'),
      Type.Literal('no text number'),
      Type.Literal('opted out'),
      Type.Literal('fixed line'),
      Type.Literal('notices withdrawn'),
      Type.Literal('notices not agreed'),
    ]),
  },
  strict,
);
const Activity = Type.Object(
  {
    on: Type.Literal('activity'),
    what: Type.Union([
      Type.Literal('texted'),
      Type.Literal('delivered'),
      Type.Literal('not_delivered'),
      Type.Literal('answered'),
      Type.Literal('clicked'),
      Type.Literal('opted_out'),
    ]),
    /** `not_days`: not in the last so many days, also where it never was. */
    when: Type.Union([
      Type.Literal('ever'),
      Type.Literal('last_days'),
      Type.Literal('longer_ago'),
      Type.Literal('not_days'),
      Type.Literal('never'),
    ]),
    days: Days,
  },
  strict,
);

export const Condition = Type.Cyclic(
  {
    Condition: Type.Union([
      Type.Object(
        {
          op: Type.Union([Type.Literal('all'), Type.Literal('any'), Type.Literal('none')]),
          of: Type.Array(Type.Ref('Condition'), { maxItems: 40 }),
        },
        strict,
      ),
      Type.Object(
        {
          on: Type.Literal('dependant'),
          contact: Type.Union([Type.Literal('any'), Type.Literal('first'), Type.Literal('second')]),
          /** Conditions on the dependant's own fields. */
          of: Type.Ref('Condition'),
        },
        strict,
      ),
      Words,
      Presence,
      Amount,
      OnDay,
      Around,
      Years,
      Membership,
      Consent,
      Reach,
      Activity,
    ]),
  },
  'Condition',
);

export type FieldCondition =
  | Static<typeof Words>
  | Static<typeof Presence>
  | Static<typeof Amount>
  | Static<typeof OnDay>
  | Static<typeof Around>
  | Static<typeof Years>;
export type MembershipCondition = Static<typeof Membership>;
export type ConsentCondition = Static<typeof Consent>;
export type ReachCondition = Static<typeof Reach>;
export type ActivityCondition = Static<typeof Activity>;
export interface Group {
  op: 'all' | 'any' | 'none';
  of: Condition[];
}
export interface DependantCondition {
  on: 'dependant';
  contact: 'any' | 'first' | 'second';
  of: Condition;
}
export type Condition =
  Group | DependantCondition | FieldCondition | MembershipCondition | ConsentCondition | ReachCondition | ActivityCondition;

export const EVERYONE: Group = { op: 'all', of: [] };
export const DEEPEST = 5;

/** What is wrong with a rule beyond its shape, as one sentence; undefined when it can be used. */
export function ruleProblem(
  rule: Condition,
  known: { person: ReadonlyMap<string, string>; dependant: ReadonlyMap<string, string> },
  inside: 'person' | 'dependant' = 'person',
  depth = 0,
): string | undefined {
  if (depth > DEEPEST) return `Groups nest at most ${DEEPEST} deep.`;
  if ('op' in rule) {
    for (const each of rule.of) {
      const wrong = ruleProblem(each, known, inside, depth + 1);
      if (wrong) return wrong;
    }
    return undefined;
  }
  switch (rule.on) {
    case 'dependant':
      return inside === 'dependant' ? 'A dependant has no dependants.' : ruleProblem(rule.of, known, 'dependant', depth + 1);
    case 'field': {
      const type = known[inside].get(rule.field);
      if (type === undefined) return `There is no field “${rule.field}”.`;
      if ('number' in rule && type !== 'number') return `“${rule.field}” is not a number.`;
      if (('day' in rule || 'days' in rule) && type !== 'date') return `“${rule.field}” is not a date.`;
      if ('values' in rule && (type === 'number' || type === 'date')) return `“${rule.field}” is not words.`;
      return undefined;
    }
    default:
      return inside === 'dependant' ? 'Only the fields of a dependant can be asked about here.' : undefined;
  }
}

/** The rule asks what was sent, clicked or answered: who is in it moves with every moment. */
export function looksAtActivity(rule: Condition): boolean {
  return 'op' in rule ? rule.of.some(looksAtActivity) : rule.on === 'activity';
}

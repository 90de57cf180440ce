import type { Condition, FieldCondition } from '../../core/audience/condition';
import { dayBegan, yearsAgo, type Today } from '../../core/audience/decide';
import { addDays } from '../../core/people/day';
import { fold } from '../../core/text/fold';
import { iso } from '../../core/clock';
import type { Param } from '../db/db';

/** Collects parameters while a statement is put together; every value is bound, none is written into the text. */
export class Binder {
  readonly params: Param[] = [];
  constructor(private readonly before = 0) {}
  bind(value: Param, type: string): string {
    this.params.push(value);
    return `$${this.before + this.params.length}::${type}`;
  }
}

/** The number of a person or their record says why they cannot be texted; the same order as REACH_CASE. */
const OPTED_OUT = `person.number IN (SELECT number FROM suppression)`;
// the latest word for the present number: no later one of the same purpose
const latest = (purposeSql: string, actSql: string) =>
  `EXISTS (SELECT 1 FROM consent_event c WHERE c.person_id = person.id AND c.number = person.number AND c.purpose = ${purposeSql} AND c.act = ${actSql}
     AND NOT EXISTS (SELECT 1 FROM consent_event later WHERE later.person_id = c.person_id AND later.number = c.number AND later.purpose = c.purpose AND later.id > c.id))`;

/**
 * A rule as an SQL condition over `person`. Missing values are NULL, which counts as false everywhere; negation goes
 * through IS NOT TRUE, so that it agrees with core's decide().
 */
export function ruleSql(rule: Condition, binder: Binder, today: Today): string {
  if ('op' in rule) {
    if (rule.op === 'none')
      return rule.of.length === 0
        ? 'true'
        : `((${rule.of.map((each) => ruleSql(each, binder, today)).join(' OR ')}) IS NOT TRUE)`;
    if (rule.of.length === 0) return rule.op === 'all' ? 'true' : 'false';
    return `(${rule.of.map((each) => ruleSql(each, binder, today)).join(rule.op === 'all' ? ' AND ' : ' OR ')})`;
  }
  switch (rule.on) {
    case 'field':
      return fieldSql(rule, 'person.folded', binder, today);
    case 'list':
      return `${rule.not ? 'NOT ' : ''}EXISTS (SELECT 1 FROM list_member m WHERE m.person_id = person.id AND m.list_id = ANY (${binder.bind(rule.ids, 'bigint[]')}))`;
    case 'tag':
      return `${rule.not ? 'NOT ' : ''}EXISTS (SELECT 1 FROM person_tag t WHERE t.person_id = person.id AND t.tag_id = ANY (${binder.bind(rule.ids, 'bigint[]')}))`;
    case 'consent': {
      const purpose = binder.bind(rule.purpose, 'text');
      if (rule.is === 'nothing') return `(${latest(purpose, `ANY ('{granted,withdrawn}')`)} IS NOT TRUE)`;
      return latest(purpose, binder.bind(rule.is, 'text'));
    }
    case 'reach':
      return reachSql(rule.is);
    case 'activity':
      return activitySql(rule, binder, today);
    case 'dependant':
      return `EXISTS (SELECT 1 FROM guardianship g JOIN dependant ON dependant.id = g.dependant_id WHERE g.person_id = person.id AND ${guardianSql(rule, binder, today)})`;
  }
}

/** The pairs of guardian and dependant that a condition is about; over `guardianship g` and `dependant`. */
export function guardianSql(rule: Extract<Condition, { on: 'dependant' }>, binder: Binder, today: Today): string {
  const contact = rule.contact === 'any' ? 'true' : `g.contact = ${binder.bind(rule.contact === 'first' ? 1 : 2, 'int')}`;
  return `NOT g.must_not_receive AND ${contact} AND ${dependantSql(rule.of, binder, today)}`;
}

function dependantSql(rule: Condition, binder: Binder, today: Today): string {
  if ('op' in rule) {
    const parts = rule.of.map((each) => dependantSql(each, binder, today));
    if (rule.op === 'none') return parts.length === 0 ? 'true' : `((${parts.join(' OR ')}) IS NOT TRUE)`;
    if (parts.length === 0) return rule.op === 'all' ? 'true' : 'false';
    return `(${parts.join(rule.op === 'all' ? ' AND ' : ' OR ')})`;
  }
  return rule.on === 'field' ? fieldSql(rule, 'dependant.folded', binder, today) : 'false';
}

function reachSql(is: string): string {
  const fixed = `person.number_kind = 'fixed'`;
  const withdrawn = latest(`'service'`, `'withdrawn'`);
  const grantedSql = latest(`'service'`, `'granted'`);
  const unagreed = `((SELECT notices = 'granted' FROM workspace) AND ${grantedSql} IS NOT TRUE)`;
  switch (is) {
    case 'no text number':
      return `person.number IS NULL`;
    case 'opted out':
      return OPTED_OUT;
    case 'fixed line':
      return `(${fixed} AND (${OPTED_OUT}) IS NOT TRUE)`;
    case 'notices withdrawn':
      return `(${withdrawn} AND (${fixed} OR ${OPTED_OUT}) IS NOT TRUE)`;
    case 'notices not agreed':
      return `(${unagreed} AND (person.number IS NULL OR ${withdrawn} OR ${fixed} OR ${OPTED_OUT}) IS NOT TRUE)`;
    case 'no':
      return `(person.number IS NULL OR ${OPTED_OUT} OR ${fixed} OR ${withdrawn} OR ${unagreed})`;
    default:
      return `((person.number IS NULL OR ${OPTED_OUT} OR ${fixed} OR ${withdrawn} OR ${unagreed}) IS NOT TRUE)`;
  }
}

function activitySql(rule: Extract<Condition, { on: 'activity' }>, binder: Binder, today: Today): string {
  if (rule.when === 'never') return `NOT ${activitySql({ ...rule, when: 'ever' }, binder, today)}`;
  if (rule.when === 'not_days') return `NOT ${activitySql({ ...rule, when: 'last_days' }, binder, today)}`;
  const when = (column: string) =>
    rule.when === 'ever'
      ? `${column} IS NOT NULL`
      : `${column} ${rule.when === 'last_days' ? '>=' : '<'} ${binder.bind(iso(dayBegan(today, rule.days)), 'timestamptz')}`;
  switch (rule.what) {
    case 'texted':
      return `EXISTS (SELECT 1 FROM outbound o WHERE o.person_id = person.id AND ${when('o.handed_at')})`;
    case 'delivered':
      return `EXISTS (SELECT 1 FROM outbound o WHERE o.person_id = person.id AND o.state = 'delivered' AND ${when('o.final_at')})`;
    case 'not_delivered':
      return `EXISTS (SELECT 1 FROM outbound o WHERE o.person_id = person.id AND o.state IN ('not_delivered', 'expired') AND ${when('o.final_at')})`;
    case 'answered':
      return `EXISTS (SELECT 1 FROM inbound i WHERE i.person_id = person.id AND i.kind IN ('reply', 'maybe_stop') AND ${when('i.received_at')})`;
    case 'clicked':
      return `EXISTS (SELECT 1 FROM outbound o JOIN link l ON l.outbound_id = o.id WHERE o.person_id = person.id AND ${when('l.clicked_at')})`;
    case 'opted_out':
      return `EXISTS (SELECT 1 FROM suppression s WHERE s.number = person.number AND ${when('s.at')})`;
  }
}

/** Values that the index on the folded ones leaves out (see migration 0002). */
const APART: readonly string[] = ['number', 'given_name', 'family_name', 'reference'];

const like = (text: string) => text.replace(/[\\%_]/g, '\\$&');

function fieldSql(rule: FieldCondition, folded: string, binder: Binder, today: Today): string {
  const slug = () => binder.bind(rule.field, 'text');
  // equality by containment, which the index on the folded values answers
  const indexed =
    folded === 'person.folded' && !APART.includes(rule.field) ? `(person.folded - '{${APART.join(',')}}'::text[])` : folded;
  const equals = (value: string | number) => `${indexed} @> ${binder.bind(JSON.stringify({ [rule.field]: value }), 'jsonb')}`;
  const text = () => `(${folded}->>${slug()}) COLLATE "C"`;
  const day = (comparison: string, value: string) => `${text()} ${comparison} ${binder.bind(value, 'text')}`;
  switch (rule.test) {
    case 'empty':
      return `((${folded} ? ${slug()}) IS NOT TRUE)`;
    case 'filled':
      return `${folded} ? ${slug()}`;
    case 'is':
      return `(${rule.values.map((each) => equals(fold(each))).join(' OR ')})`;
    case 'is_not':
      return `(${folded} ? ${slug()} AND NOT (${rule.values.map((each) => equals(fold(each))).join(' OR ')}))`;
    case 'has':
      return `(${rule.values.map((each) => `${text()} LIKE ${binder.bind(`%${like(fold(each))}%`, 'text')}`).join(' OR ')})`;
    case 'starts':
      return `(${rule.values.map((each) => `${text()} LIKE ${binder.bind(`${like(fold(each))}%`, 'text')}`).join(' OR ')})`;
    case 'equals':
      return equals(rule.number);
    case 'less':
    case 'more':
    case 'at_least':
    case 'at_most': {
      const comparison = { less: '<', more: '>', at_least: '>=', at_most: '<=' }[rule.test];
      // only numbers are compared, whatever else may stand there
      return `CASE WHEN jsonb_typeof(${folded}->${slug()}) = 'number' THEN (${folded}->>${slug()})::numeric ${comparison} ${binder.bind(String(rule.number), 'numeric')} END`;
    }
    case 'on':
      return equals(rule.day);
    case 'before':
      return day('<', rule.day);
    case 'after':
      return day('>', rule.day);
    case 'next_days':
      return `(${day('>=', today.day)} AND ${day('<=', addDays(today.day, rule.days))})`;
    case 'last_days':
      return `(${day('<=', today.day)} AND ${day('>=', addDays(today.day, -rule.days))})`;
    case 'later_than':
      return day('>', addDays(today.day, rule.days));
    case 'longer_ago':
      return day('<', addDays(today.day, -rule.days));
    case 'years_at_least':
      return day('<=', yearsAgo(today, rule.years));
    case 'years_less':
      return day('>', yearsAgo(today, rule.years));
  }
}

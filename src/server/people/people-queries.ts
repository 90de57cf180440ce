import { RUN_OUTCOMES, type RunOutcome } from '../../core/outcome/outcomes';
import { outcomeSql } from '../outcomes/for-others';
import type { PersonRow } from '../../core/api/people/people';
import { Condition, ruleProblem } from '../../core/audience/condition';
import type { Today } from '../../core/audience/decide';
import { DEPENDANT_FIELDS, PERSON_FIELDS } from '../../core/people/person-fields';
import { fold } from '../../core/text/fold';
import { wallClock } from '../../core/zones';
import { Binder, ruleSql, fieldTypes } from '../address-book/for-others';
import type { Param, Queryable } from '../db/db';
import { fitting } from '../http/checked';
import { Refusal } from '../../core/api/refusal';

/** Why a person can or cannot be texted, the same words everywhere people are listed. */
export const REACH_CASE = `CASE
  WHEN person.number IS NULL THEN 'no text number'
  WHEN EXISTS (SELECT 1 FROM suppression WHERE suppression.number = person.number) THEN 'opted out'
  WHEN person.number_kind = 'fixed' THEN 'fixed line'
  WHEN (SELECT act FROM consent_event c WHERE c.person_id = person.id AND c.number = person.number AND c.purpose = 'service' ORDER BY c.id DESC LIMIT 1) = 'withdrawn' THEN 'notices withdrawn'
  WHEN (SELECT notices = 'granted' FROM workspace)
    AND (SELECT act FROM consent_event c WHERE c.person_id = person.id AND c.number = person.number AND c.purpose = 'service' ORDER BY c.id DESC LIMIT 1) IS DISTINCT FROM 'granted' THEN 'notices not agreed'
  ELSE 'yes' END`;

/** Which people: all that is given holds together. */
export interface PeopleFilter {
  search?: string;
  list?: number;
  tag?: number;
  rule?: Condition;
  ids?: readonly number[];
  /** Those of a run, by what became of their text and why. */
  run?: { id: number; outcome?: RunOutcome; reason?: string };
}

/** The day it is where the workspace is. */
export async function todayOf(db: Queryable, now: number): Promise<Today> {
  const { zone } = (await db.query<{ zone: string }>(`SELECT zone FROM workspace`)).rows[0];
  return { day: wallClock(now, zone).date, zone };
}

const fits = fitting(Condition);
const isCondition = (rule: unknown): rule is Condition => fits(rule);

/** A rule from outside, checked for its shape and for fields that exist. */
export async function checkedRule(db: Queryable, rule: unknown): Promise<Condition> {
  if (!isCondition(rule)) throw new Refusal('not understood', 'rule', 'The rule cannot be read.', { place: 'rule' });
  const known = {
    person: new Map<string, string>([...PERSON_FIELDS.map((f) => [f.slug, f.type] as const), ...(await fieldTypes(db))]),
    dependant: new Map<string, string>([
      ...DEPENDANT_FIELDS.map((f) => [f.slug, f.type] as const),
      ...(await fieldTypes(db, 'dependant')),
    ]),
  };
  const checked = rule as Condition;
  const wrong = ruleProblem(checked, known);
  if (wrong) throw new Refusal('wrong', 'rule', wrong, { place: 'rule' });
  return checked;
}

/** What the address bar says about which people: `?search=`, `?list=`, `?tag=`, `?segment=`, `?cannot=1`, `?rule=` (JSON). */
export async function filterOf(db: Queryable, query: Record<string, string | undefined>): Promise<PeopleFilter> {
  const search = fold(query.search ?? '');
  // numbers are found however they are written
  const digits = search.replace(/\D/g, '');
  const id = (text: string | undefined) => (text && /^\d{1,15}$/.test(text) ? Number(text) : text ? -1 : undefined);
  const rules: Condition[] = [];
  if (query.cannot === '1') rules.push({ on: 'reach', is: 'no' });
  if (query.segment) {
    const { rows } = await db.query<{ rule: Condition }>(`SELECT rule FROM segment WHERE id = $1`, [id(query.segment)]);
    rules.push(rows[0]?.rule ?? { op: 'any', of: [] });
  }
  if (query.rule) {
    let parsed: unknown;
    try {
      parsed = JSON.parse(query.rule);
    } catch {
      throw new Refusal('not understood', 'rule', 'The rule cannot be read.', { place: 'rule' });
    }
    rules.push(await checkedRule(db, parsed));
  }
  return {
    search: digits.length >= 4 && /^[\d\s()+.-]+$/.test(search) ? digits : search || undefined,
    list: id(query.list),
    tag: id(query.tag),
    run: runOf(id(query.run), query),
    rule: rules.length === 0 ? undefined : rules.length === 1 ? rules[0] : { op: 'all', of: rules },
  };
}

function runOf(id: number | undefined, query: Record<string, string | undefined>): PeopleFilter['run'] {
  if (id === undefined) return undefined;
  const outcome = RUN_OUTCOMES.find((each) => each === query.outcome);
  if (query.outcome && !outcome)
    throw new Refusal('not understood', 'outcome', 'There is no such outcome.', { place: 'outcome' });
  return { id, outcome, reason: query.reason || undefined };
}

/** The filter as SQL over `person`; parameters are added to the binder. */
export function whereOf(filter: PeopleFilter, binder: Binder, today: Today): string {
  const parts: string[] = [];
  if (filter.search) parts.push(searchSql(filter.search, binder));
  if (filter.list)
    parts.push(
      `EXISTS (SELECT 1 FROM list_member m WHERE m.person_id = person.id AND m.list_id = ${binder.bind(filter.list, 'bigint')})`,
    );
  if (filter.tag)
    parts.push(
      `EXISTS (SELECT 1 FROM person_tag t WHERE t.person_id = person.id AND t.tag_id = ${binder.bind(filter.tag, 'bigint')})`,
    );
  if (filter.ids) parts.push(`person.id = ANY (${binder.bind(filter.ids as Param, 'bigint[]')})`);
  if (filter.run) {
    const { id, outcome, reason } = filter.run;
    parts.push(
      `EXISTS (SELECT 1 FROM outbound o WHERE o.person_id = person.id AND o.run_id = ${binder.bind(id, 'bigint')} AND o.kind = 'run'${outcome ? ` AND ${outcomeSql(outcome)}` : ''}${reason ? ` AND o.reason = ${binder.bind(reason, 'text')}` : ''})`,
    );
  }
  if (filter.rule) parts.push(ruleSql(filter.rule, binder, today));
  return parts.length > 0 ? parts.join(' AND ') : 'true';
}

export interface Order {
  by: string;
  down: boolean;
}

/** The key that people are put in order by; whoever has no such value comes last, either way. */
function keyOf(order: Order, types: ReadonlyMap<string, string>, binder: Binder): { key: string; type: string } {
  const { by, down } = order;
  if (by === 'name') return { key: 'person.sort_name', type: 'text COLLATE "C"' };
  if (by === 'added') return { key: 'person.created_at', type: 'timestamptz' };
  const slug = binder.bind(by, 'text');
  if (types.get(by) === 'number')
    return { key: `coalesce((person.folded->>${slug})::numeric, '${down ? '-' : ''}Infinity'::numeric)`, type: 'numeric' };
  return { key: `coalesce(person.folded->>${slug}, '${down ? '' : '\u{10ffff}'}') COLLATE "C"`, type: 'text COLLATE "C"' };
}

/** A page of people in an order, after the given place in it. */
export async function pageOfPeople(
  db: Queryable,
  filter: PeopleFilter,
  order: Order,
  after: { key: string; id: number } | undefined,
  size: number,
  today: Today,
): Promise<PersonRow[]> {
  const binder = new Binder();
  const types = new Map<string, string>([...PERSON_FIELDS.map((f) => [f.slug, f.type] as const), ...(await fieldTypes(db))]);
  const { key, type } = keyOf(order, types, binder);
  const where = whereOf(filter, binder, today);
  const [base, collation = ''] = type.split(/(?= COLLATE)/);
  const past = after
    ? ` AND (${key}, person.id) ${order.down ? '<' : '>'} (${binder.bind(after.key, base)}${collation}, ${binder.bind(after.id, 'bigint')})`
    : '';
  const direction = order.down ? 'DESC' : '';
  const sizeSql = binder.bind(size, 'int');
  const page = async (from: string, conditions: string) =>
    (
      await db.query<PersonRow>(
        // the page first, what is shown of it afterwards: a hundred look-ups, not one for everybody
        `SELECT page.*, ${REACH_CASE.replaceAll('person.', 'page.')} AS reach,
       ARRAY(SELECT tag.name FROM person_tag JOIN tag ON tag.id = tag_id WHERE person_id = page.id ORDER BY tag.name) AS tags,
       ARRAY(SELECT d.given_name FROM guardianship g JOIN dependant d ON d.id = g.dependant_id WHERE g.person_id = page.id ORDER BY d.sort_name, d.id) AS dependants
     FROM (SELECT id, given_name, family_name, number, reference, language, zone, zone_guessed, born, number_kind, number_country, created_at, fields, (${key})::text AS key
       FROM ${from} WHERE ${conditions} ORDER BY ${key} ${direction}, person.id ${direction} LIMIT ${sizeSql}) AS page`,
        binder.params,
      )
    ).rows;
  // the planner takes matches for evenly spread, and would look for the first hundred by going through everyone in order: those that
  // share six digits may all stand at the end. What is not very frequent is gathered by the index of what is written, then sorted
  if (filter.search && !(await isFrequent(db, filter.search)))
    return page(
      `(SELECT * FROM person WHERE ${searchSql(filter.search, binder)} LIMIT ${FREQUENT}) AS person`,
      `${where}${past}`,
    );
  return page('person', `${where}${past}`);
}

/** As many people as this are sorted in a moment; more are looked for in their order. */
const FREQUENT = 20_000;

async function isFrequent(db: Queryable, search: string): Promise<boolean> {
  const binder = new Binder();
  const someSql = `SELECT FROM person WHERE ${searchSql(search, binder)} LIMIT ${FREQUENT}`;
  const { rows } = await db.query<{ n: number }>(`SELECT count(*) AS n FROM (${someSql}) AS found`, binder.params);
  return rows[0].n >= FREQUENT;
}

const searchSql = (search: string, binder: Binder) =>
  `person.search LIKE ${binder.bind(`%${search.replace(/[\\%_]/g, '\\$&')}%`, 'text')}`;

export async function countPeople(db: Queryable, filter: PeopleFilter, today: Today): Promise<number> {
  const binder = new Binder();
  const where = whereOf(filter, binder, today);
  return (await db.query<{ n: number }>(`SELECT count(*) AS n FROM person WHERE ${where}`, binder.params)).rows[0].n;
}

import type { Condition } from '../../core/audience/condition';
import type { Today } from '../../core/audience/decide';
import type { Queryable } from '../db/db';
import { Binder, guardianSql } from './rule-sql';

/** The dependant conditions of a rule that make someone belong, not those that keep someone out. */
function dependantParts(rule: Condition): Extract<Condition, { on: 'dependant' }>[] {
  if ('op' in rule) return rule.op === 'none' ? [] : rule.of.flatMap(dependantParts);
  return rule.on === 'dependant' ? [rule] : [];
}

/** For whom the people of a rule are in it, by person; undefined where the rule asks for no dependants. */
export async function dependantsOfRule(db: Queryable, rule: Condition, today: Today): Promise<Map<number, number[]> | undefined> {
  const parts = dependantParts(rule);
  if (parts.length === 0) return undefined;
  const of = new Map<number, number[]>();
  for (const part of parts) {
    const inner = new Binder();
    const pairs = await db.query<{ person_id: number; dependant_id: number }>(
      `SELECT g.person_id, g.dependant_id FROM guardianship g JOIN dependant ON dependant.id = g.dependant_id WHERE ${guardianSql(part, inner, today)} ORDER BY g.dependant_id`,
      inner.params,
    );
    for (const { person_id, dependant_id } of pairs.rows) {
      const own = of.get(person_id) ?? [];
      if (!own.includes(dependant_id)) of.set(person_id, [...own, dependant_id]);
    }
  }
  return of;
}

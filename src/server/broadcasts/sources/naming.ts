import type { Condition } from '../../../core/audience/condition';
import type { Today } from '../../../core/audience/decide';
import type { Source } from '../../../core/plan/draft/draft';
import { Binder, guardianSql, ruleSql } from '../../address-book/for-others';
import type { Param, Queryable } from '../../db/db';
import { onceRows } from './file-used-once';
import type { Naming } from './named';
import { namedByRun } from './named-by-run';

async function ids(db: Queryable, idSql: string, from: string, params: readonly Param[]): Promise<number[]> {
  const { rows } = await db.query<{ packed: string | null }>(
    `SELECT string_agg(${idSql}::text, ',' ORDER BY ${idSql}) AS packed FROM ${from}`,
    params,
  );
  return rows[0].packed === null ? [] : rows[0].packed.split(',').map(Number);
}

/** The dependant conditions of a rule that make someone belong, not those that keep someone out. */
function dependantParts(rule: Condition): Extract<Condition, { on: 'dependant' }>[] {
  if ('op' in rule) return rule.op === 'none' ? [] : rule.of.flatMap(dependantParts);
  return rule.on === 'dependant' ? [rule] : [];
}

/** People of a segment with the dependants for whom they are in it. */
async function namedBySegment(db: Queryable, rule: Condition, today: Today): Promise<Naming[]> {
  const binder = new Binder();
  const people = await ids(db, 'id', `person WHERE ${ruleSql(rule, binder, today)}`, binder.params);
  const parts = dependantParts(rule);
  if (parts.length === 0) return people;
  const of = new Map<number, number[]>();
  for (const part of parts) {
    const inner = new Binder();
    const pairs = await db.query<{ person_id: number; dependant_id: number }>(
      `SELECT g.person_id, g.dependant_id FROM guardianship g JOIN dependant ON dependant.id = g.dependant_id WHERE ${guardianSql(part, inner, today)} ORDER BY g.dependant_id`,
      inner.params,
    );
    for (const pair of pairs.rows) of.set(pair.person_id, [...(of.get(pair.person_id) ?? []), pair.dependant_id]);
  }
  return people.map((id) => ({ id, dependants: of.get(id) ?? [] }));
}

/** Everyone the sources name, in the order of sources and then of people; someone named by two stands in twice. */
export async function namedBy(
  db: Queryable,
  sources: readonly Source[],
  purpose: 'service' | 'marketing',
  today: Today,
): Promise<Naming[]> {
  const named: Naming[] = [];
  const add = (all: readonly Naming[]) => {
    for (const each of all) named.push(each);
  };
  for (const source of sources) {
    switch (source.kind) {
      case 'person':
        named.push(source.id);
        break;
      case 'everyone':
        add(await ids(db, 'id', 'person', []));
        break;
      case 'list':
        add(await ids(db, 'person_id', 'list_member WHERE list_id = $1', [source.id]));
        break;
      case 'tag':
        add(await ids(db, 'person_id', 'person_tag WHERE tag_id = $1', [source.id]));
        break;
      case 'segment': {
        const rule = (await db.query<{ rule: Condition }>(`SELECT rule FROM segment WHERE id = $1`, [source.id])).rows[0]?.rule;
        if (rule) add(await namedBySegment(db, rule, today));
        break;
      }
      case 'numbers':
        for (const number of source.numbers) named.push({ number });
        break;
      case 'file':
        for (const row of await onceRows(db, source.id, purpose))
          named.push({ number: row.person.number ?? '', row: { ...row.person, ready: row.ready, said: row.said } });
        break;
      case 'run':
        add(await namedByRun(db, source));
        break;
      case 'unreachable':
        break;
    }
  }
  return named;
}

import type { Condition } from '../../../core/audience/condition';
import type { Today } from '../../../core/audience/decide';
import type { Source } from '../../../core/plan/draft/draft';
import { Binder, dependantsOfRule, ruleSql, thereFor } from '../../address-book/for-others';
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

/** People of a segment with the dependants for whom they are in it. */
async function namedBySegment(db: Queryable, rule: Condition, today: Today): Promise<Naming[]> {
  const binder = new Binder();
  const people = await ids(db, 'id', `person WHERE ${ruleSql(rule, binder, today)}`, binder.params);
  const of = await dependantsOfRule(db, rule, today);
  if (!of) return people;
  return people.map((id) => ({ id, dependants: of.get(id) ?? [] }));
}

/** People of a list, with the dependants for whom they are there where that is known. */
async function namedByList(db: Queryable, list: number): Promise<Naming[]> {
  const people = await ids(db, 'person_id', 'list_member WHERE list_id = $1', [list]);
  const known = await thereFor(db, list);
  if (known.size === 0) return people;
  return people.map((id) => {
    const dependants = known.get(id);
    return dependants ? { id, dependants } : id;
  });
}

/** Of each of these dependants the first contact who may hear about them, with those for whom they are named. */
async function namedByDependants(db: Queryable, dependants: readonly number[]): Promise<Naming[]> {
  const { rows } = await db.query<{ person_id: number; dependant_id: number }>(
    `SELECT DISTINCT ON (dependant_id) person_id, dependant_id FROM guardianship
     WHERE dependant_id = ANY ($1::bigint[]) AND NOT must_not_receive ORDER BY dependant_id, contact, person_id`,
    [dependants],
  );
  const of = new Map<number, number[]>();
  for (const row of rows) of.set(row.person_id, [...(of.get(row.person_id) ?? []), row.dependant_id]);
  return [...of].sort(([a], [b]) => a - b).map(([id, those]) => ({ id, dependants: those }));
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
        add(await namedByList(db, source.id));
        break;
      case 'tag':
        add(await ids(db, 'person_id', 'person_tag WHERE tag_id = $1', [source.id]));
        break;
      case 'segment': {
        const rule = (await db.query<{ rule: Condition }>(`SELECT rule FROM segment WHERE id = $1`, [source.id])).rows[0]?.rule;
        if (rule) add(await namedBySegment(db, rule, today));
        break;
      }
      case 'dependants':
        add(await namedByDependants(db, source.ids));
        break;
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

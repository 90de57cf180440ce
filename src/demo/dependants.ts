import { sortName } from '../core/people/found-by';
import { foldedOf } from '../core/people/person-fields';
import type { Param, Tx } from '../server/db/db';
import { seeded } from './chance';
import type { DemoPerson } from './people';

const SIBLINGS = 'Ida Finn Lou Ravi Tess Ada Oz Uma Kit Mae'.split(' ');
const CLASS_OF_AGE: [string, number][] = [
  ['Tadpoles', 7],
  ['Otters', 10],
  ['Pike', 13],
];

/**
 * The juniors of the boathouse, and some boats, with their first and second contacts. Some contacts have two children,
 * some children two contacts, and a few contacts must not receive what is about a child.
 */
export async function makeDependants(tx: Tx, people: readonly DemoPerson[], at: string, today: number): Promise<void> {
  const chance = seeded(1912);
  const types = new Map([['class', 'choice' as const]]);
  const parents = people.filter((p) => p.junior !== null);
  const dependants: Param[][] = [];
  const guard: Param[][] = [];
  const add = (
    given: string,
    family: string,
    className: string | null,
    contacts: [person: number, contact: number, mustNot: boolean][],
  ) => {
    const id = dependants.length + 1;
    const age = CLASS_OF_AGE.find(([name]) => name === className)?.[1];
    const born =
      age === undefined ? null : new Date(today - (age * 365 + chance.int(0, 700)) * 86_400_000).toISOString().slice(0, 10);
    const fields: Record<string, string> = className === null ? {} : { class: className };
    const d = { given_name: given, family_name: family, reference: className === null ? null : `J-${400 + id}`, born, fields };
    dependants.push([
      id,
      given,
      family,
      d.reference,
      born,
      JSON.stringify(fields),
      JSON.stringify(foldedOf(d, types)),
      sortName(d),
      at,
      at,
    ]);
    for (const [person, contact, mustNot] of contacts) guard.push([id, person, contact, mustNot]);
  };
  parents.forEach((parent, i) => {
    const second = chance.chance(0.45) ? people.find((p) => p.id === parent.id + 1 && p.junior === null) : undefined;
    // of someone who is here for other things, too, each sheet would ask whether it is about the child
    const mustNot = second !== undefined && chance.chance(0.08) && second.lists.length === 0;
    const contacts: [number, number, boolean][] = [
      [parent.id, 1, false],
      ...(second ? [[second.id, 2, mustNot] as [number, number, boolean]] : []),
    ];
    add(parent.junior ?? '', parent.family, parent.juniorClass, contacts);
    if (i % 6 === 0) add(chance.pick(SIBLINGS), parent.family, chance.chance(0.5) ? parent.juniorClass : 'Otters', contacts);
  });
  for (const holder of people.filter((p) => p.berth !== null).slice(0, 24))
    add(chance.pick(['Wagtail', 'Dipper', 'Sandpiper', 'Plover', 'Teal', 'Grebe']), '', null, [[holder.id, 1, false]]);
  await tx.copyIn(
    'dependant',
    ['id', 'given_name', 'family_name', 'reference', 'born', 'fields', 'folded', 'sort_name', 'created_at', 'updated_at'],
    [dependants],
  );
  await tx.copyIn('guardianship', ['dependant_id', 'person_id', 'contact', 'must_not_receive'], [guard]);
  await tx.query(`SELECT setval('dependant_id_seq', (SELECT max(id) FROM dependant))`);
}

/** For whom people are on the lists of the classes; once they are on them. */
export async function makeThereFor(tx: Tx): Promise<void> {
  // one of them was put on the list of a class all the same, as happens
  await tx.query(
    `INSERT INTO list_member (list_id, person_id) SELECT list.id, g.person_id FROM guardianship g JOIN dependant d ON d.id = g.dependant_id
       JOIN list ON list.name = 'Parents, ' || (d.fields->>'class') WHERE g.must_not_receive AND d.fields->>'class' = 'Tadpoles' ON CONFLICT DO NOTHING`,
  );
  await tx.query(
    `INSERT INTO list_member_for (list_id, person_id, dependant_id) SELECT m.list_id, m.person_id, d.id FROM list
       JOIN list_member m ON m.list_id = list.id JOIN guardianship g ON g.person_id = m.person_id
       JOIN dependant d ON d.id = g.dependant_id AND list.name = 'Parents, ' || (d.fields->>'class')`,
  );
}

import { describe, expect, test } from 'vitest';
import { emptyDb, ENGINES } from '../db/testing/engines';
import type { Db } from '../db/db';
import { makeWorkspace, NOW } from '../engine/testing/world';
import { changeMany, changesSince, undoMany } from './bulk';
import { mergePeople } from './person/merge-people';
import { checkedRule, countPeople, filterOf, pageOfPeople } from './people-queries';
import { bringRows, canonical } from './testing';

const AT = new Date(NOW).toISOString();
const asked = { account: undefined, at: AT };
const TODAY = { day: '2026-12-02', zone: 'America/New_York' };

async function world(engine: (typeof ENGINES)[number]): Promise<Db> {
  const db = await emptyDb(engine);
  await makeWorkspace(db);
  await db.query(
    `INSERT INTO field_def (about, slug, label, type) VALUES ('person', 'landing', 'landing', 'text'), ('person', 'crew', 'crew', 'number'), ('person', 'ends', 'ends', 'date')`,
  );
  await bringRows(
    db,
    [
      ['First', 'Last', 'Mobile', 'Landing', 'Crew', 'Ends', 'Tags'],
      ['Inès', 'Tremblay', '207-555-0101', 'Mill Quay', '10', '2027-01-05', 'a'],
      ['Leo', 'Aalto', '207-555-0102', '', '9', '', ''],
      ['Ana', 'Ørsted', '207-555-0103', 'Île', '', '2026-12-03', 'a'],
      ['', 'Zimmer', '', 'mill quay', '-1', '2026-12-03', ''],
    ],
    { match: ['given_name', 'family_name', 'number', 'field:landing', 'field:crew', 'field:ends', 'tags'] },
  );
  return db;
}
const names = async (db: Db, by: string, down = false) => {
  const all: string[] = [];
  // page by page of one, so that every place in the order is asked for
  let after: { key: string; id: number } | undefined;
  for (;;) {
    const [row] = await pageOfPeople(db, {}, { by, down }, after, 1, TODAY);
    if (!row) return all;
    all.push(row.family_name);
    after = { key: row.key, id: row.id };
  }
};

describe.each(ENGINES)('many people at once, on %s', (engine) => {
  test('tag, list and field changes touch who needs it, say how many, and are undone to what was', async () => {
    const db = await world(engine);
    const before = await canonical(db);
    const tagged = await changeMany(db, {}, { kind: 'tag', name: 'a' }, 'tagged', asked, TODAY);
    expect(tagged.people).toBe(2);
    expect(await changesSince(db, '2000-01-01')).toMatchObject([{ id: tagged.id, what: 'tagged', people: 2, undone: false }]);
    expect(await changesSince(db, '2999-01-01')).toEqual([]);
    const set = await changeMany(
      db,
      { rule: { on: 'field', field: 'landing', test: 'filled' } },
      { kind: 'set', field: 'crew', value: '1,000' },
      'set',
      asked,
      TODAY,
    );
    expect(set.people).toBe(3);
    expect(await countPeople(db, { rule: { on: 'field', field: 'crew', test: 'equals', number: 1000 } }, TODAY)).toBe(3);
    await expect(changeMany(db, {}, { kind: 'set', field: 'crew', value: 'many' }, 'set', asked, TODAY)).rejects.toThrow(
      'does not fit',
    );
    expect(await undoMany(db, set.id, AT)).toBe(3);
    expect(await undoMany(db, tagged.id, AT)).toBe(2);
    await expect(undoMany(db, tagged.id, AT)).rejects.toThrow('nothing left to undo');
    expect(await canonical(db)).toEqual(before);
  });

  test('in any order, page by page; whoever has no value comes last either way', async () => {
    const db = await world(engine);
    expect(await names(db, 'name')).toEqual(['Aalto', 'Ørsted', 'Tremblay', 'Zimmer']);
    expect(await names(db, 'name', true)).toEqual(['Zimmer', 'Tremblay', 'Ørsted', 'Aalto']);
    expect(await names(db, 'crew')).toEqual(['Zimmer', 'Aalto', 'Tremblay', 'Ørsted']);
    expect(await names(db, 'crew', true)).toEqual(['Tremblay', 'Aalto', 'Zimmer', 'Ørsted']);
    expect(await names(db, 'ends')).toEqual(['Ørsted', 'Zimmer', 'Tremblay', 'Aalto']);
    expect(await names(db, 'added')).toHaveLength(4);
  });

  test('found by name without its accents, by number in any notation, by part of either', async () => {
    const db = await world(engine);
    const found = async (search: string) => countPeople(db, await filterOf(db, { search }), TODAY);
    expect(await found('ines')).toBe(1);
    expect(await found('ORSTED')).toBe(1);
    expect(await found('(207) 555-0102')).toBe(1);
    expect(await found('5550103')).toBe(1);
    expect(await found('100%')).toBe(0);
  });

  test('rules from outside are checked: their shape, fields that exist, types that fit', async () => {
    const db = await world(engine);
    const wrong = (rule: unknown) =>
      checkedRule(db, rule).then(
        () => 'fine',
        (error: Error) => error.message,
      );
    expect(await wrong({ on: 'field', field: 'nothing', test: 'filled' })).toBe('There is no field “nothing”.');
    expect(await wrong({ on: 'field', field: 'landing', test: 'next_days', days: 3 })).toBe('“landing” is not a date.');
    expect(await wrong({ op: 'all', of: [{ on: 'sql', text: 'DROP' }] })).toBe('The rule cannot be read.');
    expect(await wrong({ on: 'dependant', contact: 'any', of: { on: 'reach', is: 'yes' } })).toMatch(/fields of a dependant/);
    let deep: unknown = { on: 'field', field: 'landing', test: 'filled' };
    for (let i = 0; i < 9; i += 1) deep = { op: 'all', of: [deep] };
    expect(await wrong(deep)).toMatch(/nest at most/);
  });

  test('who is chosen by a rule about dependants is put on a list for those who match; taken off and back, they still are', async () => {
    const db = await world(engine);
    await db.query(`INSERT INTO field_def (about, slug, label, type) VALUES ('dependant', 'class', 'class', 'choice')`);
    for (const [id, name, group] of [
      [1, 'Noor', 'pike'],
      [2, 'Sami', 'otters'],
      [3, 'Ida', 'pike'],
    ])
      await db.query(
        `INSERT INTO dependant (id, given_name, folded, created_at, updated_at) VALUES ($1, $2, $3::jsonb, $4::timestamptz, $4::timestamptz)`,
        [id, name, JSON.stringify({ class: group }), AT],
      );
    // of Leo's two, one is in the class; Ana must not hear about hers
    await db.query(`INSERT INTO guardianship VALUES (1, 2, 1, false), (2, 2, 1, false), (3, 3, 1, true)`);
    const rule = JSON.stringify({
      on: 'dependant',
      contact: 'any',
      of: { on: 'field', field: 'class', test: 'is', values: ['pike'] },
    });
    const filter = await filterOf(db, { rule });
    const there = async () =>
      ((await canonical(db)) as { people: { given_name: string; there_for: string[] }[] }).people.flatMap((p) =>
        p.there_for.map((each) => `${p.given_name}: ${each}`),
      );
    await changeMany(db, filter, { kind: 'put_on_new', name: 'Pike' }, 'put on', asked, TODAY);
    expect(await there()).toEqual(['Leo: Pike for Noor']);
    const list = (await db.query<{ id: number }>(`SELECT id FROM list WHERE name = 'Pike'`)).rows[0].id;
    const off = await changeMany(db, { list }, { kind: 'take_off', id: list }, 'off', asked, TODAY);
    expect(await there()).toEqual([]);
    await undoMany(db, off.id, AT);
    expect(await there()).toEqual(['Leo: Pike for Noor']);
    // two records made one: for whom either is there comes along
    await db.transaction((tx) => mergePeople(tx, 1, 2, AT, null));
    expect(await there()).toEqual(['Inès: Pike for Noor']);
    // of somebody who is on it already it becomes known, until that is undone
    await db.query(`DELETE FROM list_member_for`);
    const again = await changeMany(db, filter, { kind: 'put_on', id: list }, 'put on', asked, TODAY);
    expect(await there()).toEqual(['Inès: Pike for Noor']);
    await undoMany(db, again.id, AT);
    expect(await there()).toEqual([]);
    expect((await db.query(`SELECT 1 FROM list_member WHERE list_id = $1 AND person_id = 1`, [list])).rowCount).toBe(1);
  });

  test('two records made one: blanks filled, everything kept, and the stricter word holds', async () => {
    const db = await world(engine);
    await db.query(`INSERT INTO list (id, name, created_at) VALUES (7, 'Crew', $1::timestamptz)`, [AT]);
    await db.query(`INSERT INTO list_member VALUES (7, 2)`);
    await db.query(
      `INSERT INTO consent_event (person_id, number, purpose, act, how, at) VALUES (1, '+12075550101', 'marketing', 'withdrawn', 'desk', $1::timestamptz), (2, '+12075550101', 'marketing', 'granted', 'form', $1::timestamptz)`,
      [AT],
    );
    await db.transaction((tx) => mergePeople(tx, 1, 2, AT, null));
    const { people } = (await canonical(db)) as { people: Record<string, unknown>[] };
    expect(people).toHaveLength(3);
    expect(people.find((p) => p.given_name === 'Inès')).toMatchObject({
      number: '+12075550101',
      lists: ['Crew'],
      tags: ['a'],
      fields: { landing: 'Mill Quay', crew: '10', second_phone: '+12075550102' },
      consent: [['marketing', 'withdrawn']],
    });
  });
});

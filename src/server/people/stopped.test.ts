import { describe, expect, test } from 'vitest';
import { EMPTY_DRAFT, type Source } from '../../core/plan/draft/draft';
import { makePlan } from '../broadcasts/testing';
import type { Db } from '../db/db';
import { emptyDb, ENGINES } from '../db/testing/engines';
import { makeWorkspace, NOW } from '../engine/testing/world';
import { mergePeople } from './person/merge-people';
import { bringRows, PLAIN_SETTINGS, stageRows, undoImport } from './testing';

/** A number that said stop stays out, by whatever road it is named: one test a road. */
const AT = new Date(NOW).toISOString();
const STOPPED = '+12075550142';
const FREE = '+12075550143';
const HEAD = ['First', 'Mobile'];
const MATCH = { match: ['given_name', 'number'] };

async function world(engine: (typeof ENGINES)[number]): Promise<Db> {
  const db = await emptyDb(engine);
  await makeWorkspace(db);
  await bringRows(db, [HEAD, ['Ana', STOPPED], ['Leo', FREE]], { ...MATCH, list: 'All' });
  await db.query(`INSERT INTO suppression (number, at, how) VALUES ($1, $2::timestamptz, 'texted')`, [STOPPED, AT]);
  return db;
}
const idOf = async (db: Db, given: string) =>
  (await db.query<{ id: number }>(`SELECT id FROM person WHERE given_name = $1 ORDER BY id DESC`, [given])).rows[0].id;
const listed = async (db: Db): Promise<Source> => ({
  kind: 'list',
  id: (await db.query<{ id: number }>(`SELECT id FROM list WHERE name = 'All'`)).rows[0].id,
});

/** Plans both purposes over the sources; the stopped number is in neither, and is accounted for. */
async function staysOut(db: Db, to: Source[], accounted = 1): Promise<void> {
  for (const purpose of ['service', 'marketing'] as const) {
    const plan = await makePlan(db, { ...EMPTY_DRAFT, sender_id: 1, to, purpose, words: 'Heron is off. Ottermere Ferry' }, NOW);
    expect(plan.texts.map((text) => text.number)).not.toContain(STOPPED);
    expect(plan.dropped.opted_out.filter((person) => person.number === STOPPED)).toHaveLength(accounted);
  }
}

describe.each(ENGINES)('a number that said stop, on %s', (engine) => {
  test('by its list, by everyone, by the person, by a segment, by a tag', async () => {
    const db = await world(engine);
    await db.query(
      `INSERT INTO segment (name, rule, created_at, updated_at) VALUES ('Everyone', '{"op":"all","of":[]}', $1::timestamptz, $1::timestamptz)`,
      [AT],
    );
    await db.query(`INSERT INTO tag (id, name) VALUES (1, 'bicycle')`);
    const ana = await idOf(db, 'Ana');
    await db.query(`INSERT INTO person_tag VALUES (1, $1)`, [ana]);
    for (const source of [
      await listed(db),
      { kind: 'everyone' },
      { kind: 'person', id: ana },
      { kind: 'segment', id: 1 },
      { kind: 'tag', id: 1 },
    ] as Source[])
      await staysOut(db, [source]);
  });
  test('typed or pasted', async () => staysOut(await world(engine), [{ kind: 'numbers', numbers: [STOPPED, FREE] }]));
  test('typed, when nobody here has it any more', async () => {
    const db = await world(engine);
    await db.query(`DELETE FROM person WHERE number = $1`, [STOPPED]);
    await staysOut(db, [{ kind: 'numbers', numbers: [STOPPED] }]);
  });
  test('imported again, with consent stated for the whole file', async () => {
    const db = await world(engine);
    await bringRows(db, [HEAD, ['Ana', STOPPED]], {
      ...MATCH,
      already: 'overwrite',
      list: 'All',
      consent_purpose: 'marketing',
      consent_all: { how: 'paper form', evidence: 'box 3', wording: 'Texts are fine' },
    });
    await staysOut(db, [await listed(db)]);
  });
  test('after the import that brought it was undone, and it came again', async () => {
    const db = await emptyDb(engine);
    await makeWorkspace(db);
    const rows = [HEAD, ['Ana', STOPPED], ['Leo', FREE]];
    const id = await bringRows(db, rows, { ...MATCH, list: 'All' });
    await db.query(`INSERT INTO suppression (number, at, how) VALUES ($1, $2::timestamptz, 'texted')`, [STOPPED, AT]);
    await undoImport(db, id);
    expect((await db.query(`SELECT 1 FROM person`)).rows).toHaveLength(0);
    await bringRows(db, rows, { ...MATCH, list: 'All' });
    await staysOut(db, [await listed(db)]);
  });
  test('merged into someone without a number, who takes it over', async () => {
    const db = await world(engine);
    await bringRows(db, [HEAD, ['Mika', '']], { ...MATCH, list: 'All' });
    const [mika, ana] = [await idOf(db, 'Mika'), await idOf(db, 'Ana')];
    await db.transaction((tx) => mergePeople(tx, mika, ana, AT, null));
    expect((await db.query(`SELECT number FROM person WHERE given_name = 'Mika'`)).rows).toEqual([{ number: STOPPED }]);
    await staysOut(db, [await listed(db)]);
  });
  test('erased and brought in again', async () => {
    const db = await world(engine);
    await db.query(`DELETE FROM person WHERE number = $1`, [STOPPED]);
    await bringRows(db, [HEAD, ['Ana again', STOPPED]], { ...MATCH, list: 'All' });
    await staysOut(db, [await listed(db)]);
  });
  test('shared with someone who never said it', async () => {
    const db = await world(engine);
    await bringRows(db, [HEAD, ['Luc', STOPPED]], { ...MATCH, list: 'All', shared_number: 'by_name' });
    await staysOut(db, [await listed(db)], 2);
  });
  test('given to someone whose number changed to it', async () => {
    const db = await world(engine);
    await db.query(`UPDATE person SET number = $1 WHERE given_name = 'Leo'`, [STOPPED]);
    await staysOut(db, [{ kind: 'person', id: await idOf(db, 'Leo') }]);
  });
  test('in a file used once, with a text of its own', async () => {
    const db = await world(engine);
    const { id } = await stageRows(
      db,
      [
        ['Mobile', 'Text'],
        [STOPPED, 'Your boat waits'],
        [FREE, 'Your boat waits too'],
      ],
      {
        ...PLAIN_SETTINGS,
        match: ['number', 'ready_text'],
      },
    );
    await db.query(`UPDATE import SET state = 'once' WHERE id = $1`, [id]);
    await staysOut(db, [{ kind: 'file', id }]);
    const plan = await makePlan(db, { ...EMPTY_DRAFT, sender_id: 1, to: [{ kind: 'file', id }], words: '{ready_text}' }, NOW);
    expect(plan.texts.map((text) => [text.number, text.text.split('\n')[0]])).toEqual([[FREE, 'Your boat waits too']]);
  });
  test('in a file used once that says no itself, and a yes there does not outweigh a no here', async () => {
    const db = await world(engine);
    const { id } = await stageRows(
      db,
      [
        ['Mobile', 'OK'],
        ['703-555-0101', 'no'],
        ['703-555-0102', 'yes'],
        [FREE, 'yes'],
      ],
      { match: ['number', 'consent'], consent_purpose: 'marketing' },
    );
    await db.query(`UPDATE import SET state = 'once' WHERE id = $1`, [id]);
    await db.query(
      `INSERT INTO consent_event (person_id, number, purpose, act, how, at) SELECT id, number, 'marketing', 'withdrawn', 'at the desk', $1::timestamptz FROM person WHERE number = $2`,
      [AT, FREE],
    );
    const planFor = async (purpose: 'service' | 'marketing') =>
      (await makePlan(db, { ...EMPTY_DRAFT, sender_id: 1, to: [{ kind: 'file', id }], purpose, words: 'x' }, NOW)).texts.map(
        (text) => text.number,
      );
    expect(await planFor('marketing')).toEqual(['+17035550102']);
    expect((await planFor('service')).sort()).toEqual(['+12075550143', '+17035550102']);
  });
  test('as the second contact who steps in', async () => {
    const db = await world(engine);
    await db.query(`UPDATE person SET number_kind = 'fixed' WHERE given_name = 'Leo'`);
    await db.query(
      `INSERT INTO dependant (id, given_name, created_at, updated_at) VALUES (1, 'Noor', $1::timestamptz, $1::timestamptz)`,
      [AT],
    );
    await db.query(
      `INSERT INTO guardianship (dependant_id, person_id, contact) SELECT 1, id, CASE given_name WHEN 'Leo' THEN 1 ELSE 2 END FROM person`,
    );
    const plan = await makePlan(
      db,
      { ...EMPTY_DRAFT, sender_id: 1, to: [{ kind: 'person', id: await idOf(db, 'Leo') }], second_contacts: true, words: 'x' },
      NOW,
    );
    expect(plan.texts).toEqual([]);
    expect(plan.dropped.opted_out.map((person) => person.number)).toEqual([STOPPED]);
  });
});

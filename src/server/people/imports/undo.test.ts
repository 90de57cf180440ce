import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Db } from '../../db/db';
import { emptyDb, ENGINES } from '../../db/testing/engines';
import { Bus } from '../../desk/bus';
import { makeWorkspace, NOW } from '../../engine/testing/world';
import { rollForward } from './bring-in';
import { bringRows, canonical, clock, decideImport, stageRows, undoImport } from '../testing';
import { undoForward } from './undo-import';

const AT = new Date(NOW).toISOString();
const HEAD = ['Junior', 'Class', 'First', 'Last', 'Mobile', 'Second', 'Second mobile', 'Landing', 'OK', 'Tags', 'Ref'];
const FAMILY = {
  match: [
    'dependant:given_name',
    'dependant:field:class',
    'given_name',
    'family_name',
    'number',
    'second:full_name',
    'second:number',
    'field:landing',
    'consent',
    'tags',
    'reference',
  ],
  list: 'Parents',
  missing: 'take_off' as const,
  already: 'overwrite' as const,
  consent_purpose: 'marketing' as const,
};
const ROWS = [
  HEAD,
  ['Noor', 'Pike', 'Adaeze', 'Lindgren', '207-555-0101', 'Sami Lindgren', '207-555-0102', 'Mill Quay', 'yes', 'bicycle', 'P-1'],
  ['Sami', 'Otters', 'Adaeze', 'Lindgren', '207-555-0101', '', '', 'Mill Quay', '', '', ''],
  ['Leo', 'Pike', 'Henrik', 'Aalto', '1.2075550103E+10', '', '', 'Pine Point', 'no', 'dog aboard; bicycle', ''],
  ['', '', 'Inès', 'Tremblay', '207-555-0104', '', '', '', 'yes', '', ''],
];

/** Someone already here whom the file changes, someone on the list who is not in the file, an opted-out number. */
async function world(engine: (typeof ENGINES)[number]): Promise<Db> {
  const db = await emptyDb(engine);
  await makeWorkspace(db);
  await db.query(
    `INSERT INTO field_def (about, slug, label, type) VALUES ('person', 'landing', 'landing', 'choice'), ('dependant', 'class', 'class', 'choice')`,
  );
  await bringRows(
    db,
    [
      ['First', 'Last', 'Mobile', 'Landing', 'OK'],
      ['Ines', 'Tremblay', '207-555-0104', 'North Landing', 'no'],
      ['Gone', 'Soon', '207-555-0105', '', ''],
    ],
    { match: ['given_name', 'family_name', 'number', 'field:landing', 'consent'], list: 'Parents', consent_purpose: 'marketing' },
  );
  // whom the import takes off the list is there for a dependant
  await db.query(
    `INSERT INTO dependant (id, given_name, created_at, updated_at) VALUES (900, 'Kit', $1::timestamptz, $1::timestamptz)`,
    [AT],
  );
  await db.query(`INSERT INTO guardianship SELECT 900, id, 1, false FROM person WHERE given_name = 'Gone'`);
  await db.query(`INSERT INTO list_member_for (list_id, person_id, dependant_id) SELECT list_id, person_id, 900 FROM list_member
    JOIN person ON person.id = person_id WHERE given_name = 'Gone'`);
  await db.query(`INSERT INTO suppression (number, at, how) VALUES ('+12075550103', $1::timestamptz, 'texted')`, [AT]);
  return db;
}

describe.each(ENGINES)('undoing an import on %s', (engine) => {
  test('import, undo, import again is one import; undone, everything is as it was', async () => {
    const db = await world(engine);
    const before = await canonical(db);
    const first = await bringRows(db, ROWS, FAMILY);
    const once = await canonical(db);
    expect(once).not.toEqual(before);
    await undoImport(db, first);
    expect(await canonical(db)).toEqual(before);
    await bringRows(db, ROWS, FAMILY);
    expect(await canonical(db)).toEqual(once);
    expect((await db.query(`SELECT number FROM suppression`)).rows).toEqual([{ number: '+12075550103' }]);
  });

  test('a family: two children of one contact, a second contact, and who is taken off the list', async () => {
    const db = await world(engine);
    await bringRows(db, ROWS, FAMILY);
    const { people } = (await canonical(db)) as {
      people: { given_name: string; lists: string[]; there_for: string[]; dependants: unknown[][] | null }[];
    };
    const of = (name: string) => people.find((p) => p.given_name === name);
    expect(of('Adaeze')?.dependants?.map((d) => [d[0], d[4], d[5]])).toEqual([
      ['Noor', { class: 'Pike' }, 1],
      ['Sami', { class: 'Otters' }, 1],
    ]);
    expect(of('Sami')?.dependants?.map((d) => [d[0], d[5]])).toEqual([['Noor', 2]]);
    expect(of('Adaeze')?.there_for).toEqual(['Parents for Noor', 'Parents for Sami']);
    expect(of('Sami')?.there_for).toEqual([]);
    expect(of('Gone')?.lists).toEqual([]);
    expect(of('Adaeze')?.lists).toEqual(['Parents']);
  });

  test('who was texted or changed since stays, and is said; numbers that opted out since stay out', async () => {
    const db = await world(engine);
    const id = await bringRows(db, ROWS, FAMILY);
    const idOf = async (given: string) =>
      (await db.query<{ id: number }>(`SELECT id FROM person WHERE given_name = $1`, [given])).rows[0].id;
    await db.query(
      `INSERT INTO outbound (kind, person_id, number, sender_id, body, alphabet, parts, cost_micro, due_at, not_after) VALUES ('reply', $1, '+12075550101', 1, '', 'gsm7', 1, 0, $2::timestamptz, $2::timestamptz)`,
      [await idOf('Adaeze'), AT],
    );
    await db.query(
      `UPDATE person SET family_name = 'Ahlto', updated_at = updated_at + interval '1 second' WHERE given_name = 'Henrik'`,
    );
    await db.query(`INSERT INTO suppression (number, at, how) VALUES ('+12075550101', $1::timestamptz, 'texted')`, [AT]);
    await undoImport(db, id);
    const left = (await db.query<{ given_name: string }>(`SELECT given_name FROM person ORDER BY id`)).rows.map(
      (row) => row.given_name,
    );
    expect(left).toEqual(['Ines', 'Gone', 'Adaeze', 'Henrik']);
    const kept = (
      await db.query<{ facts: { kept: { texted: number; changed: number } } }>(`SELECT facts FROM import WHERE id = $1`, [id])
    ).rows[0].facts.kept;
    expect(kept).toMatchObject({ texted: 1, changed: 1 });
    expect((await db.query(`SELECT number FROM suppression ORDER BY number`)).rows).toEqual([
      { number: '+12075550101' },
      { number: '+12075550103' },
    ]);
  });

  test('killed at any moment after the decision, the import ends whole at the next start, and so does its undoing', async () => {
    const rows = [
      ['Mobile', 'First', 'Tags'],
      ...Array.from({ length: 5200 }, (_, i) => [
        `207-${300 + Math.floor(i / 1000)}-${String(i % 1000).padStart(4, '0')}`,
        `P${i}`,
        i % 2 ? 'odd' : '',
      ]),
    ];
    const part = { match: ['number', 'given_name', 'tags'], list: 'Big' };
    const whole = await emptyDb(engine);
    await makeWorkspace(whole);
    const empty = await canonical(whole);
    await bringRows(whole, rows, part);
    const once = JSON.stringify(await canonical(whole));
    const db = await emptyDb(engine);
    await makeWorkspace(db);
    const { id } = await stageRows(db, rows, part);
    // a kill before the decision leaves nothing
    expect(await canonical(db)).toEqual(empty);
    await decideImport(db, id);
    /** A database whose process dies within the nth statement of a transaction from now. */
    const dyingAfter = (statements: number): Db => {
      let left = statements;
      const dying: Db = {
        ...db,
        lane: () => dying,
        query: db.query,
        transaction: (work) =>
          db.transaction((tx) =>
            work({
              query: (sql, params) => ((left -= 1) < 0 ? Promise.reject(new Error('killed')) : tx.query(sql, params)),
              send: (sql, params) => tx.send((left -= 1) < 0 ? 'SELECT killed' : sql, params),
              copyIn: (...all) => ((left -= 1) < 0 ? Promise.reject(new Error('killed')) : tx.copyIn(...all)),
            }),
          ),
      };
      return dying;
    };
    for (const n of fc.sample(fc.integer({ min: 0, max: 30 }), { numRuns: 6, seed: 3 })) {
      await rollForward(dyingAfter(n), clock, new Bus(), id).catch((error: Error) => expect(error.message).toBe('killed'));
    }
    await rollForward(db, clock, new Bus(), id);
    expect(JSON.stringify(await canonical(db))).toBe(once);
    await db.query(`UPDATE import SET state = 'undoing' WHERE id = $1`, [id]);
    for (const n of fc.sample(fc.integer({ min: 0, max: 30 }), { numRuns: 6, seed: 4 })) {
      await undoForward(dyingAfter(n), clock, new Bus(), id).catch((error: Error) => expect(error.message).toBe('killed'));
    }
    await undoForward(db, clock, new Bus(), id);
    expect(await canonical(db)).toEqual(empty);
    // thousands of rows, written and undone many times over
  });

  test('a withdrawal in someone’s own words is not lifted by a file, a file’s own “no” is', async () => {
    const db = await world(engine);
    const says = async (given: string) =>
      (
        await db.query<{ act: string }>(
          `SELECT act FROM consent_event c JOIN person p ON p.id = c.person_id WHERE p.given_name = $1 ORDER BY c.id DESC LIMIT 1`,
          [given],
        )
      ).rows[0]?.act;
    const again = [
      ['First', 'Mobile', 'OK'],
      ['Ines', '207-555-0104', 'yes'],
    ];
    const part = { match: ['given_name', 'number', 'consent'], consent_purpose: 'marketing' as const };
    await bringRows(db, again, part);
    expect(await says('Ines')).toBe('granted');
    await db.query(
      `INSERT INTO consent_event (person_id, number, purpose, act, how, at) SELECT id, number, 'marketing', 'withdrawn', 'at the desk', $1::timestamptz FROM person WHERE given_name = 'Ines'`,
      [AT],
    );
    await bringRows(db, again, part);
    await bringRows(db, again, {
      ...part,
      match: ['given_name', 'number', 'skip'],
      consent_all: { how: 'paper form', evidence: '', wording: '' },
    });
    expect(await says('Ines')).toBe('withdrawn');
  });

  test('people may share a number: one person, or told apart by name', async () => {
    const db = await world(engine);
    const rows = [
      ['First', 'Last', 'Mobile'],
      ['Inès', 'Tremblay', '207-555-0104'],
      ['Luc', 'Tremblay', '207-555-0104'],
    ];
    const match = ['given_name', 'family_name', 'number'];
    expect((await stageRows(db, rows, { match })).counts).toMatchObject({ unchanged: 1, twice: 1, new: 0 });
    expect((await stageRows(db, rows, { match, shared_number: 'by_name' })).counts).toMatchObject({
      unchanged: 1,
      twice: 0,
      new: 1,
    });
    await bringRows(db, rows, { match, shared_number: 'by_name' });
    expect((await db.query(`SELECT given_name FROM person WHERE number = '+12075550104' ORDER BY id`)).rows).toEqual([
      { given_name: 'Ines' },
      { given_name: 'Luc' },
    ]);
  });
});

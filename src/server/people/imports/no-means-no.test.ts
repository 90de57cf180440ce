import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Db } from '../../db/db';
import { emptyDb, ENGINES, type Engine } from '../../db/testing/engines';
import { makeWorkspace } from '../../engine/testing/world';
import { questionsOf, refuseUnanswered } from './bench-questions';
import { bringRows, PLAIN_SETTINGS, stageRows, undoImport } from '../testing';

async function office(kind: Engine): Promise<Db> {
  const db = await emptyDb(kind);
  await makeWorkspace(db);
  return db;
}
const words = async (db: Db) =>
  Object.fromEntries(
    (
      await db.query<{ name: string; act: string | null }>(
        `SELECT given_name AS name, (SELECT act FROM consent_now c WHERE c.person_id = person.id AND c.number = person.number AND c.purpose = 'service') AS act FROM person ORDER BY id`,
      )
    ).rows.map((row) => [row.name, row.act]),
  );
const CONSENT = { match: ['number', 'given_name', 'family_name', 'consent'] };

describe.each(ENGINES)('a no in a file, on %s', (kind) => {
  test('for a number the strictest word counts, whatever row it stands in', async () => {
    const db = await office(kind);
    const rows = [
      ['Mobile', 'First', 'Last', 'Consent'],
      ['207-555-0142', 'Jo', 'Reyes', 'yes'],
      ['207-555-0143', 'Ana', 'Reyes', 'yes'],
      ['(207) 555-0142', 'Jo', 'Reyes', 'no'],
    ];
    const { counts } = await stageRows(db, rows, CONSENT);
    expect(counts).toMatchObject({ new: 2, twice: 1, consent_both: 1 });
    await bringRows(db, rows, CONSENT);
    expect(await words(db)).toEqual({ Jo: 'withdrawn', Ana: 'granted' });
  });

  test('a “stop” that first stands far down, in a column that nobody would suspect, is asked about', async () => {
    const db = await office(kind);
    const rows = [
      ['Mobile', 'First', 'Last', 'Remark'],
      ...Array.from({ length: 300 }, (_, i) => [
        `207-555-${String(1000 + i)}`,
        `P${i}`,
        'Reyes',
        i === 250 ? 'STOP' : i % 40 === 0 ? 'stands near the bus stop, please ring twice because nobody hears it else' : 'Pier 4',
      ]),
    ];
    const { id, counts } = await stageRows(db, rows);
    expect(counts.stops).toEqual([{ column: 3, row: 251, cell: 'STOP' }]);
    const bench = { id, facts: { headings: rows[0], notes: [] }, settings: { ...PLAIN_SETTINGS }, counts };
    await expect(refuseUnanswered(db, bench)).rejects.toThrow('“Remark” may say who does not want texts');
    const [question] = (await questionsOf(db, bench)).texting;
    expect(question).toMatchObject({ column: 3, says: 'unclear', answer: null });
    expect(question.examples[0]).toEqual({
      who: 'P250',
      cell: 'STOP',
      if_grants: 'will not be texted',
      if_refuses: 'will not be texted',
      if_stops: 'will not be texted',
    });
    // once it has been said what the column is, it is asked no more
    await refuseUnanswered(db, { ...bench, settings: { ...PLAIN_SETTINGS, not_about_texts: [3] } });
    const asked = await stageRows(db, rows, { match: [...PLAIN_SETTINGS.match, 'refusal'] });
    expect(asked.counts.stops).toEqual([]);
    // only who says stop: a no for that one, nothing for the others, and the question stays with its answer
    const settings = { ...PLAIN_SETTINGS, stop_columns: [3] };
    const only = await stageRows(db, rows, settings);
    expect(only.counts).toMatchObject({ consent_no: 1, new: 300 });
    await refuseUnanswered(db, { ...bench, settings, counts: only.counts });
    expect((await questionsOf(db, { ...bench, settings, counts: only.counts })).texting).toMatchObject([
      { column: 3, answer: 'stops' },
    ]);
    await bringRows(db, rows, settings);
    expect(Object.entries(await words(db)).filter(([, act]) => act !== null)).toEqual([['P250', 'withdrawn']]);
  });

  test('a no in a row that waits for a fix, or is left out, reaches whoever has the number', async () => {
    const db = await office(kind);
    await bringRows(
      db,
      [
        ['Mobile', 'First', 'Last', 'Consent'],
        ['207-555-0142', 'Jo', 'Reyes', 'yes'],
      ],
      CONSENT,
    );
    const id = await bringRows(
      db,
      [
        ['Mobile', 'First', 'Last', 'Consent'],
        ['207-555-0142 / 207-555-0144', 'Somebody', 'Else', 'opted out'],
        ['207-555-0150', 'Dao', 'Ito', ''],
      ],
      CONSENT,
    );
    expect(await words(db)).toEqual({ Jo: 'withdrawn', Dao: null });
    await undoImport(db, id);
    expect(await words(db)).toEqual({ Jo: 'granted' });
  });

  test('consent stated for the whole file does not outweigh a no in it', async () => {
    const db = await office(kind);
    await bringRows(
      db,
      [
        ['Mobile', 'First', 'Last', 'Do not text'],
        ['207-555-0142', 'Jo', 'Reyes', ''],
        ['207-555-0143', 'Ana', 'Reyes', 'x'],
        ['207-555-0144', 'Dao', 'Ito', 'no'],
      ],
      {
        match: ['number', 'given_name', 'family_name', 'refusal'],
        consent_all: { how: 'form', evidence: 'pass form 2026', wording: '' },
      },
    );
    expect(await words(db)).toEqual({ Jo: 'granted', Ana: 'withdrawn', Dao: 'granted' });
  });
});

/** The same few numbers, as people write them; a cell may hold two of them. */
const NUMBERS = ['+12075550142', '+12075550143', '+12075550144'];
const written = fc.constantFrom<[string, string[]]>(
  ['207-555-0142', [NUMBERS[0]]],
  ['(207) 555-0142', [NUMBERS[0]]],
  ['+1 207 555 0143', [NUMBERS[1]]],
  ['2075550143.0', [NUMBERS[1]]],
  ['12075550144', [NUMBERS[2]]],
  ['207 555 0142 / 207 555 0144', [NUMBERS[0], NUMBERS[2]]],
  ['2O75550143', [NUMBERS[1]]],
  ['207-555', []],
);
const YES = ['yes', 'x', 'OK', 'opted in'];
const NO = ['no', 'opted out', 'STOP', 'n', 'unsubscribed'];

describe.each(ENGINES)('whatever a file says, on %s', (kind) => {
  test('nobody is granted where any row says no for the number; every number is one that stands in a cell (property)', async () => {
    const row = fc.record({
      cell: written,
      said: fc.constantFrom('', ...YES, ...NO),
      name: fc.constantFrom('Jo', 'Ana', 'Dao', ''),
    });
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.array(row, { minLength: 1, maxLength: 7 }), { minLength: 1, maxLength: 2 }),
        fc.constantFrom('one_person' as const, 'by_name' as const),
        fc.boolean(),
        async (files, shared_number, all) => {
          const db = await office(kind);
          for (const rows of files) {
            await bringRows(db, [['Mobile', 'First', 'Consent'], ...rows.map(({ cell, said, name }) => [cell[0], name, said])], {
              match: ['number', 'given_name', 'consent'],
              shared_number,
              consent_all: all ? { how: 'form', evidence: '', wording: '' } : null,
            });
            const refused = new Set(rows.flatMap(({ cell, said }) => (NO.includes(said) ? cell[1] : [])));
            const { rows: people } = await db.query<{ number: string | null; act: string | null }>(
              `SELECT number, (SELECT act FROM consent_now c WHERE c.person_id = person.id AND c.number = person.number AND c.purpose = 'service') AS act FROM person`,
            );
            expect(people.filter(({ number, act }) => number && refused.has(number) && act !== 'withdrawn')).toEqual([]);
            const known = new Set(files.flat().flatMap(({ cell }) => cell[1]));
            expect(people.filter(({ number }) => number !== null && !known.has(number))).toEqual([]);
          }
        },
      ),
      { numRuns: 25 },
    );
  });
});

describe.each(ENGINES)('an own reference, on %s', (kind) => {
  const MATCH = { match: ['reference', 'number', 'given_name'] };
  const first = [
    ['Member no', 'Mobile', 'First'],
    ['1', '207-555-0142', 'Jo'],
    ['2', '207-555-0143', 'Ana'],
  ];
  const second = [
    ['Member no', 'Mobile', 'First'],
    ['1', '207-555-0150', 'Dao'],
    ['2', '207-555-0143', 'Ana'],
  ];
  const people = async (db: Db) =>
    (await db.query(`SELECT given_name AS name, number, reference FROM person ORDER BY number`)).rows;

  test('joins nobody to a stranger: it is counted and shown side by side', async () => {
    const db = await office(kind);
    await bringRows(db, first, MATCH);
    const { counts } = await stageRows(db, second, { ...MATCH, already: 'overwrite' });
    expect(counts).toMatchObject({
      new: 1,
      unchanged: 1,
      reference_conflicts: 1,
      conflict_examples: [{ reference: '1', row: 1, file: 'Dao, +1 207 555 0150', here: 'Jo, +1 207 555 0142' }],
    });
  });

  test('another person, as was said: both are here, and the reference stays with the first', async () => {
    const db = await office(kind);
    await bringRows(db, first, MATCH);
    await bringRows(db, second, { ...MATCH, already: 'overwrite', reference_conflict: 'other_person' });
    expect(await people(db)).toEqual([
      { name: 'Jo', number: '+12075550142', reference: '1' },
      { name: 'Ana', number: '+12075550143', reference: '2' },
      { name: 'Dao', number: '+12075550150', reference: null },
    ]);
  });

  test('one person, as was said: the number changes', async () => {
    const db = await office(kind);
    await bringRows(db, first, MATCH);
    await bringRows(db, second, { ...MATCH, already: 'overwrite', reference_conflict: 'same_person' });
    expect(await people(db)).toEqual([
      { name: 'Ana', number: '+12075550143', reference: '2' },
      { name: 'Dao', number: '+12075550150', reference: '1' },
    ]);
  });

  test('within a file, too', async () => {
    const db = await office(kind);
    const rows = [
      ['Member no', 'Mobile', 'First'],
      ['7', '207-555-0142', 'Jo'],
      ['7', '207-555-0143', 'Ana'],
    ];
    expect((await stageRows(db, rows, MATCH)).counts).toMatchObject({ new: 2, twice: 0, reference_conflicts: 1 });
    await bringRows(db, rows, { ...MATCH, reference_conflict: 'other_person' });
    expect(await people(db)).toEqual([
      { name: 'Jo', number: '+12075550142', reference: '7' },
      { name: 'Ana', number: '+12075550143', reference: null },
    ]);
  });
});

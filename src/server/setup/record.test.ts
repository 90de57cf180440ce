import { describe, expect, test } from 'vitest';
import { emptyDb, ENGINES } from '../db/testing/engines';
import { writeRecord } from '../db/record';
import { makeWorkspace } from '../engine/testing/world';
import { recordEntries } from './record-queries';

const AT = '2026-12-02T15:00:00.000Z';

describe.each(ENGINES)('the record on %s', (engine) => {
  test('each entry has the way to what it is about, as that is called now; what is gone has none; found by words and names', async () => {
    const db = await emptyDb(engine);
    await makeWorkspace(db);
    const asked = { account: undefined, at: AT };
    const id = (
      await db.query<{ id: number }>(
        `INSERT INTO person (given_name, family_name, sort_name, fields, folded, created_at, updated_at) VALUES ('Mabel', 'Aalto', 'aalto mabel', '{}', '{}', $1::timestamptz, $1::timestamptz) RETURNING id`,
        [AT],
      )
    ).rows[0].id;
    await writeRecord(db, asked, 'changed a person', String(id));
    await writeRecord(db, asked, 'changed a person', '999999');
    await writeRecord(db, asked, 'added a sender', '100% Ferry');
    const told = async (search = '') =>
      (await recordEntries(db, { search })).record.map(({ act, of, named }) => [act, of?.kind ?? null, named]);
    expect(await told()).toEqual([
      ['added a sender', 'setup', '100% Ferry'],
      ['changed a person', null, ''],
      ['changed a person', 'person', 'Mabel Aalto'],
    ]);
    expect(await told('mabel')).toEqual([['changed a person', 'person', 'Mabel Aalto']]);
    // a sign of a pattern is a sign of the words that are looked for
    expect(await told('100%')).toEqual([['added a sender', 'setup', '100% Ferry']]);
    expect(await told('0_F')).toEqual([]);
    expect((await recordEntries(db, { search: 'sender' })).total).toBe(1);
  });
});

import { describe, expect, test } from 'vitest';
import { emptyDb, ENGINES } from '../../db/testing/engines';
import { makeRun, makeWorkspace, NOW } from '../../engine/testing/world';
import { eraseFromFiles, erasePerson } from './erase';
import { bringRows } from '../testing';

const AT = new Date(NOW).toISOString();
const NUMBER = '+12075550142';

describe.each(ENGINES)('erasing a person, on %s', (kind) => {
  test('leaves their name, words and number nowhere but in the register', async () => {
    const db = await emptyDb(kind);
    await makeWorkspace(db);
    await bringRows(db, [
      ['Mobile', 'First', 'Last'],
      ['(207) 555-0142', 'Jo', 'Quennell'],
      ['207-555-0143', 'Ana', 'Reyes'],
      ['207-555-0142 / 0199', 'Jo', 'Quennell'],
    ]);
    await makeRun(db, 2);
    const id = (await db.query<{ id: number }>(`SELECT id FROM person WHERE number = $1`, [NUMBER])).rows[0].id;
    await db.query(
      `UPDATE outbound SET person_id = $1, number = $2, body = 'Jo, the Heron is off', state = 'delivered', open = 0 WHERE id = (SELECT min(id) FROM outbound)`,
      [id, NUMBER],
    );
    await db.query(
      `INSERT INTO outbound_part (outbound_id, part_no, number, state, reference) SELECT id, 1, number, 'delivered', 17 FROM outbound WHERE person_id = $1`,
      [id],
    );
    await db.query(
      `INSERT INTO link (token, run_id, outbound_id, number, address) SELECT 'tok', run_id, id, number, 'https://ottermere.example' FROM outbound WHERE person_id = $1`,
      [id],
    );
    await db.query(
      `INSERT INTO inbound (received_at, number, to_address, body, kind, person_id, done_at) VALUES ($1::timestamptz, $2, '72345', 'Jo here', 'reply', $3, $1::timestamptz)`,
      [AT, NUMBER, id],
    );
    await db.query(`INSERT INTO suppression (number, at, how) VALUES ($1, $2::timestamptz, 'reply')`, [NUMBER, AT]);

    expect(await db.transaction((tx) => erasePerson(tx, id, AT))).toMatchObject({ number: NUMBER });
    expect(await eraseFromFiles(db, NUMBER)).toBe(2);
    expect(await db.transaction((tx) => erasePerson(tx, id, AT))).toBeUndefined();

    // every table is looked through, so that one that is added later is, too
    const { rows: tables } = await db.query<{ name: string }>(
      `SELECT tablename AS name FROM pg_tables WHERE schemaname = 'public' AND tablename NOT IN ('migration', 'suppression', 'audience_change')`,
    );
    const found: string[] = [];
    for (const { name } of tables) {
      const { rows } = await db.query<{ row: string }>(`SELECT t::text AS row FROM ${name} t`);
      if (rows.some(({ row }) => /Quennell|Jo,|Jo here|555-?0142/.test(row))) found.push(name);
    }
    expect(found).toEqual([]);
    expect((await db.query(`SELECT number FROM suppression`)).rows).toEqual([{ number: NUMBER }]);
    // the ledger still counts the text and its part
    expect(
      (await db.query<{ n: number }>(`SELECT count(*) AS n FROM outbound_part WHERE number LIKE 'erased-%'`)).rows[0].n,
    ).toBe(1);
    expect((await db.query<{ n: number }>(`SELECT count(*) AS n FROM outbound WHERE state = 'delivered'`)).rows[0].n).toBe(1);
  });
});

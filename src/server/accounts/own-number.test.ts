import { describe, expect, test } from 'vitest';
import type { Db } from '../db/db';
import { emptyDb, ENGINES } from '../db/testing/engines';
import { makeWorkspace, NOW } from '../engine/testing/world';
import { proveNumber, textCode } from './own-number';

const NUMBER = '+12075550142';
const MINUTE = 60_000;
let next = 1000;

/** A workspace and an account of its own: codes are counted for each account. */
async function office(kind: (typeof ENGINES)[number]): Promise<{ db: Db; account: number }> {
  const db = await emptyDb(kind);
  await makeWorkspace(db);
  const account = (next += 1);
  await db.query(
    `INSERT INTO account (id, name, email, role, password_hash, created_at) VALUES ($1, 'Ana', 'ana@ottermere.example', 'write', 'x', now())`,
    [account],
  );
  return { db, account };
}
const codeIn = async (db: Db) =>
  (await db.query<{ body: string; number: string }>(`SELECT body, number FROM outbound ORDER BY id DESC LIMIT 1`)).rows[0];
const own = async (db: Db) =>
  (await db.query<{ own_number: string | null }>(`SELECT own_number FROM account`)).rows[0].own_number;

describe.each(ENGINES)('one’s own number, on %s', (kind) => {
  test('is nobody’s before the code that was texted there is told', async () => {
    const { db, account } = await office(kind);
    expect(await textCode(db, account, NUMBER, NOW)).toBe('texted');
    expect(await own(db)).toBeNull();
    const { body, number } = await codeIn(db);
    expect(number).toBe(NUMBER);
    const code = body.slice(0, 6);
    expect(await proveNumber(db, account, code === '123456' ? '654321' : '123456', NOW)).toBe('another code');
    expect(await own(db)).toBeNull();
    expect(await proveNumber(db, account, code, NOW + MINUTE)).toEqual({ number: NUMBER });
    expect(await own(db)).toBe(NUMBER);
    // used once
    expect(await proveNumber(db, account, code, NOW + MINUTE)).toBe('too old or tried too often');
  });

  test('a code is too old after ten minutes, and cannot be guessed by trying', async () => {
    const { db, account } = await office(kind);
    await textCode(db, account, NUMBER, NOW);
    const code = (await codeIn(db)).body.slice(0, 6);
    expect(await proveNumber(db, account, code, NOW + 10 * MINUTE)).toBe('too old or tried too often');
    await textCode(db, account, NUMBER, NOW);
    const second = (await codeIn(db)).body.slice(0, 6);
    const wrong = second === '111111' ? '222222' : '111111';
    const tries = await Promise.all(Array.from({ length: 8 }, () => proveNumber(db, account, wrong, NOW)));
    expect(tries.filter((each) => each === 'another code')).toHaveLength(5);
    expect(await proveNumber(db, account, second, NOW)).toBe('too old or tried too often');
  });

  test('three codes in ten minutes, and none without a sender', async () => {
    const { db, account } = await office(kind);
    for (let i = 0; i < 3; i += 1) expect(await textCode(db, account, NUMBER, NOW + i)).toBe('texted');
    expect(await textCode(db, account, NUMBER, NOW + 3)).toBe('too many codes');
    expect(await textCode(db, account, NUMBER, NOW + 11 * MINUTE)).toBe('texted');
    await db.exec(`DELETE FROM outbound; DELETE FROM line_queue; DELETE FROM line_pace; DELETE FROM sender`);
    expect(await textCode(db, account, NUMBER, NOW + 60 * MINUTE)).toBe('no sender');
  });
});

import { describe, expect, test } from 'vitest';
import { iso } from '../../../core/clock';
import { holderOf, reserveCodes } from '../../codes/code-store';
import type { Db } from '../../db/db';
import { ENGINES } from '../../db/testing/engines';
import { callOff } from '../../engine/runs/run-life';
import { NOW } from '../../engine/testing/world';
import { Refusal } from '../../../core/api/refusal';
import { erasePerson } from '../../people/person/erase';
import { localPlans } from '../planning/plan-thread';
import { pressAndStore, presser, world } from '../testing';

const asked = { account: undefined, now: NOW, at: iso(NOW) };
const tester = (db: Db, name: string, number: string, copies: boolean) =>
  db.query(`INSERT INTO tester (name, number, copies, created_at) VALUES ($1, $2, $3, $4::timestamptz)`, [
    name,
    number,
    copies,
    iso(NOW),
  ]);

describe.each(ENGINES)('copies for the desk on %s', (engine) => {
  test('go with the run, cost what was shown, and count for nobody', async () => {
    const { db, draft } = await world(engine, {
      words: 'Ottermere Ferry: {code} {link map}',
      links: [{ name: 'map', address: 'https://example.org/m' }],
      code_list_id: 1,
    });
    await db.query(`INSERT INTO code_list (id, name, folded, created_at) VALUES (1, 'Winter', 'winter', $1::timestamptz)`, [
      iso(NOW),
    ]);
    await db.query(`INSERT INTO code (list_id, code) SELECT 1, 'FERRY-' || n FROM generate_series(11, 30) AS n`);
    await tester(db, 'Desk', '+12075550190', true);
    await tester(db, 'Pier', '+12075550191', false);
    await tester(db, 'Ana, who gets it anyway', '+12075550101', true);
    await tester(db, 'said stop', '+12075550105', true);
    const plans = localPlans(db);
    await reserveCodes(db, 1, holderOf(1), 3, NOW);
    const { plan, digest } = await plans.summary(draft, NOW, holderOf(1));
    expect(plan.copies).toEqual({ names: ['Desk'], parts: 1, cost_micro: 7500 });
    expect([plan.people, plan.parts, plan.cost_micro]).toEqual([3, 4, 4 * 7500]);
    const { run_id } = await pressAndStore(
      presser(db, NOW, plans),
      { broadcastId: 1, version: 1, digest, pressId: 'copies-1' },
      asked,
    );
    const { rows } = await db.query<{ number: string; body: string; queue: number; token: string; counted: number | null }>(
      `SELECT o.number, o.body, o.queue, l.token, l.run_id AS counted FROM outbound o JOIN link l ON l.outbound_id = o.id WHERE o.run_id = $1 AND o.kind = 'copy'`,
      [run_id],
    );
    expect(rows).toMatchObject([{ number: '+12075550190', counted: null }]);
    expect(rows[0].body).toContain(rows[0].token);
    expect(rows[0].body).toContain('XXXXX-00');
    expect(rows[0].queue).not.toBeNull();
    expect((await db.query(`SELECT people, open_texts FROM run_tally WHERE run_id = $1`, [run_id])).rows).toEqual([
      { people: 3, open_texts: 4 },
    ]);
    expect(
      (await db.query(`SELECT sum(amount_micro)::bigint AS held FROM balance_entry WHERE run_id = $1`, [run_id])).rows,
    ).toEqual([{ held: -4 * 7500 }]);
  });

  test('taken back, nothing of them is left; and whoever is erased is erased there, too', async () => {
    const { db, draft } = await world(engine, {
      words: '{given_name or "neighbor"}, Ottermere Ferry: {link map}',
      links: [{ name: 'map', address: 'https://example.org/m' }],
    });
    await tester(db, 'Desk', '+12075550190', true);
    const plans = localPlans(db);
    const go = async (pressId: string, version: number) => {
      const { digest } = await plans.summary(draft, NOW, holderOf(1));
      return (await pressAndStore(presser(db, NOW, plans), { broadcastId: 1, version, digest, pressId }, asked)).run_id;
    };
    const first = await go('copies-3', 1);
    expect((await db.query(`SELECT 1 FROM link WHERE run_id IS NULL`)).rowCount).toBe(1);
    await db.transaction((tx) => callOff(tx, first, 'draft', NOW));
    await presser(db, NOW, plans).jobs.settle();
    for (const table of ['link', 'outbound', 'line_queue']) expect((await db.query(`SELECT 1 FROM ${table}`)).rowCount).toBe(0);

    await go('copies-4', 2);
    const copy = async () =>
      (
        await db.query<{ body: string; state: string; copy_of: number }>(
          `SELECT body, state, copy_of FROM outbound WHERE kind = 'copy'`,
        )
      ).rows[0];
    const { copy_of } = await copy();
    await db.transaction((tx) => erasePerson(tx, copy_of, iso(NOW)));
    expect(await copy()).toMatchObject({ body: '', state: 'not_sent' });
  });

  test('somebody who is to get one since the last look is a difference: nothing goes', async () => {
    const { db, draft } = await world(engine);
    const plans = localPlans(db);
    const { digest } = await plans.summary(draft, NOW, holderOf(1));
    await tester(db, 'Desk', '+12075550190', true);
    await expect(
      pressAndStore(presser(db, NOW, plans), { broadcastId: 1, version: 1, digest, pressId: 'copies-2' }, asked),
    ).rejects.toBeInstanceOf(Refusal);
    expect((await db.query(`SELECT 1 FROM outbound`)).rowCount).toBe(0);
  });
});

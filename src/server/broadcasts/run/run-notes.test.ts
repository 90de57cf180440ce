import { describe, expect, test } from 'vitest';
import { EMPTY_DRAFT } from '../../../core/plan/draft/draft';
import type { Db } from '../../db/db';
import { emptyDb, ENGINES } from '../../db/testing/engines';
import { makeRun, makeWorkspace } from '../../engine/testing/world';
import { noteBesideOthers } from './run-notes';

const ASKED = { account: undefined, at: '2026-12-02T21:00:00Z' };
const notes = async (db: Db) =>
  (await db.query<{ run_id: number; what: string }>(`SELECT run_id, what FROM run_event ORDER BY id`)).rows;
const write = async (db: Db, run: number, words: string, fr?: string) => {
  await db.query(`UPDATE run SET words = $2 WHERE id = $1`, [run, words]);
  await db.query(`DELETE FROM run_translation WHERE run_id = $1`, [run]);
  if (fr) await db.query(`INSERT INTO run_translation (run_id, language, words) VALUES ($1, 'fr', $2)`, [run, fr]);
};

describe.each(ENGINES)('what a run is beside others, on %s', (engine) => {
  const two = async () => {
    const db = await emptyDb(engine);
    await makeWorkspace(db);
    await makeRun(db, 1);
    await makeRun(db, 1, { id: 2 });
    await db.query(`UPDATE run SET broadcast_id = 1`);
    await db.query(`UPDATE run SET started_at = due_at WHERE id = 1`);
    return db;
  };
  const note = (db: Db, corrects?: number) =>
    db.transaction((tx) =>
      noteBesideOthers(
        tx,
        {
          id: 2,
          name: 'Fog',
          draft: { ...EMPTY_DRAFT, ...(corrects === undefined ? {} : { corrects: { run_id: corrects, words: 'x' } }) },
        },
        ASKED,
      ),
    );

  test('other words than the broadcast’s run before are noted, in any language; the same are not', async () => {
    const db = await two();
    await write(db, 1, 'Fog.', 'Brume.');
    await write(db, 2, 'Fog.', 'Brume.');
    await note(db);
    expect(await notes(db)).toEqual([]);
    await write(db, 2, 'Fog.', 'Brouillard.');
    await note(db);
    expect(await notes(db)).toEqual([{ run_id: 2, what: 'words changed since the run before' }]);
  });

  test('a run that never began is nothing to hold it against', async () => {
    const db = await two();
    await write(db, 1, 'Fog.');
    await write(db, 2, 'No fog.');
    await db.query(`UPDATE run SET started_at = NULL`);
    await note(db);
    expect(await notes(db)).toEqual([]);
  });

  test('a correction is noted with the run that it puts right, where that is still there', async () => {
    const db = await two();
    await note(db, 99);
    expect(await notes(db)).toEqual([]);
    await note(db, 1);
    expect(await notes(db)).toEqual([{ run_id: 1, what: 'put right by “Fog”' }]);
  });
});

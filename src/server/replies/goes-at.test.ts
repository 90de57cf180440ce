import { describe, expect, test } from 'vitest';
import { emptyDb, ENGINES } from '../db/testing/engines';
import { makeWorkspace } from '../engine/testing/world';
import { answerGoesAt } from './goes-at';

const [MABEL, FAR] = ['+12075550131', '+12075550132'];
const NIGHT = Date.parse('2026-12-02T22:30:00-05:00');

describe.each(ENGINES)('when an answer goes, on %s', (engine) => {
  test('at once to whoever has just written, else in their morning, with their own hours; by day at once', async () => {
    const db = await emptyDb(engine);
    await makeWorkspace(db);
    await db.query(
      `INSERT INTO person (id, number, zone, zone_guessed, quiet, created_at, updated_at) VALUES (1, $1, 'America/New_York', false, NULL, '2026-01-01', '2026-01-01'), (2, $2, 'America/Chicago', false, '20:00-09:00', '2026-01-01', '2026-01-01')`,
      [MABEL, FAR],
    );
    const wrote = (number: string, at: string) =>
      db.query(
        `INSERT INTO inbound (received_at, number, to_address, body, kind, applied) VALUES ($1::timestamptz, $2, '72345', 'Hello', 'reply', true)`,
        [at, number],
      );
    await wrote(MABEL, '2026-12-02T18:00:00-05:00');
    expect(await answerGoesAt(db, MABEL, NIGHT)).toBe('2026-12-03T13:00:00.000Z');
    // do not disturb until nine where they are, which is ten at the desk
    expect(await answerGoesAt(db, FAR, NIGHT)).toBe('2026-12-03T15:00:00.000Z');
    await wrote(MABEL, '2026-12-02T22:00:00-05:00');
    expect(await answerGoesAt(db, MABEL, NIGHT)).toBeNull();
    expect(await answerGoesAt(db, FAR, Date.parse('2026-12-02T14:00:00-05:00'))).toBeNull();
    // of a number whose zone is not known every zone it may be in counts
    expect(await answerGoesAt(db, '+18005550123', Date.parse('2026-12-02T21:30:00-05:00'))).toBe('never');
  });

  test('of several at a number it is the one whom the answer will be to, whoever came first', async () => {
    const db = await emptyDb(engine);
    await makeWorkspace(db);
    await db.query(
      `INSERT INTO person (id, number, zone, zone_guessed, created_at, updated_at) VALUES (1, $1, 'America/New_York', false, '2026-01-01', '2026-01-01'), (2, $1, 'America/Los_Angeles', false, '2026-01-01', '2026-01-01')`,
      [MABEL],
    );
    expect(await answerGoesAt(db, MABEL, NIGHT)).toBe('2026-12-03T13:00:00.000Z');
    await db.query(
      `INSERT INTO outbound (kind, number, person_id, sender_id, body, alphabet, parts, cost_micro, due_at, not_after, state, handed_at, open)
       VALUES ('reply', $1, 2, 1, 'Hello', 'gsm7', 1, 7500, '2026-12-01', '2026-12-01', 'delivered', '2026-12-01', 0)`,
      [MABEL],
    );
    // half past seven in the evening, where they are
    expect(await answerGoesAt(db, MABEL, NIGHT)).toBeNull();
  });
});

import { describe, expect, test } from 'vitest';
import { emptyDb, ENGINES } from '../db/testing/engines';
import { makeWorkspace } from '../engine/testing/world';
import { knownScreens } from './known-screens';

describe.each(ENGINES)('what the practice phones had on their screens, on %s', (engine) => {
  test('what was delivered and what was answered, each phone in its order, the latest phone first; nothing of who was erased', async () => {
    const db = await emptyDb(engine);
    await makeWorkspace(db);
    const text = (number: string, body: string, minute: number, state = 'delivered') =>
      db.query(
        `INSERT INTO outbound (kind, number, sender_id, body, alphabet, parts, cost_micro, due_at, not_after, state, handed_at, final_at)
         SELECT 'reply', $1, min(id), $2, 'gsm7', 1, 0, $3::timestamptz, $3::timestamptz, $4, $3::timestamptz, $3::timestamptz FROM sender`,
        [number, body, `2026-12-02T15:${minute}:00Z`, state],
      );
    await text('+12075550142', 'Fog.', 10);
    await text('+12075550143', 'Pool closed.', 20);
    await text('+12075550143', 'Never came.', 21, 'not_delivered');
    await text('erased-7', 'Of nobody.', 40);
    await db.query(
      `INSERT INTO inbound (received_at, number, to_address, body, folded, kind, applied) VALUES ('2026-12-02T15:30:00Z', '+12075550142', '72345', 'thx', 'thx', 'reply', true)`,
    );
    expect(
      (await knownScreens(db)).map(({ number, texts }) => [number, texts.map((each) => `${each.direction} ${each.text}`)]),
    ).toEqual([
      ['12075550142', ['in Fog.', 'out thx']],
      ['12075550143', ['in Pool closed.']],
    ]);
  });
});

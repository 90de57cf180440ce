import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { ENGINES } from '../db/testing/engines';
import { threadOf } from '../replies/thread';
import { closeAfterEach, sendingWorld } from './testing/sending';

closeAfterEach();
const ODD: [string, string, string][] = [
  ['of 5,000 characters', '+12075550131', 'Where is the boat? '.repeat(264).slice(0, 5000)],
  ['of emoji only', '+12075550132', '👍🏽🚢👨‍👩‍👧‍👦'],
  ['empty', '+12075550133', ''],
  ['of blanks', '+12075550134', ' \n\t\u00a0'],
  ['binary', '+12075550135', '\u0001\u0002\u0007\u001b[2J\u007f\ufffd'],
  ['with a zero in it', '+12075550136', 'yes\u0000no'],
  ['with half a surrogate', '+12075550137', 'ok \ud83d then'],
  ['right to left', '+12075550138', '\u202eمتى يغادر القارب؟\u202c שלום'],
  ['from a short code', '72399', 'Your parcel waits'],
  ['from a name', 'PARCELS', 'Your parcel waits'],
  ['from nowhere', '', 'who am I'],
  ['from a number that is too long', '+12345678901234567890', 'hello'],
  ['that looks like SQL and markup', '+12075550139', `'; DROP TABLE person; -- <script>alert(1)</script> {given_name} \\`],
];

describe.each(ENGINES)('odd replies, on %s', (engine) => {
  test('each is kept and waits for a person; nothing is lost, and nobody is answered who cannot be', async () => {
    const { db, engine: sending, errors } = await sendingWorld(engine);
    for (const [, number, text] of ODD) await sending.inbound.take({ number, to: '72345', text });
    await sending.inbound.settle();
    const { rows } = await db.query<{ number: string; body: string; applied: boolean; waits: boolean; trouble: string | null }>(
      `SELECT number, body, applied, done_at IS NULL AS waits, trouble FROM inbound ORDER BY id`,
    );
    expect(rows.map(({ applied, waits, trouble }, i) => [ODD[i][0], applied, waits, trouble])).toEqual(
      ODD.map(([what]) => [what, true, true, null]),
    );
    // a zero stands in no text of a database and says nothing; half a surrogate becomes Unicode's replacement character
    expect(rows.map(({ body }) => body)).toEqual(ODD.map(([, , text]) => text.replaceAll('\u0000', '').toWellFormed()));
    for (const [, number] of ODD) expect((await threadOf(db, number, null)).texts.length).toBeGreaterThan(0);
    expect((await db.query(`SELECT 1 FROM outbound`)).rowCount).toBe(0);
    expect(errors).toEqual([]);
  });

  test('whatever is written: kept as it came, and acted on', async () => {
    const { db, engine: sending, errors } = await sendingWorld(engine);
    const texts = fc.sample(fc.string({ unit: 'binary', maxLength: 200 }), { numRuns: 150, seed: 72345 });
    for (const [i, text] of texts.entries()) await sending.inbound.take({ number: `+1207556${1000 + i}`, to: '72345', text });
    await sending.inbound.settle();
    const { rows } = await db.query<{ body: string; applied: boolean; trouble: string | null }>(
      `SELECT body, applied, trouble FROM inbound ORDER BY number`,
    );
    expect(rows.every(({ applied, trouble }) => applied && trouble === null)).toBe(true);
    expect(rows.map(({ body }) => body)).toEqual(texts.map((text) => text.replaceAll('\u0000', '').toWellFormed()));
    expect(errors).toEqual([]);
  });
});

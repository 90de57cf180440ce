import { afterAll, describe, expect, test } from 'vitest';
import { ENGINES, type Engine } from '../../db/testing/engines';
import { HandedIn } from '../../handed-in/handed-in';
import { closeAfter, closeAfterEach, sendingWorld, until } from '../testing/sending';
import { MailIn } from './mail-in';
import { MABEL, people, rows, rule, screen, type World } from './testing';

closeAfterEach();
const handedIn = new HandedIn();
afterAll(() => handedIn.end());

/** Two workspaces whose senders are people to each other: what each sends to the other's number, the other takes in. */
describe('two workspaces that answer each other', () => {
  const SENDERS = { embedded: '+12075550101', postgres: '+12075550102' } as const;
  const other = (kind: Engine): Engine => (kind === 'embedded' ? 'postgres' : 'embedded');

  test('come to an end, by text', async () => {
    const worlds = {} as Record<Engine, World>;
    for (const kind of ENGINES) {
      worlds[kind] = await sendingWorld(kind);
      const { db } = worlds[kind];
      await people(db);
      await db.query(`UPDATE sender SET kind = 'long', address = $1`, [SENDERS[kind]]);
      await db.query(
        `INSERT INTO desk_setting (id, away_on, days, from_time, to_time, away_wording) VALUES (1, true, '{1}', '08:00', '08:01', '{"en": "Nobody is here. Write HELP for help."}')`,
      );
      await db.query(
        `INSERT INTO keyword (word, folded, sender_id, purpose, consent_wording, confirms, from_at, created_at) VALUES ('FERRY', 'ferry', 1, 'service', 'x', 'FERRY', '2026-01-01', '2026-01-01')`,
      );
      // each passes everything on to the other
      await rule(db, 'text', SENDERS[other(kind)], { name: other(kind) });
    }
    const taken = { embedded: 0, postgres: 0 };
    /** Carries over what has come to the other's number; answers how many texts it was. */
    const carry = async (): Promise<number> => {
      let moved = 0;
      for (const kind of ENGINES) {
        const arrived = screen(worlds[kind], SENDERS[other(kind)]);
        for (const text of arrived.slice(taken[kind])) {
          taken[kind] += 1;
          moved += 1;
          await worlds[other(kind)].engine.inbound.take({ number: SENDERS[kind], to: SENDERS[other(kind)], text });
        }
        await worlds[other(kind)].engine.inbound.settle();
      }
      return moved;
    };
    const quiet = async (world: World) =>
      (await rows(world.db, `SELECT 1 FROM outbound WHERE open > 0 UNION ALL SELECT 1 FROM passed WHERE state = 'waiting'`))
        .length === 0;
    /** Until nothing is on its way any more at either end. */
    const settled = () =>
      until(async () => {
        const moved = await carry();
        return moved === 0 && (await quiet(worlds.embedded)) && (await quiet(worlds.postgres)) && (await carry()) === 0;
      });
    // first alone, so that only one is open and an answer would need no mark; then all the others
    for (const words of [['Is it running?'], ['HELP', 'FERRY', 'please stop by']]) {
      for (const text of words) {
        await worlds.embedded.engine.inbound.take({ number: MABEL, to: SENDERS.embedded, text });
        await worlds.embedded.engine.inbound.settle();
      }
      await settled();
    }
    const between = taken.embedded + taken.postgres;
    expect(between).toBeGreaterThan(0);
    expect(between).toBeLessThanOrEqual(24);
    // Mabel gets what answers by itself, and not what the machines handed on to each other
    expect(screen(worlds.embedded, MABEL).filter((text) => text.includes('#'))).toEqual([]);
  });

  test('come to an end, by mail', async () => {
    const worlds = {} as Record<Engine, World>;
    const boxes = {} as Record<Engine, MailIn>;
    const ports = {} as Record<Engine, number>;
    for (const kind of ENGINES) {
      // the mail server of each is where the other takes answers in
      worlds[kind] = await sendingWorld(kind, {}, { practiceMail: () => ports[other(kind)] });
      boxes[kind] = new MailIn(worlds[kind].db, worlds[kind].clock, worlds[kind].bus, handedIn, () => undefined);
      ports[kind] = await boxes[kind].listen(0, '127.0.0.1');
      closeAfter(() => boxes[kind].close());
      await people(worlds[kind].db);
      await rule(worlds[kind].db, 'mail', 'replies@bell.example', { name: other(kind) });
    }
    await worlds.embedded.engine.inbound.take({ number: MABEL, to: '72345', text: 'Is it running?' });
    await worlds.embedded.engine.inbound.settle();
    await until(async () => (await rows(worlds.embedded.db, `SELECT 1 FROM passed WHERE state <> 'waiting'`)).length === 1);
    // the other took the mail for a machine's, which it is: neither answered nor passed on
    expect(await rows(worlds.embedded.db, `SELECT state FROM passed`)).toEqual([{ state: 'sent' }]);
    expect(
      await rows(worlds.postgres.db, `SELECT 1 FROM inbound UNION ALL SELECT 1 FROM outbound UNION ALL SELECT 1 FROM passed`),
    ).toEqual([]);
    expect(await rows(worlds.embedded.db, `SELECT 1 FROM outbound`)).toEqual([]);
  });
});

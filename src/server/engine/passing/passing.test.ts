import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createTransport } from 'nodemailer';
import { connect, type Socket } from 'node:net';
import { afterAll, describe, expect, test, vi } from 'vitest';
import { Mailbox } from '../../../carrier/mailbox';
import { iso } from '../../../core/clock';
import { passAgain } from '../../replies/passing-queries';
import type { Db } from '../../db/db';
import { ENGINES, type Engine } from '../../db/testing/engines';
import { closeAfter, closeAfterEach, sendingWorld, until } from '../testing/sending';
import { HandedIn } from '../../handed-in/handed-in';
import { MailIn } from './mail-in';

import { giveConversation } from './give';
import { MOST_PASSED } from './note';
import { MOST_ANSWERS } from './pass-back';
import { rounds } from '../../db/testing/rounds';

closeAfterEach();
const handedIn = new HandedIn();
afterAll(() => handedIn.end());
const [MABEL, IDRIS, PIER] = ['+12075550131', '+12075550132', '+12075550150'];
type World = Awaited<ReturnType<typeof sendingWorld>>;

async function rule(db: Db, way: 'text' | 'mail', address: string, more: { name?: string; what?: string } = {}): Promise<void> {
  await db.query(
    `INSERT INTO pass_on (what, name, way, address, any_hour, created_at) VALUES ($1, $2, $3, $4, true, '2026-01-01')`,
    [more.what ?? 'all', more.name ?? 'Pier office', way, address],
  );
}
async function people(db: Db): Promise<void> {
  await db.query(
    `INSERT INTO person (id, given_name, family_name, number, created_at, updated_at) VALUES
       (1, 'Mabel', 'Greenhalgh', $1, '2026-01-01', '2026-01-01'), (2, 'Idris', '', $2, '2026-01-01', '2026-01-01')`,
    [MABEL, IDRIS],
  );
}
const rows = async <T = Record<string, unknown>>(db: Db, sql: string) => (await db.query<T>(sql)).rows;
/** What stands on a phone's screen, what came to it whole: the parts of a text come one after the other. */
const screen = (world: World, number: string) =>
  (world.center.phones.get(number.slice(1))?.texts ?? []).flatMap((text) =>
    text.direction === 'in' && text.arrived === text.total ? [text.text] : [],
  );
const writes = (world: World, number: string, text: string) => world.center.textFromPhone(number.slice(1), '72345', text);
const applied = (world: World, n: number) =>
  until(async () => (await rows(world.db, `SELECT 1 FROM inbound WHERE applied`)).length >= n);

describe.each(ENGINES)('passing on by text, on %s', (kind) => {
  const begin = async () => {
    const world = await sendingWorld(kind);
    await people(world.db);
    await rule(world.db, 'text', PIER);
    return world;
  };

  test('what somebody asks comes to whoever is told of it, and their answer goes back as from the workspace', async () => {
    const world = await begin();
    writes(world, MABEL, 'Is the 5:20 running?');
    await until(async () => screen(world, PIER).length === 1);
    expect(screen(world, PIER)).toEqual(['Mabel Greenhalgh: “Is the 5:20 running?” To answer them begin with #1']);
    writes(world, PIER, 'Yes, from Mill Quay.');
    await until(async () => screen(world, MABEL).length === 1);
    expect(screen(world, MABEL)).toEqual(['Yes, from Mill Quay.']);
    expect(await rows(world.db, `SELECT 1 FROM inbound WHERE done_at IS NULL`)).toEqual([]);
    // a second one needs the mark, since nothing waits any more
    writes(world, PIER, '#1 And at 6.');
    await until(async () => screen(world, MABEL).length === 2);
    expect(screen(world, MABEL)[1]).toBe('And at 6.');
    // a machine that answers on and on comes to an end; nothing of it is lost
    for (let i = 0; i < 10; i += 1) await world.engine.inbound.take({ number: PIER, to: '72345', text: `#1 And ${i}` });
    await world.engine.inbound.settle();
    expect(await rows(world.db, `SELECT state, count(*) AS n FROM passed_answer GROUP BY 1 ORDER BY 1`)).toEqual([
      { state: 'held', n: 6 },
      { state: 'sent', n: MOST_ANSWERS },
    ]);
  });

  test('of several that wait the mark says whom; without one nobody is told, and it is asked', async () => {
    const world = await begin();
    writes(world, MABEL, 'Is the 5:20 running?');
    await until(async () => screen(world, PIER).length === 1);
    writes(world, IDRIS, 'Can Leo come later?');
    await until(async () => screen(world, PIER).length === 2);
    writes(world, PIER, 'Yes.');
    await until(async () => screen(world, PIER).length === 3);
    expect(screen(world, PIER)[2]).toBe('Not passed on: whom does it answer? Begin with #1 for Mabel Greenhalgh, #2 for Idris.');
    expect([...screen(world, MABEL), ...screen(world, IDRIS)]).toEqual([]);
    writes(world, PIER, '#2 Yes, until 4, and stop at the desk.');
    await until(async () => screen(world, IDRIS).length === 1);
    expect(screen(world, IDRIS)).toEqual(['Yes, until 4, and stop at the desk.']);
    expect(screen(world, MABEL)).toEqual([]);
    expect(await rows(world.db, `SELECT number FROM inbound WHERE done_at IS NULL`)).toEqual([{ number: MABEL }]);
  });

  test('an answer to what the desk has answered is held with its words, and they are told', async () => {
    const world = await begin();
    writes(world, MABEL, 'Is the 5:20 running?');
    await until(async () => screen(world, PIER).length === 1);
    await world.db.query(
      `INSERT INTO account (id, email, name, role, password_hash, created_at) VALUES (1, 'ana@ottermere.example', 'Ana', 'send', 'x', '2026-01-01')`,
    );
    await world.db.query(
      `INSERT INTO outbound (kind, number, sender_id, body, alphabet, parts, cost_micro, due_at, not_after, state, open, account_id)
       VALUES ('reply', $1, 1, 'Yes, it is.', 'gsm7', 1, 1, $2::timestamptz, '2027-01-01', 'delivered', 0, 1)`,
      [MABEL, new Date(world.clock.now() + 1000).toISOString()],
    );
    writes(world, PIER, 'No, it is not.');
    await until(async () => screen(world, PIER).length === 2);
    expect(screen(world, PIER)[1]).toBe('Not passed on: Ana has answered since: “Yes, it is.”. It is kept for the desk.');
    expect(screen(world, MABEL)).toEqual([]);
    expect(await rows(world.db, `SELECT words, state FROM passed_answer`)).toEqual([{ words: 'No, it is not.', state: 'held' }]);
  });

  test('a conversation given to somebody: what waits goes to them, then what that number writes for a week, and nobody else’s', async () => {
    const world = await sendingWorld(kind);
    await people(world.db);
    const give = () =>
      world.db.transaction((tx) =>
        giveConversation(
          tx,
          MABEL,
          { name: 'Pier office', way: 'text', address: PIER, any_hour: true },
          { account: 1, now: world.clock.now() },
        ),
      );
    expect(await give()).toBe(0);
    await world.db.query(`DELETE FROM pass_on`);
    writes(world, IDRIS, 'And I?');
    writes(world, MABEL, 'Is the 5:20 running?');
    await applied(world, 2);
    expect(await give()).toBe(1);
    world.bus.work();
    await until(async () => screen(world, PIER).length === 1);
    expect(screen(world, PIER)).toEqual(['Mabel Greenhalgh: “Is the 5:20 running?” To answer them begin with #1']);
    // to the same once more: there is nothing that has not gone, and it is one rule
    expect(await give()).toBe(0);
    expect(await rows(world.db, `SELECT 1 FROM pass_on`)).toHaveLength(1);
    writes(world, MABEL, 'Or the 6?');
    await until(async () => screen(world, PIER).length === 2);
    writes(world, PIER, '#1 It is.');
    await until(async () => screen(world, MABEL).length === 1);
    await world.db.query(`UPDATE passed SET at = at - interval '8 days'`);
    await world.db.query(`UPDATE pass_on SET created_at = created_at - interval '8 days'`);
    writes(world, MABEL, 'Thanks');
    await applied(world, 5);
    expect(await rows(world.db, `SELECT number FROM passed`)).toEqual([{ number: MABEL }, { number: MABEL }]);
  });

  test('what could not be passed on is tried again when somebody says so, and goes', async () => {
    const world = await begin();
    await world.db.query(`UPDATE sender SET kind = 'name'`);
    writes(world, MABEL, 'Is the 5:20 running?');
    await until(async () => (await rows(world.db, `SELECT 1 FROM passed WHERE state = 'failed'`)).length === 1);
    await world.db.query(`UPDATE sender SET kind = 'short'`);
    expect(await world.db.transaction((tx) => passAgain(tx, 1, '2000-01-01', iso(world.clock.now())))).toBe(1);
    world.bus.work();
    await until(async () => screen(world, PIER).length === 1);
    expect(await rows(world.db, `SELECT state FROM passed`)).toEqual([{ state: 'sent' }]);
  });

  test('nothing goes on of what phones write by themselves, of a stop, to one’s own number, or to somebody who opted out', async () => {
    const world = await begin();
    await rule(world.db, 'text', IDRIS, { name: 'Idris' });
    writes(world, MABEL, "I'm driving right now and will get back to you");
    writes(world, '+12075550137', 'STOP');
    writes(world, IDRIS, 'A word from Idris');
    await until(async () => screen(world, PIER).length === 1);
    await applied(world, 3);
    expect(await rows(world.db, `SELECT pass_on_id, number, state FROM passed`)).toEqual([
      { pass_on_id: 1, number: IDRIS, state: 'sent' },
    ]);
    writes(world, PIER, 'STOP');
    await applied(world, 4);
    writes(world, MABEL, 'Hello?');
    await until(async () => (await rows(world.db, `SELECT 1 FROM passed WHERE state = 'failed'`)).length === 1);
    expect(await rows(world.db, `SELECT trouble FROM pass_on WHERE id = 1`)).toEqual([
      { trouble: `${PIER} has opted out of our texts. Nothing was sent.` },
    ]);
    // and they are not told by mistake that it was an answer
    expect(screen(world, MABEL)).toEqual([]);
  });

  test('a machine that hands on what it gets answers nobody, and a person sees it', async () => {
    const world = await begin();
    writes(world, MABEL, 'Is the 5:20 running?');
    await until(async () => screen(world, PIER).length === 1);
    const handedOn = `Pier: “${screen(world, PIER)[0]}”`;
    writes(world, PIER, handedOn);
    await applied(world, 2);
    expect(await rows(world.db, `SELECT kind, body FROM inbound WHERE done_at IS NULL ORDER BY id`)).toEqual([
      { kind: 'reply', body: 'Is the 5:20 running?' },
      { kind: 'reply', body: handedOn },
    ]);
    expect(await rows(world.db, `SELECT 1 FROM passed_answer`)).toEqual([]);
    expect(screen(world, MABEL)).toEqual([]);
  });

  test('hundreds from one number: some are passed on, all are kept', async () => {
    const many = rounds(120, 1000);
    const world = await begin();
    await Promise.all(
      Array.from({ length: many }, (_, i) => world.engine.inbound.take({ number: MABEL, to: '72345', text: `Hello ${i}` })),
    );
    await world.engine.inbound.settle();
    expect(await rows(world.db, `SELECT count(*) AS n FROM inbound WHERE done_at IS NULL`)).toEqual([{ n: many }]);
    expect(await rows(world.db, `SELECT count(*) AS n FROM passed`)).toEqual([{ n: MOST_PASSED }]);
    expect(await rows(world.db, `SELECT trouble FROM pass_on`)).toEqual([
      { trouble: `More than ${MOST_PASSED} within an hour from ${MABEL}: the rest is in Replies only.` },
    ]);
  });
});

describe.each(ENGINES)('passing on by mail, on %s', (kind: Engine) => {
  const begin = async () => {
    const port: { mail?: number } = {};
    const world = await sendingWorld(kind, {}, { practiceMail: () => port.mail });
    const errors: unknown[] = [];
    const mailIn = new MailIn(world.db, world.clock, world.bus, handedIn, (error) => errors.push(error));
    const answersPort = await mailIn.listen(0, '127.0.0.1');
    const mailbox = new Mailbox({
      file: join(mkdtempSync(join(tmpdir(), 'mails-')), 'mails'),
      now: () => world.clock.now(),
      answersPort,
    });
    port.mail = await mailbox.listen(0);
    closeAfter(async () => {
      await mailbox.close();
      await mailIn.close();
      expect(errors).toEqual([]);
    });
    await people(world.db);
    return { ...world, mailbox, answersPort };
  };
  const mails = (world: Awaited<ReturnType<typeof begin>>, n: number) =>
    until(async () => {
      const all = world.mailbox.list('', 50);
      return all.length >= n && all;
    });

  test('a question is a mail; the answer of a person comes back by its token, without what it quotes', async () => {
    const world = await begin();
    await rule(world.db, 'mail', 'pier@ottermere.example');
    writes(world, MABEL, 'Is the 5:20 running?\r\nBcc: all@ottermere.example');
    const [mail] = await mails(world, 1);
    expect(mail).toMatchObject({ owner: 'pier@ottermere.example', subject: 'Mabel Greenhalgh has texted' });
    expect(mail.text).toContain('Is the 5:20 running?');
    const answered = await world.mailbox.answer(mail.id, 'Yes, from Mill Quay.\n\nPier office\n-- \nSent by hand');
    expect(answered?.said).toMatch(/^250/);
    await until(async () => screen(world, MABEL).length === 1);
    expect(screen(world, MABEL)).toEqual(['Yes, from Mill Quay.\n\nPier office']);
    expect(world.mailbox.list('', 50).filter(({ direction }) => direction === 'in')).toHaveLength(1);
    expect(await rows(world.db, `SELECT state FROM passed`)).toEqual([{ state: 'answered' }]);
  });

  test('what is too long, empty, or from somebody else is refused with the reason, which whoever wrote it sees', async () => {
    const world = await begin();
    await rule(world.db, 'mail', 'pier@ottermere.example');
    writes(world, MABEL, 'Is the 5:20 running?');
    const [mail] = await mails(world, 1);
    expect((await world.mailbox.answer(mail.id, 'x'.repeat(5000)))?.said).toContain('at most 10 can be sent');
    expect((await world.mailbox.answer(mail.id, ''))?.said).toContain('no words in it');
    const [{ token }] = await rows<{ token: string }>(world.db, `SELECT token FROM passed`);
    const stranger = createTransport({ host: '127.0.0.1', port: world.answersPort, ignoreTLS: true });
    const send = (mailTo: string) =>
      stranger.sendMail({ from: 'other@ottermere.example', to: mailTo, subject: 'x', text: 'I answer for them' });
    await expect(send(`replies+${token}@bell.example`)).rejects.toThrow(/comes from another address/);
    await expect(send('replies+aaaaaaaaaaaaaaaa@bell.example')).rejects.toThrow(/No such answer is waited for/);
    await expect(send('somebody@else.example')).rejects.toThrow(/No such answer is waited for/);
    stranger.close();
    expect(screen(world, MABEL)).toEqual([]);
    expect((await rows(world.db, `SELECT state FROM passed_answer`)).length).toBe(1);
  });

  test('what names nothing of ours is refused by its headers, and nothing of it is read; HTML alone is read as words', async () => {
    const world = await begin();
    await rule(world.db, 'mail', 'pier@ottermere.example');
    writes(world, MABEL, 'Is the 5:20 running?');
    await mails(world, 1);
    const [{ token }] = await rows<{ token: string }>(world.db, `SELECT token FROM passed`);
    const read = vi.spyOn(handedIn, 'read');
    const mailer = createTransport({ host: '127.0.0.1', port: world.answersPort, ignoreTLS: true });
    const pier = { from: 'pier@ottermere.example', subject: 'Re: x' };
    await expect(mailer.sendMail({ ...pier, to: 'replies@bell.example', html: `${'<div>'.repeat(50_000)}x` })).rejects.toThrow(
      /cannot be told what this answers/,
    );
    await expect(mailer.sendMail({ ...pier, to: 'replies@bell.example', text: 'x'.repeat(6_000_000) })).rejects.toThrow();
    expect(read).not.toHaveBeenCalled();
    await mailer.sendMail({ ...pier, to: `replies+${token}@bell.example`, html: '<p>Yes, from <b>Mill Quay</b>.</p>' });
    expect(read).toHaveBeenCalledOnce();
    read.mockRestore();
    await until(async () => screen(world, MABEL).length === 1);
    expect(screen(world, MABEL)).toEqual(['Yes, from Mill Quay.']);
    // what no reader makes anything of is refused for good: told to come again, it would come for days
    const parts = '--b\r\nContent-Type: image/png\r\n\r\nx\r\n'.repeat(5000);
    const raw = `From: pier@ottermere.example\r\nContent-Type: multipart/mixed; boundary=b\r\n\r\n${parts}--b--`;
    const envelope = { from: 'pier@ottermere.example', to: `replies+${token}@bell.example` };
    await expect(mailer.sendMail({ envelope, raw })).rejects.toMatchObject({
      responseCode: 550,
      message: expect.stringContaining('could not be read') as string,
    });
    mailer.close();
  });

  test('whoever holds connections open holds five, and the sixth is told', async () => {
    const world = await begin();
    const sockets: Socket[] = [];
    const says = () =>
      new Promise<string>((resolve) => {
        const socket = connect(world.answersPort, '127.0.0.1');
        sockets.push(socket);
        socket.once('data', (data) => resolve(data.toString().slice(0, 3)));
      });
    const said = await Promise.all(Array.from({ length: 6 }, says));
    expect(said.sort()).toEqual(['220', '220', '220', '220', '220', '421']);
    // one that was refused makes no room by going
    const closed = () => sockets.filter((socket) => socket.destroyed).length;
    for (let i = 0; i < 3; i += 1) {
      expect(await says()).toBe('421');
      await until(() => Promise.resolve(closed() === i + 2));
    }
    // one that was let in does
    sockets.find((socket) => !socket.destroyed)?.destroy();
    await until(async () => (await says()) === '220');
    for (const socket of sockets) socket.destroy();
  });

  test('a mailbox that answers by itself is not passed back, and one that is gone is told', async () => {
    const world = await begin();
    await rule(world.db, 'mail', 'away@ottermere.example', { name: 'Away' });
    await rule(world.db, 'mail', 'gone@ottermere.example', { name: 'Gone' });
    writes(world, MABEL, 'Is the 5:20 running?');
    await mails(world, 2);
    await until(async () => (await rows(world.db, `SELECT 1 FROM passed WHERE state = 'failed'`)).length === 1);
    expect(await rows(world.db, `SELECT name, trouble FROM pass_on ORDER BY id`)).toEqual([
      { name: 'Away', trouble: null },
      { name: 'Gone', trouble: 'A mail to gone@ottermere.example came back: Undelivered: no such mailbox' },
    ]);
    expect(await rows(world.db, `SELECT 1 FROM outbound`)).toEqual([]);
    expect(world.mailbox.list('', 50)).toHaveLength(2);
  });

  test('a server that is away is tried again, and it is said; then it goes once', async () => {
    const world = await begin();
    await rule(world.db, 'mail', 'pier@ottermere.example');
    await world.db.query(
      `INSERT INTO mail_setting (id, host, port, from_address) VALUES (1, '127.0.0.1', 1, 'bell@ottermere.example')`,
    );
    writes(world, MABEL, 'Is the 5:20 running?');
    await until(async () => (await rows(world.db, `SELECT 1 FROM pass_on WHERE trouble LIKE '%tried again%'`)).length === 1);
    await world.db.query(`DELETE FROM mail_setting`);
    await mails(world, 1);
    await until(async () => (await rows(world.db, `SELECT 1 FROM passed WHERE state = 'sent'`)).length === 1);
    expect(await rows(world.db, `SELECT trouble FROM pass_on`)).toEqual([{ trouble: null }]);
    expect(world.mailbox.list('', 50)).toHaveLength(1);
  });
});

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

import { mkdtempSync } from 'node:fs';
import { connect, type Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createTransport } from 'nodemailer';
import { afterAll, describe, expect, test, vi } from 'vitest';
import { Mailbox } from '../../../carrier/mailbox';
import { ENGINES, type Engine } from '../../db/testing/engines';
import { HandedIn } from '../../handed-in/handed-in';
import { closeAfter, closeAfterEach, sendingWorld, until } from '../testing/sending';
import { MailIn } from './mail-in';
import { MABEL, people, rows, rule, screen, writes } from './testing';

closeAfterEach();
const handedIn = new HandedIn();
afterAll(() => handedIn.end());

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

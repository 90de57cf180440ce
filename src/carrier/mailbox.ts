import { appendFileSync, existsSync, mkdirSync, readFileSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import { dirname } from 'node:path';
import { simpleParser, type ParsedMail } from 'mailparser';
import { createTransport } from 'nodemailer';
import { SMTPServer } from 'smtp-server';

/** A mail in the practice mailbox, or an answer that somebody wrote there. */
export interface BoxMail {
  id: number;
  direction: 'in' | 'out';
  at: string;
  /** Whose mailbox it lies in. */
  owner: string;
  from: string;
  subject: string;
  text: string;
  /** Of an answer: what the server that took it, or did not, said. */
  said: string | null;
}

interface Kept extends BoxMail {
  messageId: string;
  references: string[];
  replyTo: string;
}

const KEPT_MAILS = 500;
const DOMAIN = 'mailbox.example';

/**
 * The practice mailbox: a mail server (RFC 5321) for every address there is, on this machine only. Whoever holds an address answers
 * from it, and the answer goes by SMTP to where answers are taken in. Two addresses behave as others do in the world: one that begins
 * with `away` answers by itself (RFC 3834), one that begins with `gone` comes back (RFC 3464).
 */
export class Mailbox {
  private readonly mails: Kept[] = [];
  private server: SMTPServer | undefined;
  private last = 0;

  constructor(private readonly options: { file: string; now: () => number; answersPort: number }) {
    mkdirSync(dirname(options.file), { recursive: true });
    if (existsSync(options.file))
      for (const line of readFileSync(options.file, 'utf8').split('\n')) {
        if (line === '' || !line.endsWith('}')) continue; // a kill may leave half a line
        this.mails.push(JSON.parse(line) as Kept);
      }
    this.last = this.mails.at(-1)?.id ?? 0;
    this.mails.splice(0, Math.max(0, this.mails.length - KEPT_MAILS));
  }

  listen(port: number): Promise<number> {
    const server = new SMTPServer({
      disabledCommands: ['AUTH', 'STARTTLS'],
      authOptional: true,
      size: 10_000_000,
      closeTimeout: 500,
      logger: false,
      onData: (stream, session, done) => {
        simpleParser(stream, { skipImageLinks: true }).then(
          async (mail) => {
            const from = session.envelope.mailFrom === false ? '' : session.envelope.mailFrom.address;
            for (const { address } of session.envelope.rcptTo) await this.arrive(mail, address, from);
            done();
          },
          (error: Error) => done(error),
        );
      },
    });
    this.server = server;
    server.on('error', () => undefined);
    return new Promise((resolve, reject) => {
      server.server.once('error', reject);
      server.listen(port, '127.0.0.1', () => resolve((server.server.address() as AddressInfo).port));
    });
  }

  async close(): Promise<void> {
    await new Promise<void>((resolve) => (this.server ? this.server.close(() => resolve()) : resolve()));
  }

  /** The latest, the latest first; of one owner, or with these words. */
  list(search: string, limit: number): BoxMail[] {
    const words = search.trim().toLowerCase();
    return this.mails
      .filter((mail) => words === '' || `${mail.owner} ${mail.subject} ${mail.text}`.toLowerCase().includes(words))
      .slice(-limit)
      .reverse()
      .map(({ id, direction, at, owner, from, subject, text, said }) => ({
        id,
        direction,
        at,
        owner,
        from,
        subject,
        text,
        said,
      }));
  }

  /** Whoever holds the address answers a mail, with what they answer quoted under it as mail programs do. */
  async answer(id: number, text: string): Promise<BoxMail | undefined> {
    const mail = this.mails.find((each) => each.id === id && each.direction === 'in');
    if (!mail) return undefined;
    const quoted = mail.text
      .trimEnd()
      .split('\n')
      .map((line) => `> ${line}`.trimEnd());
    const whole = `${text}\n\nOn ${new Date(mail.at).toUTCString()}, ${mail.from} wrote:\n${quoted.join('\n')}\n`;
    const said = await this.send(mail, mail.owner, whole, {});
    return this.keep({
      id: 0,
      direction: 'out',
      at: new Date(this.options.now()).toISOString(),
      owner: mail.owner,
      from: mail.owner,
      subject: `Re: ${mail.subject}`,
      text,
      said,
      messageId: '',
      references: [],
      replyTo: '',
    });
  }

  private async arrive(mail: ParsedMail, owner: string, from: string): Promise<void> {
    const kept = this.keep({
      id: 0,
      direction: 'in',
      at: new Date(this.options.now()).toISOString(),
      owner,
      from: mail.from?.text ?? from,
      subject: mail.subject ?? '',
      text: mail.text ?? '',
      said: null,
      messageId: mail.messageId ?? '',
      references: typeof mail.references === 'string' ? [mail.references] : (mail.references ?? []),
      replyTo: mail.replyTo?.value[0]?.address ?? from,
    });
    if (from === '') return; // nothing is answered to nobody
    if (/^away/i.test(owner))
      await this.send(kept, owner, 'I am away until Monday and read no mail.', { 'Auto-Submitted': 'auto-replied' });
    else if (/^gone/i.test(owner))
      await this.send({ ...kept, replyTo: from, subject: 'Undelivered: no such mailbox' }, '', 'There is no such mailbox.', {});
  }

  private async send(mail: Kept, from: string, text: string, headers: Record<string, string>): Promise<string> {
    const transport = createTransport({
      host: '127.0.0.1',
      port: this.options.answersPort,
      ignoreTLS: true,
      connectionTimeout: 5000,
    });
    try {
      const sent = (await transport.sendMail({
        envelope: { from, to: [mail.replyTo] },
        from: from || `MAILER-DAEMON@${DOMAIN}`,
        to: mail.replyTo,
        subject: from === '' ? mail.subject : `Re: ${mail.subject}`,
        text,
        inReplyTo: mail.messageId,
        references: [...mail.references, mail.messageId],
        headers,
      })) as { response?: string };
      return sent.response ?? 'taken';
    } catch (error) {
      return (error as { response?: string }).response ?? (error instanceof Error ? error.message : 'not taken');
    } finally {
      transport.close();
    }
  }

  private keep(mail: Kept): Kept {
    const kept = { ...mail, id: (this.last += 1) };
    this.mails.push(kept);
    if (this.mails.length > KEPT_MAILS) this.mails.shift();
    appendFileSync(this.options.file, `${JSON.stringify(kept)}\n`);
    return kept;
  }
}

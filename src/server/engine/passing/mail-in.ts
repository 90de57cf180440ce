import type { AddressInfo } from 'node:net';
import { simpleParser, type ParsedMail } from 'mailparser';
import { SMTPServer } from 'smtp-server';
import type { Clock } from '../../../core/clock';
import { mailByItself, tokenOf, withoutQuoted } from '../../../core/passing/mail';
import type { Db } from '../../db/db';
import type { Bus } from '../bus';
import { passBack } from './pass-back';

/** An answer fits a text; a mail that is larger brings pictures and signatures, which are not read. */
const MOST_BYTES = 5_000_000;
const MOST_CLIENTS = 20;

/** What came of a mail: taken, or why it is refused, which the server that brought it tells whoever wrote it. */
export type MailTaken = { taken: true } | { taken: false; why: string };

/**
 * Takes in answers to what was passed on by mail, as a mail server (RFC 5321) does: only for addresses that carry a token of ours. An
 * answer that cannot go on is refused with the reason, so that whoever wrote it learns of it; what no person wrote is taken, and
 * neither answered nor passed on.
 */
export class MailIn {
  private server: SMTPServer | undefined;

  constructor(
    private readonly db: Db,
    private readonly clock: Clock,
    private readonly bus: Bus,
    private readonly failed: (error: unknown) => void,
  ) {}

  /** @returns the port it listens at */
  listen(port: number, host: string): Promise<number> {
    const server = new SMTPServer({
      disabledCommands: ['AUTH', 'STARTTLS'],
      authOptional: true,
      size: MOST_BYTES,
      maxClients: MOST_CLIENTS,
      socketTimeout: 30_000,
      closeTimeout: 500,
      banner: 'answers only',
      logger: false,
      onRcptTo: (address, session, done) => {
        // nothing is taken for anybody else: this is no relay
        if (session.envelope.rcptTo.length >= 5) return done(smtpError(452, 'Too many recipients.'));
        void this.knows(address.address).then(
          (known) => (known ? done() : done(smtpError(550, 'No such answer is waited for here.'))),
          (error: unknown) => {
            this.failed(error);
            done(smtpError(451, 'Try again in a while.'));
          },
        );
      },
      onData: (stream, session, done) => {
        void simpleParser(stream, { skipImageLinks: true, skipTextToHtml: true })
          .then(async (mail) => {
            if (stream.sizeExceeded) return done(smtpError(552, 'The mail is too large. Answer with words only.'));
            const from = session.envelope.mailFrom === false ? '' : session.envelope.mailFrom.address;
            const came = await this.take(
              mail,
              from,
              session.envelope.rcptTo.map(({ address }) => address),
            );
            done(came.taken ? null : smtpError(550, came.why));
          })
          .catch((error: unknown) => {
            this.failed(error);
            done(smtpError(451, 'It could not be read just now.'));
          });
      },
    });
    this.server = server;
    server.on('error', this.failed);
    return new Promise((resolve, reject) => {
      server.server.once('error', reject);
      server.listen(port, host, () => resolve((server.server.address() as AddressInfo).port));
    });
  }

  async close(): Promise<void> {
    await new Promise<void>((resolve) => (this.server ? this.server.close(() => resolve()) : resolve()));
  }

  private async knows(address: string): Promise<boolean> {
    if (tokenOf([address], []) !== undefined) return (await this.passedOf(tokenOf([address], []) ?? '')) !== undefined;
    // without a token in the address it is known by its references, once it is read
    const { rows } = await this.db.query<{ answers_to: string }>(`SELECT answers_to FROM mail_setting`);
    return address.toLowerCase() === (rows.at(0)?.answers_to || 'replies@bell.example').toLowerCase();
  }

  private async passedOf(token: string): Promise<{ id: number; pass_on_id: number; address: string } | undefined> {
    return (
      await this.db.query<{ id: number; pass_on_id: number; address: string }>(
        `SELECT passed.id, pass_on_id, address FROM passed JOIN pass_on ON pass_on.id = pass_on_id WHERE token = $1 AND way = 'mail'`,
        [token],
      )
    ).rows.at(0);
  }

  /** Decides about a mail; called when it has come whole, and by tests. */
  async take(mail: ParsedMail, from: string, recipients: readonly string[]): Promise<MailTaken> {
    const headers = new Map(mail.headerLines.map(({ key, line }) => [key, line.slice(key.length + 1).trim()]));
    const references = [
      ...(typeof mail.references === 'string' ? [mail.references] : (mail.references ?? [])),
      mail.inReplyTo ?? '',
    ];
    const token = tokenOf(recipients, references);
    const passed = token === undefined ? undefined : await this.passedOf(token);
    const bySelf = mailByItself(from, headers);
    if (!passed)
      return bySelf ? { taken: true } : { taken: false, why: 'It cannot be told what this answers. Answer the mail itself.' };
    if (bySelf === 'failed') {
      const why = (mail.subject ?? 'no reason given').slice(0, 120);
      await this.db.query(
        `WITH failed AS (UPDATE passed SET state = 'failed', reason = $2 WHERE id = $1 AND state IN ('waiting', 'sent') RETURNING pass_on_id)
         UPDATE pass_on SET trouble = $3 FROM failed WHERE pass_on.id = failed.pass_on_id`,
        [passed.id, `The mail came back: ${why}`, `A mail to ${passed.address} came back: ${why}`],
      );
      this.bus.changed('replies');
      return { taken: true };
    }
    if (bySelf === 'automatic') return { taken: true };
    const writer = mail.from?.value[0]?.address ?? '';
    const words = withoutQuoted(mail.text ?? '');
    if (writer.toLowerCase() !== passed.address.toLowerCase())
      return { taken: false, why: `Not passed on: it was asked of ${passed.address}, and this comes from another address.` };
    const back = await this.db.transaction((tx) => passBack(tx, passed.id, words, this.clock.now()));
    this.bus.changed('replies');
    this.bus.work();
    return back.sent ? { taken: true } : { taken: false, why: back.says ?? 'Not passed on.' };
  }
}

/** A refusal as a mail server gives it; one line, as RFC 5321 §4.2 has it. */
function smtpError(responseCode: number, message: string): Error {
  return Object.assign(new Error(message.replace(/[^\x20-\x7e]+/g, '?').slice(0, 400)), { responseCode });
}

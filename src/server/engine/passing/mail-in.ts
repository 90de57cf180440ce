import type { AddressInfo } from 'node:net';
import { SMTPServer, type SMTPServerDataStream, type SMTPServerSession } from 'smtp-server';
import type { Clock } from '../../../core/clock';
import { mailByItself, tokenOf, withoutQuoted } from '../../../core/passing/mail';
import { endOfHead, LONGEST_HEAD, readHead, type MailHead } from '../../../core/passing/mail-head';
import type { Db } from '../../db/db';
import { OverBudget, type HandedIn, type ReadMail } from '../../handed-in/for-others';
import type { Bus } from '../../desk/bus';
import { passBack } from './pass-back';

/** An answer fits a text; a mail that is larger brings pictures and signatures, which are not read. */
const MOST_BYTES = 5_000_000;
const MOST_CLIENTS = 100;
/** From one address: a server that brings answers needs one connection, and whoever holds more keeps others out. */
const MOST_OF_ONE = 5;

/** No reader makes anything of it. */
class UnreadableMail extends Error {}

/** What came of a mail: taken, or why it is refused, which the server that brought it tells whoever wrote it. */
export type MailTaken = { taken: true } | { taken: false; code?: number; why: string };

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
    private readonly handedIn: HandedIn,
    private readonly failed: (error: unknown) => void,
  ) {}

  /** Where the connections that were let in come from, by their session: of one that was refused a close is told, too. */
  private readonly open = new Map<string, string>();

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
      onConnect: ({ id, remoteAddress }, done) => {
        const n = [...this.open.values()].filter((address) => address === remoteAddress).length;
        if (n >= MOST_OF_ONE) return done(smtpError(421, 'Too many connections from one place.'));
        this.open.set(id, remoteAddress);
        done();
      },
      onClose: ({ id }) => void this.open.delete(id),
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
        void this.receive(stream, session).then(
          (came) => done(came.taken ? null : smtpError(came.code ?? 550, came.why)),
          (error: unknown) => {
            this.failed(error);
            done(smtpError(451, 'It could not be read just now.'));
          },
        );
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

  /** Takes a mail in: its headers first, and the rest only where they name something that was passed on. */
  private async receive(stream: SMTPServerDataStream, session: SMTPServerSession): Promise<MailTaken> {
    const from = session.envelope.mailFrom === false ? '' : session.envelope.mailFrom.address;
    const recipients = session.envelope.rcptTo.map(({ address }) => address);
    const pieces: Buffer[] = [];
    let size = 0;
    let head: MailHead | undefined;
    let taken: MailTaken | undefined;
    // all of it is heard to its end, as the protocol has it; what is not wanted is forgotten as it comes
    for await (const piece of stream as AsyncIterable<Buffer>) {
      size += piece.length;
      if (taken) continue;
      pieces.push(piece);
      if (!head) {
        const text = Buffer.concat(pieces).toString('latin1', 0, LONGEST_HEAD);
        const end = endOfHead(text);
        if (end !== undefined) head = readHead(text.slice(0, end));
        else if (size > LONGEST_HEAD) taken = { taken: false, why: 'Its headers do not end.' };
        if (head && tokenOf(recipients, head.references) === undefined) taken = ofNothing(from, head);
      }
      if (size > MOST_BYTES) taken = { taken: false, code: 552, why: 'The mail is too large. Answer with words only.' };
      if (taken) pieces.length = 0;
    }
    if (taken) return taken;
    const whole = Buffer.concat(pieces);
    try {
      return await this.take(head ?? readHead(whole.toString('latin1', 0, LONGEST_HEAD)), from, recipients, () =>
        this.handedIn.read('mail', { bytes: whole }).then((read) => {
          if ('wrong' in read) throw new UnreadableMail();
          return read;
        }),
      );
    } catch (error) {
      if (!(error instanceof OverBudget) && !(error instanceof UnreadableMail)) throw error;
      // what cannot be read is not read the next time either: it is not to be brought again
      return error instanceof OverBudget && error.of === 'busy'
        ? { taken: false, code: 451, why: 'Too much is being read at once. Try again in a while.' }
        : { taken: false, why: 'It could not be read. Answer with words only.' };
    }
  }

  /** Decides about a mail, by its headers; what it says is read where it is needed. @throws OverBudget */
  private async take(
    { headers, references }: MailHead,
    from: string,
    recipients: readonly string[],
    read: () => Promise<ReadMail>,
  ): Promise<MailTaken> {
    const token = tokenOf(recipients, references);
    const passed = token === undefined ? undefined : await this.passedOf(token);
    const bySelf = mailByItself(from, headers);
    if (!passed) return ofNothing(from, { headers, references });
    if (bySelf === 'failed') {
      const said = await read().then(
        ({ subject }) => subject,
        // that it came back counts, whatever else it holds
        () => headers.get('subject') ?? '',
      );
      const why = (said || 'no reason given').slice(0, 120);
      await this.db.query(
        `WITH failed AS (UPDATE passed SET state = 'failed', reason = $2 WHERE id = $1 AND state IN ('waiting', 'sent') RETURNING pass_on_id)
         UPDATE pass_on SET trouble = $3 FROM failed WHERE pass_on.id = failed.pass_on_id`,
        [passed.id, `The mail came back: ${why}`, `A mail to ${passed.address} came back: ${why}`],
      );
      this.bus.changed('replies');
      return { taken: true };
    }
    if (bySelf === 'automatic') return { taken: true };
    const { from: writer, words: all } = await read();
    const words = withoutQuoted(all);
    if (writer.toLowerCase() !== passed.address.toLowerCase())
      return { taken: false, why: `Not passed on: it was asked of ${passed.address}, and this comes from another address.` };
    const back = await this.db.transaction((tx) => passBack(tx, passed.id, words, this.clock.now()));
    this.bus.changed('replies');
    this.bus.work();
    return back.sent ? { taken: true } : { taken: false, why: back.says ?? 'Not passed on.' };
  }
}

/** A mail that answers nothing of ours: what no person wrote is taken and forgotten, the rest told. */
function ofNothing(from: string, { headers }: MailHead): MailTaken {
  return mailByItself(from, headers)
    ? { taken: true }
    : { taken: false, why: 'It cannot be told what this answers. Answer the mail itself.' };
}

/** A refusal as a mail server gives it; one line, as RFC 5321 §4.2 has it. */
function smtpError(responseCode: number, message: string): Error {
  return Object.assign(new Error(message.replace(/[^\x20-\x7e]+/g, '?').slice(0, 400)), { responseCode });
}

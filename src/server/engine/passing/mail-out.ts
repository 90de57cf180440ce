import { createTransport, type Transporter } from 'nodemailer';
import { isMailAddress } from '../../../core/passing/mail';
import type { Queryable } from '../../db/db';

/** The mail server as it is set, or the practice mailbox that stands in for one. */
export interface MailServer {
  host: string;
  port: number;
  secure: boolean;
  username: string;
  password: string;
  from: string;
  /** What answers are sent to; `+token` goes before its @. */
  answersTo: string;
  practice: boolean;
}

export interface Mail {
  to: string;
  toName: string;
  fromName: string;
  subject: string;
  text: string;
  token: string;
}

/** Where mails go out; undefined while no server is set and no practice mailbox stands in. */
export async function mailServer(db: Queryable, practicePort: number | undefined): Promise<MailServer | undefined> {
  const set = (
    await db.query<{
      host: string;
      port: number;
      secure: boolean;
      username: string;
      password: string;
      from_address: string;
      answers_to: string;
    }>(`SELECT host, port, secure, username, password, from_address, answers_to FROM mail_setting`)
  ).rows.at(0);
  if (set && set.host !== '')
    return { ...set, from: set.from_address, answersTo: set.answers_to || set.from_address, practice: false };
  if (practicePort === undefined) return undefined;
  return {
    host: '127.0.0.1',
    port: practicePort,
    secure: false,
    username: '',
    password: '',
    from: 'replies@bell.example',
    answersTo: 'replies@bell.example',
    practice: true,
  };
}

/** For each step of three; all of them are shorter than a job's lease, ms. */
const TIMEOUT = 10_000;

/**
 * Sends one mail, with an envelope of its own and addresses that were looked at: one that holds a line end would add recipients. It
 * says that a machine sent it (RFC 3834 §5.1), so that nothing well-behaved answers by itself; the answer of a person comes back by
 * the address it is sent to, or by its references (RFC 5322 §3.6.4).
 */
export async function sendMail(server: MailServer, mail: Mail): Promise<void> {
  for (const address of [mail.to, server.from, server.answersTo])
    if (!isMailAddress(address)) throw new Error(`“${address.slice(0, 80)}” is not an e-mail address.`);
  const answersTo = server.answersTo.replace('@', `+${mail.token}@`);
  const transport: Transporter = createTransport({
    host: server.host,
    port: server.port,
    secure: server.secure,
    auth: server.username === '' ? undefined : { user: server.username, pass: server.password },
    connectionTimeout: TIMEOUT,
    greetingTimeout: TIMEOUT,
    socketTimeout: TIMEOUT,
    // the practice mailbox speaks in the clear on this machine; every other server is asked for TLS
    ignoreTLS: server.practice,
    requireTLS: !server.practice && !server.secure && server.username !== '',
    disableFileAccess: true,
    disableUrlAccess: true,
  });
  try {
    await transport.sendMail({
      // what comes back undelivered comes to the token, too, where that is of the same house
      envelope: { from: domainOf(server.from) === domainOf(answersTo) ? answersTo : server.from, to: [mail.to] },
      from: { name: oneLine(mail.fromName), address: server.from },
      to: { name: oneLine(mail.toName), address: mail.to },
      replyTo: answersTo,
      subject: oneLine(mail.subject),
      text: mail.text,
      messageId: `<passed.${mail.token}@${domainOf(server.answersTo)}>`,
      headers: { 'Auto-Submitted': 'auto-generated' },
    });
  } finally {
    transport.close();
  }
}

/** A header is one line, without signs that turn its direction. */
function oneLine(words: string): string {
  return words
    .replace(/[\p{Cc}\p{Cf}\u2028\u2029]+/gu, ' ')
    .trim()
    .slice(0, 150);
}

const domainOf = (address: string) => address.slice(address.indexOf('@') + 1).toLowerCase();

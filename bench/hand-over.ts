import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { createTransport } from 'nodemailer';
import { Dice } from '../src/core/line/simulator/dice';
import { until, type Desk } from '../harness/desk';
import type { Demo } from '../harness/demo';
import { hostileCard, hostileCodes, hostileMail, hostileWorkbook, hostileXliff, KINDS, type Kind } from './handed-in';

const SEED = 72345;
const PHONE = '+12075550171';

/** Ways to hand hostile things to a running server, as each would come in; what became of them is counted. */
export interface HandOver {
  counts: Map<string, number>;
  /** The hostile thing of this number, each time the same. */
  one(n: number): Promise<unknown>;
  file(kind: Kind, content: Uint8Array | string): Promise<void>;
  close(): void;
}

/** Makes what they need: a reply that was passed on by mail, a broadcast. What answers otherwise than with a word or a refusal is an error. */
export async function handOver(demo: Demo, desk: Desk, mailPort: number): Promise<HandOver> {
  const counts = new Map<string, number>();
  const count = (what: string) => counts.set(what, (counts.get(what) ?? 0) + 1);

  // a reply that was passed on by mail: answers with its token are read
  await desk.ask('POST', '/api/passing', {
    what: 'all',
    keyword_id: null,
    broadcast_id: null,
    name: 'Pier',
    way: 'mail',
    address: 'pier@mailbox.example',
    any_hour: true,
  });
  await desk.ask('POST', `/api/phones/${encodeURIComponent(PHONE)}/text`, { to: '72345', text: 'Is the Heron running?' });
  const answersTo = await until(async () => {
    const line = readFileSync(join(demo.folder, 'carrier.journal.mails'), 'utf8').trim().split('\n').at(-1) ?? '';
    return /"replyTo":"([^"]+\+[^"]+@[^"]+)"/.exec(line)?.[1];
  });
  const broadcast = await desk.ask<{ id: number }>('POST', '/api/broadcasts', { name: 'Hostile' });
  const transport = createTransport({ host: '127.0.0.1', port: mailPort, secure: false, ignoreTLS: true });
  /** Tried again as a mail server does when it is told to. */
  const mail = async (content: string): Promise<void> => {
    const raw = `From: pier@mailbox.example\r\nTo: ${answersTo}\r\n${content}`;
    for (let tries = 0; tries < 20; tries += 1) {
      const said = await transport.sendMail({ envelope: { from: 'pier@mailbox.example', to: answersTo }, raw }).then(
        () => 250,
        (error: { responseCode?: number }) => error.responseCode ?? 0,
      );
      if (said === 451 || said === 421) {
        await sleep(200);
        continue;
      }
      if (said !== 250 && said < 500) throw new Error(`A mail was answered with ${said}: ${content.slice(0, 100)}`);
      count(said === 250 ? 'mails taken' : 'mails refused');
      return;
    }
    count('mails sent away for now');
  };
  const upload = async (kind: Kind, path: string, content: Uint8Array | string): Promise<{ id: number } | undefined> => {
    const bytes = typeof content === 'string' ? Buffer.from(content) : content;
    const asked = () => desk.upload<{ id: number }>(path, bytes);
    const answer = await asked()
      // a kept connection that the server closes in that very moment: browsers ask again, too
      .catch((error: Error) => (error.message === 'fetch failed' ? asked() : Promise.reject(error)))
      .catch((error: Error) => {
        // a refusal is a sentence; anything else is a fault
        if (!/: (?:409|413|422) /.test(error.message)) throw error;
        return undefined;
      });
    count(`${kind} ${answer ? 'read' : 'refused'}`);
    return answer;
  };
  const file = async (kind: Kind, content: Uint8Array | string): Promise<void> => {
    const answer = await upload(kind, '/api/imports/file?name=a', content);
    if (!answer) return;
    for (;;) {
      const each = await desk.ask<{ state: string; at_row: number }>('GET', `/api/imports/${answer.id}`);
      if (each.state === 'failed' || (each.state === 'open' && each.at_row === 0)) break;
      await sleep(250);
    }
    await desk.ask('DELETE', `/api/imports/${answer.id}`).catch(() => undefined);
  };
  const hand: Record<Kind, (dice: Dice, n: number) => Promise<unknown>> = {
    mail: (dice) => mail(hostileMail(dice)),
    xliff: (dice) => upload('xliff', `/api/broadcasts/${broadcast.id}/xliff?language=es`, hostileXliff(dice)),
    codes: (dice, n) => upload('codes', `/api/code-lists?name=Hostile%20${n}`, hostileCodes(dice, n)),
    card: (dice) => file('card', hostileCard(dice)),
    workbook: (dice) => file('workbook', hostileWorkbook(dice)),
  };
  /** By its number: what one of them was is had again. */
  const one = (n: number) => hand[KINDS[n % KINDS.length]](new Dice(SEED + n), n);
  return { counts, one, file, close: () => transport.close() };
}

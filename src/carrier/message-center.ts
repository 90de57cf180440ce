import { createServer, type Server } from 'node:net';
import { MESSAGE_STATE, STATUS, type MessageState } from '../smpp/commands';
import { encodePdu } from '../smpp/encode';
import { decodePdu, type Pdu, type ShortMessageFields } from '../smpp/pdu';
import { receiptDate, writeReceipt } from '../smpp/receipt-text';
import { readRelativeTime } from '../smpp/relative-time';
import { Session } from '../smpp/session';
import { DIALECTS, spoken, type Dialect } from './dialects';
import { Journal, readJournal } from './journal';
import { Phones } from './phones';
import { chance, fate, latency, type Profile } from './profile';

/** Receipts on their way to the other end at once: it acknowledges what it has committed, in batches. */
const RECEIPT_WINDOW = 600;

interface Held {
  id: string;
  fields: ShortMessageFields;
  reference: number | undefined;
  at: number;
}

interface Inbound {
  id: string;
  number: string;
  to: string;
  text: string;
  /** What joins its parts; the same when it is offered again. */
  reference?: number;
}

export interface CenterOptions {
  host: string;
  port: number;
  journal: string;
  systemId: string;
  password: string;
  profile: Profile;
  /** Milliseconds since 1970; the demo's clock is ahead of the machine's. */
  now: () => number;
}

/**
 * The simulated message center: an SMPP v3.4 server with phones behind it. It journals a text before it answers,
 * delivers it after a while, and sends a receipt until the other end has taken it, also after a restart.
 */
export class MessageCenter {
  readonly phones = new Phones();
  profile: Profile;
  private readonly journal: Journal;
  private readonly sessions = new Set<Session>();
  private readonly bound = new Set<Session>();
  private readonly states = new Map<string, MessageState>();
  /** `number|reference` → id of everything ever taken on, for lookups after a broken line. */
  private readonly byReference = new Map<string, string>();
  private readonly receipts = new Map<string, () => void>();
  private readonly inbound = new Map<string, Inbound>();
  private readonly dialects = new Map<string, Dialect>();
  /** What is still to come, by when on the carrier's clock. */
  private readonly coming = new Map<NodeJS.Timeout, { at: number; act: () => void }>();
  private server: Server | undefined;
  private counter = 0;
  private joinReference = 0;
  private second = 0;
  private inSecond = 0;
  /** Parts accepted since the start of the process. */
  accepted = 0;

  constructor(private readonly options: CenterOptions) {
    this.profile = options.profile;
    const lines = readJournal(options.journal);
    this.journal = new Journal(options.journal);
    this.recover(lines);
  }

  listen(): Promise<number> {
    this.server = createServer((socket) => {
      const session = new Session(socket, { window: RECEIPT_WINDOW });
      this.sessions.add(session);
      session.on('closed', () => {
        this.sessions.delete(session);
        this.bound.delete(session);
      });
      session.on('request', (pdu) => this.serve(session, pdu));
    });
    return new Promise((resolve, reject) => {
      this.server?.once('error', reject);
      this.server?.listen(this.options.port, this.options.host, () => {
        const address = this.server?.address();
        resolve(address && typeof address === 'object' ? address.port : this.options.port);
      });
    });
  }

  /** Cuts every line at once, as a broken cable would. */
  cut(): void {
    for (const session of this.sessions) session.destroy();
  }

  async close(): Promise<void> {
    for (const timer of this.coming.keys()) clearTimeout(timer);
    this.cut();
    await new Promise<void>((resolve) => (this.server ? this.server.close(() => resolve()) : resolve()));
    this.journal.close();
  }

  /** The holder of a phone writes to one of the workspace's senders. */
  textFromPhone(number: string, to: string, text: string): void {
    const inbound: Inbound = { id: this.nextId('i'), number, to, text };
    const at = new Date(this.options.now()).toISOString();
    this.journal.write({ what: 'inbound', at, ...inbound });
    this.phones.send(number, to, text, at);
    this.inbound.set(inbound.id, inbound);
    void this.offerInbound(inbound);
  }

  /** How texts of a number come from now on. */
  speak(number: string, dialect: Dialect): void {
    if (!DIALECTS.includes(dialect)) throw new RangeError(`There is no dialect “${String(dialect)}”.`);
    this.dialects.set(number, dialect);
  }

  private dialectOf(number: string): Dialect {
    return this.dialects.get(number) ?? 'usual';
  }

  private nextId(prefix: string): string {
    this.counter += 1;
    return `${prefix}${Date.now().toString(36)}${this.counter.toString(36)}`;
  }

  private recover(lines: ReturnType<typeof readJournal>): void {
    const acknowledged = new Set(
      lines.flatMap((line) => (line.what === 'receipt' || line.what === 'inbound_taken' ? [line.id] : [])),
    );
    for (const line of lines) {
      if (line.what === 'submit') {
        const pdu = decodePdu(Buffer.from(line.pdu, 'hex'));
        if (pdu.command !== 'submit_sm') continue;
        const held: Held = {
          id: line.id,
          fields: pdu.fields,
          reference: pdu.tlvs?.user_message_reference,
          at: Date.parse(line.at),
        };
        this.byReference.set(`${line.number}|${held.reference}`, line.id);
        if (acknowledged.has(line.id)) {
          const outcome = fate(this.profile, held.fields.destination_addr);
          this.states.set(line.id, outcome.kind === 'not_delivered' ? 'UNDELIV' : 'DELIVRD');
          if (outcome.kind !== 'not_delivered') this.phones.arrive(held.fields, line.at);
        } else this.schedule(held);
      } else if (line.what === 'inbound') {
        this.phones.send(line.number, line.to, line.text, line.at);
        if (!acknowledged.has(line.id)) this.inbound.set(line.id, line);
      }
    }
  }

  private serve(session: Session, pdu: Pdu): void {
    switch (pdu.command) {
      case 'bind_receiver':
      case 'bind_transmitter':
      case 'bind_transceiver': {
        if (this.bound.has(session)) return session.respond(pdu, STATUS.already_bound, { system_id: 'practice' });
        if (pdu.fields.system_id !== this.options.systemId)
          return session.respond(pdu, STATUS.invalid_system_id, { system_id: '' });
        if (pdu.fields.password !== this.options.password)
          return session.respond(pdu, STATUS.invalid_password, { system_id: '' });
        // one line at a time: whatever an older one still holds unread is never taken on, so a lookup on the new
        // line answers for good
        for (const older of this.bound) if (older !== session) older.destroy('a newer line was opened');
        session.respond(pdu, STATUS.ok, { system_id: 'practice' }, { sc_interface_version: 0x34 });
        this.bound.add(session);
        this.offerEverything();
        return;
      }
      case 'submit_sm':
        if (!this.bound.has(session)) return session.respond(pdu, STATUS.not_bound);
        return this.submit(session, pdu, pdu.fields, pdu.tlvs?.user_message_reference);
      case 'query_sm': {
        if (pdu.tlvs?.lookup_number !== undefined) {
          // a carrier that does not echo references does not know them either
          if (!this.profile.echoReference)
            return session.respond(pdu, STATUS.invalid_command_id, { final_date: '', message_state: 0, error_code: 0 });
          const id = this.byReference.get(`${pdu.tlvs.lookup_number}|${pdu.tlvs.user_message_reference}`);
          if (id === undefined)
            return session.respond(pdu, STATUS.invalid_message_id, { final_date: '', message_state: 0, error_code: 0 });
          return session.respond(pdu, STATUS.ok, {
            message_id: answered(id, this.profile),
            final_date: '',
            message_state: MESSAGE_STATE.ENROUTE,
            error_code: 0,
          });
        }
        const state = this.states.get(pdu.fields.message_id);
        if (!state) return session.respond(pdu, STATUS.query_failed, { final_date: '', message_state: 0, error_code: 0 });
        return session.respond(pdu, STATUS.ok, {
          message_id: pdu.fields.message_id,
          final_date: '',
          message_state: MESSAGE_STATE[state],
          error_code: 0,
        });
      }
      default:
        return session.respond(pdu, STATUS.invalid_command_id);
    }
  }

  private submit(session: Session, pdu: Pdu, fields: ShortMessageFields, reference: number | undefined): void {
    if (this.profile.trouble !== 0) return session.respond(pdu, this.profile.trouble);
    if (this.throttled()) return session.respond(pdu, STATUS.throttled);
    if (!/^\d{7,15}$/.test(fields.destination_addr)) return session.respond(pdu, STATUS.invalid_destination);
    if (fate(this.profile, fields.destination_addr).kind === 'refused') return session.respond(pdu, STATUS.invalid_destination);
    const held: Held = { id: this.nextId('m'), fields, reference, at: this.options.now() };
    // committed before it is answered
    this.journal.write({
      what: 'submit',
      id: held.id,
      at: new Date(held.at).toISOString(),
      number: fields.destination_addr,
      pdu: encodePdu({ command: 'submit_sm', status: 0, sequence: pdu.sequence, fields, tlvs: pdu.tlvs }).toString('hex'),
    });
    this.accepted += 1;
    this.byReference.set(`${fields.destination_addr}|${reference}`, held.id);
    this.states.set(held.id, 'ENROUTE');
    const early = chance(this.profile.seed, 'early', held.id) < this.profile.early;
    if (early) {
      this.finish(held, 'DELIVRD', '000');
      this.later(40, () => session.respond(pdu, STATUS.ok, { message_id: answered(held.id, this.profile) }));
      return;
    }
    session.respond(pdu, STATUS.ok, { message_id: answered(held.id, this.profile) });
    this.schedule(held);
  }

  private throttled(): boolean {
    if (this.profile.throttle === 0) return false;
    const second = Math.floor(Date.now() / 1000);
    if (second !== this.second) {
      this.second = second;
      this.inSecond = 0;
    }
    this.inSecond += 1;
    return this.inSecond > this.profile.throttle;
  }

  private later(ms: number, act: () => void): void {
    const timer = setTimeout(() => {
      this.coming.delete(timer);
      act();
    }, ms);
    this.coming.set(timer, { at: this.options.now() + ms, act });
  }

  /** The carrier's clock was moved: whatever was to come by now comes, in its order. */
  moved(): void {
    const due = [...this.coming].filter(([, { at }]) => at <= this.options.now());
    for (const [timer, { act }] of due.sort(([, a], [, b]) => a.at - b.at)) {
      clearTimeout(timer);
      this.coming.delete(timer);
      act();
    }
  }

  private schedule(held: Held): void {
    const outcome = fate(this.profile, held.fields.destination_addr);
    this.states.set(held.id, 'ENROUTE');
    const wait = latency(this.profile, held.fields.destination_addr, held.id);
    const off = outcome.kind === 'off' ? outcome.ms : wait;
    // §5.2.16: what could not be delivered by then is given up
    const validity = readRelativeTime(held.fields.validity_period);
    if (outcome.kind === 'not_delivered') this.later(wait, () => this.finish(held, 'UNDELIV', outcome.error));
    else if (validity !== undefined && off > validity) this.later(validity, () => this.finish(held, 'EXPIRED', '000'));
    else this.later(off, () => this.finish(held, 'DELIVRD', '000'));
  }

  private finish(held: Held, state: MessageState, error: string): void {
    const at = this.options.now();
    this.states.set(held.id, state);
    this.journal.write({ what: 'final', id: held.id, at: new Date(at).toISOString(), state });
    if (state === 'DELIVRD') this.phones.arrive(held.fields, new Date(at).toISOString());
    if ((held.fields.registered_delivery & 1) === 0) return;
    if (chance(this.profile.seed, 'missing', held.id) < this.profile.missing) {
      this.journal.write({ what: 'receipt', id: held.id });
      return;
    }
    const times = chance(this.profile.seed, 'double', held.id) < this.profile.doubled ? 2 : 1;
    const text = writeReceipt({
      id: receipted(held.id, this.profile),
      state,
      error,
      submitted: receiptDate(held.at),
      done: receiptDate(at),
      text: '',
    });
    const offer = () => {
      for (let time = 0; time < times; time += 1) void this.sendReceipt(held, text, state);
    };
    this.receipts.set(held.id, offer);
    offer();
  }

  private async sendReceipt(held: Held, text: string, state: MessageState): Promise<void> {
    const session = [...this.bound].find((each) => each.free > 0);
    if (!session) {
      if (this.bound.size > 0) this.later(20, () => void this.sendReceipt(held, text, state));
      return; // offered again at the next bind
    }
    const answer = await session
      .request({
        command: 'deliver_sm',
        status: 0,
        fields: fromPhone(
          held.fields.destination_addr,
          held.fields.source_addr,
          0x04,
          0,
          Buffer.from(this.profile.receiptsAs === 'fields' ? '' : text, 'latin1'),
        ),
        tlvs: {
          ...(this.profile.receiptsAs !== 'text' && {
            receipted_message_id: answered(held.id, this.profile),
            message_state: MESSAGE_STATE[state],
          }),
          user_message_reference: this.profile.echoReference ? held.reference : undefined,
        },
      })
      .catch(() => undefined);
    if (answer?.status === STATUS.ok && this.receipts.delete(held.id))
      this.journal.write({ what: 'receipt', id: held.id, at: new Date(this.options.now()).toISOString() });
    else if (answer && answer.status !== STATUS.ok) this.later(500, () => void this.sendReceipt(held, text, state));
  }

  private async offerInbound(inbound: Inbound): Promise<void> {
    const session = [...this.bound][0];
    if (!session || !this.inbound.has(inbound.id)) return;
    // a long text comes in several parts, as a phone sends it
    inbound.reference ??= this.joinReference += 1;
    for (const { esm_class, data_coding, short_message, tlvs } of spoken(
      inbound.text,
      this.dialectOf(inbound.number),
      inbound.reference,
    )) {
      const fields = fromPhone(inbound.number, inbound.to, esm_class, data_coding, short_message);
      const named = this.profile.namesTexts ? { ...tlvs, receipted_message_id: inbound.id } : tlvs;
      const answer = await session.request({ command: 'deliver_sm', status: 0, fields, tlvs: named }).catch(() => undefined);
      if (answer?.status === STATUS.ok) continue;
      // not taken on: offered again in a while, or at the next bind
      if (answer) this.later(500, () => void this.offerInbound(inbound));
      return;
    }
    if (this.inbound.delete(inbound.id)) this.journal.write({ what: 'inbound_taken', id: inbound.id });
  }

  private offerEverything(): void {
    for (const offer of [...this.receipts.values()]) offer();
    for (const inbound of [...this.inbound.values()]) void this.offerInbound(inbound);
  }
}

/** Our ids end in a counter; where a carrier's are numbers they are that number, in the form of its answers or of its receipts. */
const numeric = (id: string) => [...id.slice(1)].reduce((sum, digit) => sum * 36n + BigInt(Number.parseInt(digit, 36)), 0n);
const answered = (id: string, { receiptIds }: Profile) =>
  receiptIds === 'decimal' ? numeric(id).toString(16).toUpperCase() : receiptIds === 'hexadecimal' ? String(numeric(id)) : id;
const receipted = (id: string, { receiptIds }: Profile) =>
  receiptIds === 'decimal' ? String(numeric(id)) : receiptIds === 'hexadecimal' ? numeric(id).toString(16) : id;

function fromPhone(
  number: string,
  to: string,
  esm_class: number,
  data_coding: number,
  short_message: Uint8Array,
): ShortMessageFields {
  return {
    service_type: '',
    source_addr_ton: 1,
    source_addr_npi: 1,
    source_addr: number,
    dest_addr_ton: 0,
    dest_addr_npi: 1,
    destination_addr: to,
    esm_class,
    protocol_id: 0,
    priority_flag: 0,
    schedule_delivery_time: '',
    validity_period: '',
    registered_delivery: 0,
    replace_if_present_flag: 0,
    data_coding,
    sm_default_msg_id: 0,
    short_message,
  };
}

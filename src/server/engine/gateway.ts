import { EventEmitter } from 'node:events';
import { connect } from 'node:net';
import { nanoid } from 'nanoid';
import { isPassing, STATUS, statusWords } from '../../smpp/commands';
import { NoAnswer, Session, type SessionOptions } from '../../smpp/session';
import type { ShortMessageFields } from '../../smpp/pdu';
import { readReceipt, stateName } from '../../smpp/receipt-text';
import { readIncoming, type CarrierAlphabet, type Join } from '../../core/text/incoming';
import { answeredId, receiptedId, type ReceiptIds } from '../../smpp/message-id';
import type { TlvValues } from '../../smpp/commands';
import type { Receipt } from '../../core/line/entries';
import { sourceNumber } from '../../core/phone/source-number';

export interface CarrierAddress {
  host: string;
  port: number;
  systemId: string;
  password: string;
}

export type GatewayState = { state: 'connected' | 'connecting'; since: number; why: string };

/** What became of handing one part over. `unwritten` never left and is safe to try again; `lost` may have arrived. */
export type Handed =
  | { kind: 'accepted'; messageId: string }
  | { kind: 'refused'; reason: string }
  /** A trouble of the carrier that passes: slow down and try again. */
  | { kind: 'again'; reason: string }
  | { kind: 'unwritten' }
  | { kind: 'lost'; reason: string };

export interface TextIn {
  /** E.164 with the plus, or the address as it came when it is no number. */
  number: string;
  to: string;
  /** What it says; empty where it could not be read: then `octets` (hexadecimal) and `why` are there. */
  text: string;
  octets?: string;
  why?: string;
  /** SMPP data_coding. */
  coding?: number;
  /** When it is one of several parts (TS 23.040 §9.2.3.24). */
  join?: Join;
  /** The carrier's own id, where it gives one; the same text handed over again has the same. */
  carrierId?: string;
  /** The session it came by and its place there: handed over again after a broken line, it comes by another. */
  cameBy?: string;
}

/** How this carrier writes what it hands over; read anew with each session. */
export interface CarrierWays {
  alphabet: CarrierAlphabet;
  receiptIds: ReceiptIds;
}
export const USUAL_WAYS: CarrierWays = { alphabet: 'gsm7', receiptIds: 'same' };

interface Heard {
  /** Resolves once it is committed; only then is it acknowledged to the carrier. */
  receipt(receipt: Receipt): Promise<void>;
  text(text: TextIn): Promise<void>;
}

const BACKOFF = [250, 500, 1000, 2000, 5000, 10_000, 30_000];

/** Our side of the line to the carrier: one transceiver session at a time, made anew when it breaks. */
export class Gateway extends EventEmitter<{ state: [GatewayState] }> {
  private session: Session | undefined;
  private bound = false;
  private tries = 0;
  private stopped = false;
  private timer: NodeJS.Timeout | undefined;
  state: GatewayState;

  constructor(
    readonly address: CarrierAddress,
    private readonly heard: Heard,
    private readonly now: () => number,
    private readonly options: Partial<SessionOptions> = {},
    /** The workspace's country, for numbers that come without one. */
    private readonly country: () => string = () => 'US',
    private readonly ways: () => CarrierWays = () => USUAL_WAYS,
  ) {
    super();
    this.state = { state: 'connecting', since: now(), why: 'not connected yet' };
  }

  start(): void {
    this.open();
  }

  async stop(): Promise<void> {
    this.stopped = true;
    clearTimeout(this.timer);
    await this.session?.unbind();
  }

  async submit(fields: ShortMessageFields, reference: number): Promise<Handed> {
    if (!this.bound || !this.session) return { kind: 'unwritten' };
    try {
      const answer = await this.session.request({
        command: 'submit_sm',
        status: 0,
        fields,
        tlvs: { user_message_reference: reference },
      });
      if (answer.command === 'submit_sm_resp' && answer.status === STATUS.ok && answer.fields.message_id !== '')
        return { kind: 'accepted', messageId: answeredId(answer.fields.message_id, this.ways().receiptIds) };
      if (isPassing(answer.status)) return { kind: 'again', reason: statusWords(answer.status) };
      if (answer.status === STATUS.ok) return { kind: 'lost', reason: 'the carrier answered without an id' };
      return { kind: 'refused', reason: statusWords(answer.status) };
    } catch (error) {
      if (error instanceof NoAnswer)
        return error.written ? { kind: 'lost', reason: 'line broke before the carrier answered' } : { kind: 'unwritten' };
      if (error instanceof RangeError) return { kind: 'refused', reason: error.message };
      throw error;
    }
  }

  /**
   * Asks the carrier whether it ever took on a part whose answer was lost: its message id, `never` (its word that it
   * did not), or `unknown` (this carrier cannot say, or the line broke again).
   */
  async lookUp(number: string, reference: number): Promise<{ messageId: string } | 'never' | 'unknown'> {
    const answer = await this.session
      ?.request({
        command: 'query_sm',
        status: 0,
        fields: { message_id: '', source_addr_ton: 0, source_addr_npi: 0, source_addr: '' },
        tlvs: { lookup_number: number.replace(/^\+/, ''), user_message_reference: reference },
      })
      .catch(() => undefined);
    if (answer?.command !== 'query_sm_resp') return 'unknown';
    if (answer.status === STATUS.ok && answer.fields.message_id !== '')
      return { messageId: answeredId(answer.fields.message_id, this.ways().receiptIds) };
    return answer.status === STATUS.invalid_message_id ? 'never' : 'unknown';
  }

  private become(state: GatewayState['state'], why: string): void {
    if (this.state.state === state && this.state.why === why) return;
    this.state = { state, since: this.state.state === state ? this.state.since : this.now(), why };
    this.emit('state', this.state);
  }

  private open(): void {
    if (this.stopped) return;
    const socket = connect(this.address.port, this.address.host);
    const session = new Session(socket, this.options);
    const name = nanoid(8);
    this.session = session;
    session.on('closed', (reason) => this.lost(session, reason));
    session.on('request', (pdu) => {
      if (pdu.command !== 'deliver_sm') return session.respond(pdu, STATUS.invalid_command_id);
      this.deliver(pdu.fields, pdu.tlvs, `${name}:${pdu.sequence}`).then(
        () => session.respond(pdu, STATUS.ok),
        () => session.respond(pdu, STATUS.temporary_app_error), // not committed: the carrier keeps it
      );
    });
    socket.once('connect', () => void this.bind(session));
  }

  private async bind(session: Session): Promise<void> {
    try {
      const answer = await session.request({
        command: 'bind_transceiver',
        status: 0,
        fields: {
          system_id: this.address.systemId,
          password: this.address.password,
          system_type: '',
          interface_version: 0x34,
          addr_ton: 0,
          addr_npi: 0,
          address_range: '',
        },
      });
      if (answer.status !== STATUS.ok) return session.destroy(statusWords(answer.status));
      this.bound = true;
      this.tries = 0;
      this.become('connected', '');
    } catch {
      // the session's end is handled by `lost`
    }
  }

  private lost(session: Session, reason: string): void {
    if (session !== this.session) return;
    this.bound = false;
    this.session = undefined;
    if (this.stopped) return;
    this.become('connecting', reason);
    const wait = BACKOFF[Math.min(this.tries, BACKOFF.length - 1)];
    this.tries += 1;
    this.timer = setTimeout(() => this.open(), wait);
  }

  private async deliver(fields: ShortMessageFields, tlvs: TlvValues = {}, cameBy = ''): Promise<void> {
    const { alphabet, receiptIds } = this.ways();
    const isReceipt = (fields.esm_class & 0x3c) === 0x04; // SMPP v3.4 §5.2.12
    const number = sourceNumber(fields.source_addr, fields.source_addr_ton, this.country());
    if (!isReceipt) {
      const read = readIncoming({ ...fields, ...tlvs }, alphabet);
      return this.heard.text({
        number,
        to: fields.destination_addr,
        ...('text' in read ? { text: read.text } : { text: '', octets: read.octets, why: read.why }),
        coding: fields.data_coding,
        join: read.join,
        carrierId: tlvs.receipted_message_id,
        cameBy,
      });
    }
    // Appendix B has the receipt's words as the carrier writes them; what they are in does not matter to letters and figures
    const words = receiptWords(tlvs.message_payload?.length ? tlvs.message_payload : fields.short_message);
    const read = readReceipt(words);
    const messageId = receiptIds === 'same' || !read ? (tlvs.receipted_message_id ?? read?.id) : receiptedId(read.id, receiptIds);
    const state = stateName(tlvs.message_state) ?? read?.state;
    if (messageId === undefined || state === undefined) return; // a receipt that names no text tells nothing
    return this.heard.receipt({
      messageId: tlvs.receipted_message_id === messageId ? answeredId(messageId, receiptIds) : messageId,
      reference: tlvs.user_message_reference ?? null,
      number,
      state,
      error: read?.error ?? '',
    });
  }
}

/** The words of a receipt: its header aside, which some carriers put before it, ASCII in one octet each. */
function receiptWords(octets: Uint8Array): string {
  return Buffer.from(octets).toString('latin1');
}

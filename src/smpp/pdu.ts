import { COMMAND, TLV, type CommandName, type TlvName, type TlvValues } from './commands';
import { FIELDS } from './layouts';

/** Protocol data units of SMPP v3.4 §4, typed, to and from octets. */

export interface BindFields {
  system_id: string;
  password: string;
  system_type: string;
  interface_version: number;
  addr_ton: number;
  addr_npi: number;
  address_range: string;
}

/** Mandatory fields shared by submit_sm (§4.4.1) and deliver_sm (§4.6.1). */
export interface ShortMessageFields {
  service_type: string;
  source_addr_ton: number;
  source_addr_npi: number;
  source_addr: string;
  dest_addr_ton: number;
  dest_addr_npi: number;
  destination_addr: string;
  esm_class: number;
  protocol_id: number;
  priority_flag: number;
  schedule_delivery_time: string;
  validity_period: string;
  registered_delivery: number;
  replace_if_present_flag: number;
  data_coding: number;
  sm_default_msg_id: number;
  short_message: Uint8Array;
}

export interface QueryFields {
  message_id: string;
  source_addr_ton: number;
  source_addr_npi: number;
  source_addr: string;
}

export interface QueryAnswerFields {
  message_id: string;
  final_date: string;
  message_state: number;
  error_code: number;
}

interface Header<C extends CommandName> {
  command: C;
  status: number;
  sequence: number;
  tlvs?: TlvValues;
}

export type Pdu =
  | (Header<'bind_receiver' | 'bind_transmitter' | 'bind_transceiver'> & { fields: BindFields })
  | (Header<'bind_receiver_resp' | 'bind_transmitter_resp' | 'bind_transceiver_resp'> & { fields: { system_id: string } })
  | (Header<'submit_sm' | 'deliver_sm'> & { fields: ShortMessageFields })
  | (Header<'submit_sm_resp' | 'deliver_sm_resp'> & { fields: { message_id: string } })
  | (Header<'query_sm'> & { fields: QueryFields })
  | (Header<'query_sm_resp'> & { fields: QueryAnswerFields })
  | (Header<'enquire_link' | 'enquire_link_resp' | 'unbind' | 'unbind_resp' | 'generic_nack'> & {
      fields: Record<string, never>;
    });

const NAMES = new Map<number, CommandName>(Object.entries(COMMAND).map(([name, id]) => [id, name as CommandName]));
const TLV_NAMES = new Map<number, TlvName>(Object.entries(TLV).map(([name, { tag }]) => [tag, name as TlvName]));

/** Octets of the header, and the most we accept of one PDU: an unframed stream must not fill the memory. */
export const HEADER = 16;
export const LONGEST = 64 * 1024;

/** The bytes do not make a PDU. `sequence` (when it could be read) is what a generic_nack answers to. */
export class MalformedPdu extends Error {
  constructor(
    message: string,
    readonly status: number,
    readonly sequence: number,
  ) {
    super(message);
    this.name = 'MalformedPdu';
  }
}

/** The response command of a request, or undefined for what is itself a response. */
export function responseOf(command: CommandName): CommandName | undefined {
  return COMMAND[command] & 0x80000000 ? undefined : NAMES.get((COMMAND[command] | 0x80000000) >>> 0);
}

/**
 * One whole PDU (as framed by its command_length).
 * @throws MalformedPdu naming the field that is cut short or not terminated
 */
export function decodePdu(octets: Buffer): Pdu {
  const sequence = octets.length >= HEADER ? octets.readUInt32BE(12) : 0;
  if (octets.length < HEADER || octets.readUInt32BE(0) !== octets.length)
    throw new MalformedPdu('command_length does not fit the PDU', 0x02, sequence);
  const command = NAMES.get(octets.readUInt32BE(4));
  if (!command) throw new MalformedPdu(`command_id 0x${octets.readUInt32BE(4).toString(16)} is not known`, 0x03, sequence);
  const status = octets.readUInt32BE(8);
  const fields: Record<string, string | number | Uint8Array> = {};
  let at = HEADER;
  const cut = (name: string) => new MalformedPdu(`${command}: ${name} is cut short`, 0x02, sequence);
  // a response with an error may come without its body (§4.1.2, §4.4.2)
  const bodiless = at === octets.length && (COMMAND[command] & 0x80000000) !== 0;
  for (const [name, type] of FIELDS[command]) {
    if (bodiless) {
      fields[name] = type === 'int8' ? 0 : type === 'short_message' ? new Uint8Array() : '';
    } else if (type === 'int8') {
      if (at >= octets.length) throw cut(name);
      fields[name] = octets[at];
      at += 1;
    } else if (type === 'short_message') {
      if (at >= octets.length || at + 1 + octets[at] > octets.length) throw cut(name);
      fields[name] = new Uint8Array(octets.subarray(at + 1, at + 1 + octets[at]));
      at += 1 + octets[at];
    } else {
      const end = octets.indexOf(0, at);
      if (end < 0 || end - at >= type.cstring) throw cut(name);
      fields[name] = end === at ? '' : octets.toString('latin1', at, end);
      at = end + 1;
    }
  }
  const tlvs: Record<string, string | number | Uint8Array> = {};
  while (at < octets.length) {
    if (at + 4 > octets.length) throw cut('an optional parameter');
    const name = TLV_NAMES.get(octets.readUInt16BE(at));
    const length = octets.readUInt16BE(at + 2);
    const value = octets.subarray(at + 4, at + 4 + length);
    if (value.length < length) throw cut(name ?? 'an optional parameter');
    at += 4 + length;
    if (!name) continue; // §3.3: unknown optional parameters are ignored
    const { type } = TLV[name];
    if (type === 'int8' && length === 1) tlvs[name] = value[0];
    else if (type === 'int16' && length === 2) tlvs[name] = value.readUInt16BE(0);
    else if (type === 'cstring') tlvs[name] = value.toString('latin1').replace(/\0.*$/s, '');
    else if (type === 'octets') tlvs[name] = new Uint8Array(value);
    else throw new MalformedPdu(`${command}: ${name} has ${length} octets`, 0xc2, sequence);
  }
  return { command, status, sequence, fields, tlvs } as unknown as Pdu;
}

/** Cuts a byte stream into PDUs. A length that cannot be is unrecoverable: the stream has lost its framing. */
export class Framer {
  private held: Buffer = Buffer.alloc(0);

  /** @throws MalformedPdu when command_length is below the header or above the longest accepted */
  *push(chunk: Buffer): Generator<Buffer> {
    this.held = this.held.length === 0 ? chunk : Buffer.concat([this.held, chunk]);
    let at = 0;
    while (this.held.length - at >= 4) {
      const length = this.held.readUInt32BE(at);
      if (length < HEADER || length > LONGEST) throw new MalformedPdu(`command_length ${length} cannot be`, 0x02, 0);
      if (this.held.length - at < length) break;
      yield this.held.subarray(at, at + length);
      at += length;
    }
    this.held = this.held.subarray(at);
  }
}

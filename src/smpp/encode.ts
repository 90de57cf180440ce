import { COMMAND, TLV, type TlvName } from './commands';
import { FIELDS, type FieldType } from './layouts';
import { HEADER, type Pdu } from './pdu';

/** Octets are put together here, one PDU at a time: dozens of small buffers for each text took more than all else that is done with it. */
let sheet = Buffer.alloc(1024);

/** Room for so many octets from `at` on. */
function room(at: number, octets: number): void {
  if (at + octets <= sheet.length) return;
  const larger = Buffer.alloc(Math.max(sheet.length * 2, at + octets));
  sheet.copy(larger);
  sheet = larger;
}

/** A C-octet string with its NUL (§3.1); gives where it ends. */
function writeString(text: string, at: number): number {
  room(at, text.length + 1);
  const end = at + sheet.write(text, at, 'latin1');
  sheet[end] = 0;
  return end + 1;
}

function writeOctets(octets: Uint8Array, at: number): number {
  room(at, octets.length);
  sheet.set(octets, at);
  return at + octets.length;
}

function writeField(name: string, type: FieldType, value: string | number | Uint8Array, at: number): number {
  if (type === 'int8') {
    room(at, 1);
    sheet[at] = Number(value);
    return at + 1;
  }
  if (type === 'short_message') {
    const octets = value as Uint8Array;
    if (octets.length > 254) throw new RangeError(`short_message has ${octets.length} octets; at most 254 fit (§5.2.22).`);
    room(at, 1);
    sheet[at] = octets.length;
    return writeOctets(octets, at + 1);
  }
  const text = String(value);
  if (text.length >= type.cstring) throw new RangeError(`${name} has ${text.length} octets; at most ${type.cstring - 1} fit.`);
  const end = writeString(text, at);
  // also a character whose lower half is one
  if (sheet.subarray(at, end - 1).includes(0)) throw new RangeError(`${name} holds a NUL.`);
  return end;
}

/** §3.2.4: tag, length, value. */
function writeTlv(name: TlvName, value: string | number | Uint8Array, at: number): number {
  const { tag, type } = TLV[name];
  room(at, 6);
  let end = at + 4;
  if (type === 'int8') {
    sheet[end] = Number(value);
    end += 1;
  } else if (type === 'int16') {
    sheet[end] = Number(value) >> 8;
    sheet[end + 1] = Number(value);
    end += 2;
  } else end = type === 'cstring' ? writeString(String(value), end) : writeOctets(value as Uint8Array, end);
  sheet.writeUInt16BE(tag, at);
  sheet.writeUInt16BE(end - at - 4, at + 2);
  return end;
}

/** §3.2: header (length, id, status, sequence; 4 octets each, big-endian), mandatory fields, optional parameters. */
export function encodePdu(pdu: Pdu): Buffer {
  const fields = pdu.fields as Record<string, string | number | Uint8Array>;
  let at = HEADER;
  // §4.4.2: a submit_sm_resp with an error carries no body
  if (pdu.command !== 'submit_sm_resp' || pdu.status === 0)
    for (const [name, type] of FIELDS[pdu.command]) at = writeField(name, type, fields[name], at);
  if (pdu.tlvs)
    for (const [name, value] of Object.entries(pdu.tlvs) as [TlvName, string | number | Uint8Array | undefined][])
      if (value !== undefined) at = writeTlv(name, value, at);
  sheet.writeUInt32BE(at, 0);
  sheet.writeUInt32BE(COMMAND[pdu.command], 4);
  sheet.writeUInt32BE(pdu.status, 8);
  sheet.writeUInt32BE(pdu.sequence, 12);
  return Buffer.from(sheet.subarray(0, at));
}

import { createServer, connect, type Server, type Socket } from 'node:net';
import fc from 'fast-check';
import { afterEach, describe, expect, test } from 'vitest';
import smpp from 'smpp';
import { COMMAND, MESSAGE_STATE, type CommandName } from './commands';
import { encodePdu } from './encode';
import { decodePdu, Framer, MalformedPdu, type Pdu, type ShortMessageFields } from './pdu';
import { readReceipt, receiptDate, writeReceipt } from './receipt-text';
import { NoAnswer, Session } from './session';

const message: ShortMessageFields = {
  service_type: '',
  source_addr_ton: 3,
  source_addr_npi: 1,
  source_addr: '72345',
  dest_addr_ton: 1,
  dest_addr_npi: 1,
  destination_addr: '12075550142',
  esm_class: 0x40,
  protocol_id: 0,
  priority_flag: 1,
  schedule_delivery_time: '',
  validity_period: '000000020000000R',
  registered_delivery: 1,
  replace_if_present_flag: 0,
  data_coding: 8,
  sm_default_msg_id: 0,
  short_message: Uint8Array.of(5, 0, 3, 7, 2, 1, 0x00, 0xea),
};

describe('PDUs', () => {
  // SMPP v3.4 §3.2.2's example (47 octets; from memory, read alike by the `smpp` package below).
  const example = Buffer.from(
    '0000002F000000020000000000000001534D50503354455354007365637265743038005355424D4954310000010100',
    'hex',
  );

  test("the specification's bind_transmitter example, both ways", () => {
    const pdu = decodePdu(example);
    expect(pdu).toMatchObject({
      command: 'bind_transmitter',
      sequence: 1,
      fields: {
        system_id: 'SMPP3TEST',
        password: 'secret08',
        system_type: 'SUBMIT1',
        interface_version: 0,
        addr_ton: 1,
        addr_npi: 1,
        address_range: '',
      },
    });
    expect(encodePdu(pdu).equals(example)).toBe(true);
    expect(new smpp.PDU(example)).toMatchObject({
      command: 'bind_transmitter',
      system_id: 'SMPP3TEST',
      password: 'secret08',
      system_type: 'SUBMIT1',
    });
  });

  test('ours are read by the smpp package', () => {
    const theirs = new smpp.PDU(
      encodePdu({ command: 'submit_sm', status: 0, sequence: 77, fields: message, tlvs: { user_message_reference: 4711 } }),
    );
    expect(theirs).toMatchObject({
      command: 'submit_sm',
      sequence_number: 77,
      source_addr: '72345',
      destination_addr: '12075550142',
      esm_class: 0x40,
      data_coding: 8,
      registered_delivery: 1,
      user_message_reference: 4711,
    });
  });

  test("the smpp package's are read by us", () => {
    const octets = new smpp.PDU('deliver_sm', {
      sequence_number: 9,
      source_addr: '12075550142',
      destination_addr: '72345',
      esm_class: 4,
      short_message: Buffer.from('id:ab12 stat:DELIVRD err:000 text:'),
      receipted_message_id: 'ab12',
      message_state: MESSAGE_STATE.DELIVRD,
      user_message_reference: 65535,
    }).toBuffer();
    const pdu = decodePdu(octets);
    expect(pdu).toMatchObject({
      command: 'deliver_sm',
      sequence: 9,
      fields: { source_addr: '12075550142', esm_class: 4 },
      tlvs: { receipted_message_id: 'ab12', message_state: 2, user_message_reference: 65535 },
    });
    const bare = decodePdu(new smpp.PDU('submit_sm_resp', { sequence_number: 3, message_id: 'x9' }).toBuffer());
    expect(bare).toMatchObject({ command: 'submit_sm_resp', fields: { message_id: 'x9' } });
  });

  test('every command keeps its fields through encoding and decoding', () => {
    const ascii = (max: number) => fc.string({ unit: fc.constantFrom(...'abcXYZ019+-_'), maxLength: max });
    const octet = fc.integer({ min: 0, max: 255 });
    const short = fc.record({
      service_type: ascii(5),
      source_addr_ton: octet,
      source_addr_npi: octet,
      source_addr: ascii(20),
      dest_addr_ton: octet,
      dest_addr_npi: octet,
      destination_addr: ascii(20),
      esm_class: octet,
      protocol_id: octet,
      priority_flag: octet,
      schedule_delivery_time: ascii(16),
      validity_period: ascii(16),
      registered_delivery: octet,
      replace_if_present_flag: octet,
      data_coding: octet,
      sm_default_msg_id: octet,
      short_message: fc.uint8Array({ maxLength: 254 }),
    });
    fc.assert(
      fc.property(
        short,
        fc.integer({ min: 1, max: 0x7fffffff }),
        fc.constantFrom<'submit_sm' | 'deliver_sm'>('submit_sm', 'deliver_sm'),
        (fields, sequence, command) => {
          const pdu: Pdu = { command, status: 0, sequence, fields, tlvs: { user_message_reference: sequence & 0xffff } };
          expect(decodePdu(encodePdu(pdu))).toEqual(pdu);
        },
      ),
    );
  });

  test('fuzzed bytes are decoded or refused as malformed, never anything else', () => {
    const ids = Object.values(COMMAND);
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 200 }), fc.constantFrom(...ids), fc.boolean(), (noise, id, lie) => {
        const octets = Buffer.alloc(16 + noise.length);
        octets.writeUInt32BE(lie ? octets.length + 1 : octets.length, 0);
        octets.writeUInt32BE(id, 4);
        octets.set(noise, 16);
        try {
          decodePdu(octets);
        } catch (error) {
          expect(error).toBeInstanceOf(MalformedPdu);
        }
      }),
      { numRuns: 2000 },
    );
  });

  test('framing does not depend on how the stream is cut', () => {
    const stream = Buffer.concat(
      [1, 2, 3].map((sequence) => encodePdu({ command: 'submit_sm', status: 0, sequence, fields: message })),
    );
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 90 }), { minLength: 1 }), (sizes) => {
        const framer = new Framer();
        const frames: Buffer[] = [];
        for (let at = 0, i = 0; at < stream.length; i += 1) {
          const size = sizes[i % sizes.length];
          frames.push(...[...framer.push(stream.subarray(at, at + size))].map((frame) => Buffer.from(frame)));
          at += size;
        }
        expect(Buffer.concat(frames).equals(stream)).toBe(true);
        expect(frames).toHaveLength(3);
      }),
    );
    expect(() => [...new Framer().push(Buffer.from('000000050000', 'hex'))]).toThrow(MalformedPdu);
    expect(() => [...new Framer().push(Buffer.from('7fffffff0000', 'hex'))]).toThrow(MalformedPdu);
  });
});

describe('receipt text (Appendix B)', () => {
  test('written and read', () => {
    const text = writeReceipt({
      id: '0a1b',
      state: 'UNDELIV',
      error: '027',
      submitted: receiptDate(Date.UTC(2026, 11, 2, 20, 50)),
      done: '2612022051',
      text: 'Heron out of service on Thursday',
    });
    expect(text).toBe(
      'id:0a1b sub:001 dlvrd:000 submit date:2612022050 done date:2612022051 stat:UNDELIV err:027 text:Heron out of service',
    );
    expect(readReceipt(text)).toEqual({ id: '0a1b', state: 'UNDELIV', error: '027' });
  });
  test('a text that is no receipt is none', () => {
    expect(readReceipt('stat: what is the id: of the boat')).toBeUndefined();
    expect(readReceipt('id:7 stat:NOSUCH')).toBeUndefined();
  });
});

describe('sessions', () => {
  const open: (Server | Socket | Session)[] = [];
  afterEach(() => {
    for (const each of open.splice(0))
      if ('destroy' in each) each.destroy();
      else each.close();
  });

  async function pair(serve: (session: Session, socket: Socket) => void, options = {}): Promise<Session> {
    const server = createServer((socket) => {
      const session = new Session(socket, { enquireAfter: 60_000 });
      open.push(session);
      serve(session, socket);
    });
    open.push(server);
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    const address = server.address();
    if (!address || typeof address === 'string') throw new Error('no port');
    const socket = connect(address.port, '127.0.0.1');
    const session = new Session(socket, options);
    open.push(session);
    return session;
  }
  const submit = { command: 'submit_sm', status: 0, fields: message } as const;

  test('requests are answered in any order', async () => {
    const held: Pdu[] = [];
    const client = await pair((session) =>
      session.on('request', (pdu) => {
        held.push(pdu);
        if (held.length === 3) for (const each of held.reverse()) session.respond(each, 0, { message_id: `m${each.sequence}` });
      }),
    );
    const answers = await Promise.all([client.request(submit), client.request(submit), client.request(submit)]);
    expect(answers.map((answer) => (answer.fields as { message_id: string }).message_id)).toEqual(['m1', 'm2', 'm3']);
  });

  test('a cut line: what was written is told from what was not', async () => {
    const client = await pair((session) => session.on('request', () => session.destroy()));
    const lost: unknown = await client.request(submit).catch((error: unknown) => error);
    expect(lost).toBeInstanceOf(NoAnswer);
    expect(lost).toMatchObject({ written: true });
    await expect(client.request(submit)).rejects.toMatchObject({ written: false });
    expect(client.free).toBe(0);
  });

  test('no answer in time ends the session', async () => {
    const client = await pair(() => undefined, { responseTimeout: 40 });
    await expect(client.request(submit)).rejects.toMatchObject({ written: true });
    expect(client.closed).toBe(true);
  });

  test('silence is asked about', async () => {
    let asked = 0;
    const client = await pair((_session, socket) => socket.on('data', () => (asked += 1)), { enquireAfter: 60 });
    await new Promise<void>((resolve) => {
      const look = setInterval(() => {
        if (asked === 0) return;
        clearInterval(look);
        resolve();
      }, 5);
    });
    expect(client.closed).toBe(false);
  });

  test('malformed PDUs are refused with generic_nack and the session goes on; lost framing ends it', async () => {
    const back: Pdu[] = [];
    const server = createServer((socket) => open.push(new Session(socket)));
    open.push(server);
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    const address = server.address();
    if (!address || typeof address === 'string') throw new Error('no port');
    const raw = connect(address.port, '127.0.0.1');
    open.push(raw);
    const framer = new Framer();
    const heard = new Promise<void>((resolve) => {
      raw.on('data', (chunk) => {
        for (const octets of framer.push(chunk)) back.push(decodePdu(Buffer.from(octets)));
      });
      raw.on('close', () => resolve());
    });
    raw.write(Buffer.from('00000014000000040000000000000009aabbccdd', 'hex')); // submit_sm cut short
    raw.write(Buffer.from('0000001012345678000000000000000a', 'hex')); // no such command
    raw.write(encodePdu({ command: 'enquire_link', status: 0, sequence: 11, fields: {} }));
    raw.write(Buffer.from('00000003', 'hex')); // length that cannot be
    await heard;
    expect(back.map((pdu): [CommandName, number] => [pdu.command, pdu.sequence])).toEqual([
      ['generic_nack', 9],
      ['generic_nack', 10],
      ['enquire_link_resp', 11],
      ['generic_nack', 0],
    ]);
  });
});

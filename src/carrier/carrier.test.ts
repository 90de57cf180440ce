import { connect } from 'node:net';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, describe, expect, test } from 'vitest';
import { airParts, readPart } from '../core/text/air';
import { measure } from '../core/text/measure';
import { STATUS } from '../smpp/commands';
import type { Pdu, ShortMessageFields } from '../smpp/pdu';
import { Session } from '../smpp/session';
import { readJournal } from './journal';
import { MessageCenter } from './message-center';
import { DEMO_PROFILE, type Profile } from './profile';

const closing: (() => Promise<void> | void)[] = [];
afterEach(async () => {
  for (const close of closing.splice(0).reverse()) await close();
});

/** The carrier's clock; a test may move it. */
let ahead = 0;
async function center(profile: Partial<Profile> = {}, journal = join(mkdtempSync(join(tmpdir(), 'carrier-')), 'journal')) {
  ahead = 0;
  const made = new MessageCenter({
    host: '127.0.0.1',
    port: 0,
    journal,
    systemId: 'bell',
    password: 'practice',
    now: () => Date.UTC(2026, 11, 2, 20, 50) + ahead,
    profile: { ...DEMO_PROFILE, outcomes: 'delivered', latency: [0, 5], doubled: 0, ...profile },
  });
  const port = await made.listen();
  closing.push(() => made.close());
  return { made, port, journal };
}

async function bind(port: number, password = 'practice') {
  const session = new Session(connect(port, '127.0.0.1'));
  closing.push(() => session.destroy());
  const heard: Pdu[] = [];
  let wake: () => void = () => undefined;
  session.on('request', (pdu) => {
    heard.push(pdu);
    session.respond(pdu, STATUS.ok);
    wake();
  });
  const answer = await session.request({
    command: 'bind_transceiver',
    status: 0,
    fields: {
      system_id: 'bell',
      password,
      system_type: '',
      interface_version: 0x34,
      addr_ton: 0,
      addr_npi: 0,
      address_range: '',
    },
  });
  const until = async (count: number) => {
    while (heard.length < count) await new Promise<void>((resolve) => (wake = resolve));
    return heard;
  };
  return { session, heard, until, status: answer.status };
}

const fields = (
  destination_addr: string,
  part: { esm_class: number; data_coding: number; short_message: Uint8Array },
): ShortMessageFields => ({
  service_type: '',
  source_addr_ton: 3,
  source_addr_npi: 1,
  source_addr: '72345',
  dest_addr_ton: 1,
  dest_addr_npi: 1,
  destination_addr,
  protocol_id: 0,
  priority_flag: 0,
  schedule_delivery_time: '',
  validity_period: '',
  registered_delivery: 1,
  replace_if_present_flag: 0,
  sm_default_msg_id: 0,
  ...part,
});

describe('the message center', () => {
  test('refuses a wrong password and unbound texts', async () => {
    const { port } = await center();
    expect((await bind(port, 'wrong')).status).toBe(STATUS.invalid_password);
    const { session } = await bind(port, 'wrong');
    const answer = await session.request({
      command: 'submit_sm',
      status: 0,
      fields: fields('12075550142', airParts('hi', 'gsm7', 1)[0]),
    });
    expect(answer.status).toBe(STATUS.not_bound);
  });

  test('a long text is joined on the phone and each part has its receipt, with our reference', async () => {
    const { made, port, journal } = await center();
    const { session, until } = await bind(port);
    const text = `Élodie: the 7:10 AM Heron – ${'out of service '.repeat(8)}`;
    const parts = airParts(text, measure(text).alphabet, 9);
    expect(parts.length).toBe(3);
    for (const [i, part] of parts.entries()) {
      await session.request({
        command: 'submit_sm',
        status: 0,
        fields: fields('12075550142', part),
        tlvs: { user_message_reference: 100 + i },
      });
    }
    const receipts = await until(3);
    expect(receipts.map((pdu) => pdu.tlvs?.user_message_reference).sort()).toEqual([100, 101, 102]);
    expect(made.phones.get('12075550142')?.texts).toMatchObject([{ text, arrived: 3, total: 3 }]);
    expect(readJournal(journal).filter((line) => line.what === 'submit')).toHaveLength(3);
  });

  test('after a restart, texts without an acknowledged receipt get one; a torn last line is dropped', async () => {
    const first = await center({ latency: [60_000, 60_000] });
    const one = await bind(first.port);
    await one.session.request({ command: 'submit_sm', status: 0, fields: fields('12075550142', airParts('hi', 'gsm7', 1)[0]) });
    await first.made.close();
    closing.length = 0;
    const { appendFileSync } = await import('node:fs');
    appendFileSync(first.journal, '{"what":"submit","id":"m');
    const again = await center({}, first.journal);
    const { until } = await bind(again.port);
    const [receipt] = await until(1);
    expect(receipt.tlvs?.message_state).toBe(2);
    expect(again.made.phones.get('12075550142')?.texts[0].text).toBe('hi');
  });

  test('when its clock is moved on, what was to come by then comes, and what comes later does not', async () => {
    const { made, port } = await center({ latency: [60_000, 60_000] });
    const { session, heard, until } = await bind(port);
    const [part] = airParts('hi', 'gsm7', 1);
    const submit = (number: string) => session.request({ command: 'submit_sm', status: 0, fields: fields(number, part) });
    await submit('12075550142');
    ahead = 30_000;
    made.moved();
    await submit('12075550143');
    ahead = 60_000;
    made.moved();
    expect((await until(1))[0].tlvs?.message_state).toBe(2);
    // a word from the other end is behind whatever was sent before it
    await session.request({ command: 'enquire_link', status: 0, fields: {} });
    expect(heard).toHaveLength(1);
    ahead = 90_000;
    made.moved();
    expect(await until(2)).toHaveLength(2);
  });

  test('throttles, answers queries, and passes on what a phone writes', async () => {
    const { made, port } = await center({ throttle: 1, latency: [0, 0] });
    const { session, until } = await bind(port);
    const submit = () =>
      session.request({ command: 'submit_sm', status: 0, fields: fields('12075550143', airParts('a', 'gsm7', 1)[0]) });
    const answers = await Promise.all([submit(), submit(), submit(), submit()]);
    expect(answers.some((answer) => answer.status === STATUS.throttled)).toBe(true);
    const accepted = answers.find((answer) => answer.status === 0);
    await until(1);
    const id = accepted?.command === 'submit_sm_resp' ? accepted.fields.message_id : '';
    const query = await session.request({
      command: 'query_sm',
      status: 0,
      fields: { message_id: id, source_addr_ton: 0, source_addr_npi: 0, source_addr: '72345' },
    });
    expect(query).toMatchObject({ command: 'query_sm_resp', fields: { message_state: 2 } });
    made.textFromPhone('12075550143', '72345', 'merci ça va');
    const heard = await until(2);
    const last = heard[heard.length - 1];
    expect(last.command === 'deliver_sm' && readPart(last.fields).text).toBe('merci ça va');
  });
});

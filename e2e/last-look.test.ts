import { join } from 'node:path';
import smpp from 'smpp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { readJournal } from '../src/carrier/journal';
import { Desk, until } from '../harness/desk';
import { forget, freshDemo, type Demo } from '../harness/demo';

/** The plan shown in the last look against what the phones got, decoded by a second implementation (the smpp package). */
let demo: Demo;
let desk: Desk;
beforeAll(async () => {
  demo = await freshDemo({ CARRIER_PROFILE: '{"outcomes":"delivered","latency":[5,60]}' });
  desk = await new Desk(demo.url).signIn();
});
afterAll(async () => {
  await demo.stop();
  forget(demo);
});

interface Proof {
  person_id: number;
  number: string;
  text: string;
  parts: number;
  due: string;
}

/** Parts of the journal joined to texts: number → words, parts, minute. The joining header is read by hand from the octets. */
function received(journal: string, since: number): Map<string, { text: string; parts: number; at: string }[]> {
  const got = new Map<string, { text: string; parts: number; at: string }[]>();
  const joining = new Map<string, { pieces: string[]; at: string; total: number }>();
  for (const line of readJournal(journal).slice(since)) {
    if (line.what !== 'submit') continue;
    const pdu = new smpp.PDU(Buffer.from(line.pdu, 'hex'));
    const number = `+${String(pdu.destination_addr)}`;
    const message = pdu.short_message as { udh?: Buffer[]; message: string };
    const header = message.udh?.[0];
    const add = (text: string, parts: number, at: string) => got.set(number, [...(got.get(number) ?? []), { text, parts, at }]);
    if (!header) {
      add(message.message, 1, line.at);
      continue;
    }
    const [reference, total, index] = [header[2], header[3], header[4]];
    const key = `${number}|${reference}`;
    const joined = joining.get(key) ?? { pieces: [], at: line.at, total };
    joined.pieces[index - 1] = message.message;
    joining.set(key, joined);
    if (joined.pieces.filter((piece) => piece !== undefined).length === total) {
      add(joined.pieces.join(''), total, joined.at);
      joining.delete(key);
    }
  }
  return got;
}

describe('last look = what the phones got', () => {
  test('over everyone in the demo, with people edited, opted out and erased between press and due time', async () => {
    const journal = join(demo.folder, 'carrier.journal');
    const sender = (
      await desk.ask<{ id: number }>('POST', '/api/setup/senders', {
        name: 'Fast',
        kind: 'short',
        address: '72398',
        parts_per_second: 1000,
      })
    ).id;
    const { id } = await desk.ask<{ id: number }>('POST', '/api/broadcasts', { name: 'Everyone' });
    const made = await desk.ask<{ draft: Record<string, unknown>; version: number }>('GET', `/api/broadcasts/${id}`);
    const draft = {
      ...made.draft,
      sender_id: sender,
      to: [{ kind: 'everyone' }],
      // two of them must not hear about a dependant, and this is about none
      barred: 'get_it',
      words:
        '{given_name or "neighbor"}: the 7:10 AM Heron from {home_landing or "the quay"} is off {send_date as "EEEE, d MMMM"} – dès 5 h… Ottermere Ferry',
      when: { kind: 'at', date: '2026-12-02', time: '16:30' },
    };
    const { version } = await desk.ask<{ version: number }>('PUT', `/api/broadcasts/${id}`, {
      name: 'Everyone',
      draft,
      version: made.version,
    });
    const look = await desk.ask<{
      digest: string;
      plan: { people: number; parts: number; cost_micro: number; must_fix: unknown[] };
    }>('POST', `/api/broadcasts/${id}/plan`, { draft });
    expect(look.plan.must_fix).toEqual([]);
    expect(look.plan.people).toBeGreaterThan(2000);
    const planned = new Map<string, Proof>();
    const all = await desk.ask<{ total: number; proofs: Proof[] }>('POST', `/api/broadcasts/${id}/proofs`, { draft });
    for (const proof of all.proofs) planned.set(proof.number, proof);
    expect(planned.size).toBe(look.plan.people);
    const { run_id } = await desk.ask<{ run_id: number }>('POST', `/api/broadcasts/${id}/press`, {
      version,
      digest: look.digest,
      press_id: 'last-look-test-1',
    });

    // between press and due time the world moves
    const proofs = [...planned.values()];
    const [stopper, mover, gone, renamed] = proofs;
    await desk.ask('POST', `/api/phones/${stopper.number.slice(1)}/text`, { to: '72398', text: 'STOP' });
    const person = async (proof: Proof) =>
      (await desk.ask<{ person: Record<string, unknown> }>('GET', `/api/people/${proof.person_id}`)).person;
    const body = (p: Record<string, unknown>, more: Record<string, unknown>) => ({
      given_name: p.given_name,
      family_name: p.family_name,
      number: p.number ?? '',
      reference: p.reference ?? '',
      language: p.language ?? '',
      zone: '',
      fields: p.fields,
      ...more,
    });
    await desk.ask('PUT', `/api/people/${mover.person_id}`, body(await person(mover), { number: '+15715550123' }));
    await desk.ask('DELETE', `/api/people/${gone.person_id}`);
    await desk.ask(
      'PUT',
      `/api/people/${renamed.person_id}`,
      body(await person(renamed), { given_name: 'Changed after the press' }),
    );
    await until(
      async () => (await desk.ask<{ tally: Record<string, number> }>('GET', `/api/runs/${run_id}`)).tally.not_sent === 3,
    );

    const before = readJournal(journal).length;
    await desk.ask('POST', '/api/clock', { minutes: 45 });
    const tally = await until(async () => {
      const { tally } = await desk.ask<{ tally: Record<string, number> }>('GET', `/api/runs/${run_id}`);
      return (tally.delivered ?? 0) + (tally.not_sent ?? 0) === look.plan.people && tally;
    }, 120);
    expect(tally).toEqual({ delivered: look.plan.people - 3, not_sent: 3 });

    const got = received(journal, before);
    const removed = new Set([stopper.number, mover.number, gone.number]);
    let parts = 0;
    for (const [number, proof] of planned) {
      const texts = (got.get(number) ?? []).filter((each) => !each.text.includes('opted out'));
      if (removed.has(number)) {
        expect([number, texts]).toEqual([number, []]);
        continue;
      }
      expect([number, texts.map((each) => [each.text, each.parts])]).toEqual([number, [[proof.text, proof.parts]]]);
      parts += texts[0].parts;
      got.delete(number);
    }
    // nobody else got anything of it
    expect([...got.values()].flat().filter((each) => each.text.includes('Heron'))).toEqual([]);
    expect(parts).toBe(look.plan.parts - [stopper, mover, gone].reduce((sum, each) => sum + each.parts, 0));

    // every difference is a named removal
    const { recipients } = await desk.ask<{ recipients: { number: string; reason: string }[] }>(
      'GET',
      `/api/runs/${run_id}/recipients?state=not_sent`,
    );
    // whoever was erased has no number any more, here either
    expect(new Map(recipients.map((each) => [each.number.replace(/^erased-.*/, 'nobody'), each.reason]))).toEqual(
      new Map([
        [stopper.number, 'opted out'],
        [mover.number, 'number changed'],
        ['nobody', 'erased'],
      ]),
    );
    const { money } = await desk.ask<{ money: { spent: number; parts: number } }>('GET', `/api/runs/${run_id}`);
    expect(money.parts).toBe(parts);
  });

  test('with a text of its own for opting out, and a copy for the desk: both at the cost that was shown, each once', async () => {
    const journal = join(demo.folder, 'carrier.journal');
    const { senders } = await desk.ask<{ senders: { id: number; name: string }[] }>('GET', '/api/setup');
    await desk.ask('POST', '/api/testers', { name: 'Desk', number: '+13055550177', copies: true });
    const { lists } = await desk.ask<{ lists: { id: number; name: string }[] }>('GET', '/api/people/sources');
    const { id } = await desk.ask<{ id: number }>('POST', '/api/broadcasts', {
      name: 'Passes',
      list_id: lists.find((each) => each.name === 'Pass holders')?.id,
    });
    const made = await desk.ask<{ draft: Record<string, unknown>; version: number }>('GET', `/api/broadcasts/${id}`);
    const draft = {
      ...made.draft,
      words: '{given_name or "neighbor"}: your pass ends soon. Ottermere Ferry',
      sender_id: senders.find((each) => each.name === 'Fast')?.id,
      opt_out: 'after',
      opt_out_words: { en: 'Reply STOP and we text no more' },
    };
    const { version } = await desk.ask<{ version: number }>('PUT', `/api/broadcasts/${id}`, {
      name: 'Passes',
      draft,
      version: made.version,
    });
    interface Look {
      digest: string;
      plan: { people: number; parts: number; cost_micro: number; must_fix: unknown[]; copies: { parts: number } | null };
    }
    const look = await desk.ask<Look>('POST', `/api/broadcasts/${id}/plan`, { draft });
    expect([look.plan.must_fix, look.plan.copies?.parts]).toEqual([[], 1]);
    const { proofs } = await desk.ask<{ proofs: (Proof & { after: { text: string; parts: number } | null })[] }>(
      'POST',
      `/api/broadcasts/${id}/proofs`,
      { draft },
    );
    const before = readJournal(journal).length;
    const { run_id } = await desk.ask<{ run_id: number }>('POST', `/api/broadcasts/${id}/press`, {
      version,
      digest: look.digest,
      press_id: 'last-look-test-2',
    });
    await desk.ask('POST', '/api/clock', { minutes: 30 });
    const { money, beside } = await until(async () => {
      const answer = await desk.ask<{
        run: { state: string };
        money: { spent: number; parts: number };
        beside: { kind: string; state: string; n: number }[];
      }>('GET', `/api/runs/${run_id}`);
      const delivered = answer.beside.filter((each) => each.state === 'delivered').reduce((sum, each) => sum + each.n, 0);
      return answer.run.state === 'finished' && delivered === look.plan.people + 1 && answer;
    }, 240);
    expect(money).toEqual({ spent: look.plan.cost_micro, parts: look.plan.parts });
    expect(beside).toEqual([
      { kind: 'copy', state: 'delivered', n: 1 },
      { kind: 'opt_out', state: 'delivered', n: look.plan.people },
    ]);
    const got = received(journal, before);
    for (const proof of proofs) {
      const texts = (got.get(proof.number) ?? []).map(({ text, parts }) => [text, parts]);
      expect([proof.number, texts]).toEqual([
        proof.number,
        [
          [proof.text, proof.parts],
          [proof.after?.text, proof.after?.parts],
        ],
      ]);
    }
    expect(got.get('+13055550177')?.map(({ text }) => text)).toEqual([expect.stringContaining('your pass ends soon')]);
    expect(got.size).toBe(proofs.length + 1);
  });
});

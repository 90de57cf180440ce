import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { readJournal } from '../src/carrier/journal';
import { readPart } from '../src/core/text/air';
import { Dice } from '../src/core/line/simulator/dice';
import { decodePdu } from '../src/smpp/pdu';
import { until } from '../harness/desk';
import { KilledDesk, type Engine } from '../harness/killed-desk';

/**
 * npm run trial:replies: rounds on the built demo in which a run goes out while people write (stops, other replies, a keyword, passed on
 * to somebody), under kills; on PostgreSQL connections are killed and refused as well. `-- 50 postgres 7`: how many, on which engine, the
 * seed. Counted in the message center's journal: no text after an acknowledged stop, nobody twice, no reply lost. `--json FILE` keeps it.
 */
const [count, engine, seed] = [
  Number(process.argv[2] ?? 50),
  (process.argv[3] ?? 'embedded') as Engine,
  Number(process.argv[4] ?? 7),
];
const keep = process.argv.indexOf('--json') > 0 ? process.argv[process.argv.indexOf('--json') + 1] : undefined;
const PIER = '+12075550190';
const dice = new Dice(seed);
const desk = await KilledDesk.open(engine, {
  CARRIER_PROFILE: JSON.stringify({ outcomes: 'delivered', latency: [5, 150], echoReference: true }),
});

const sender = (
  await desk.ask<{ id: number }>('POST', '/api/setup/senders', {
    name: 'Fast',
    kind: 'short',
    address: '72399',
    parts_per_second: 400,
  })
).id;
await desk.ask('POST', '/api/setup/balance', { amount_micro: 900_000_000 });
await desk.ask('POST', '/api/passing', {
  what: 'all',
  keyword_id: null,
  broadcast_id: null,
  name: 'Pier office',
  way: 'text',
  address: PIER,
  any_hour: true,
});
const { lists } = await desk.ask<{ lists: { id: number; name: string }[] }>('GET', '/api/people/sources');
const list = lists.find((each) => each.name === 'Morning boat regulars')?.id ?? 0;
await desk.ask('POST', '/api/keywords', {
  word: 'HARBOR',
  sender_id: sender,
  list_id: list,
  tag_id: null,
  purpose: 'service',
  consent_wording: 'Harbor notices.',
  confirms: 'You are on the list.',
  asks: '',
  asks_first: false,
  from_at: null,
  until_at: null,
});

const stopped = new Set<string>();
const results: object[] = [];
let failed = 0;
for (let round = 0; round < count; round += 1) {
  await desk.byDay();
  const name = `Round ${[...String(round)].map((digit) => 'ABCDEFGHIJ'[Number(digit)]).join('')}`;
  const made = await desk.ask<{ id: number }>('POST', '/api/broadcasts', { name, list_id: list });
  const { draft, version } = await desk.ask<{ draft: Record<string, unknown>; version: number }>(
    'GET',
    `/api/broadcasts/${made.id}`,
  );
  const saved = await desk.ask<{ version: number }>('PUT', `/api/broadcasts/${made.id}`, {
    name,
    draft: { ...draft, words: `${name}. Ottermere Ferry`, sender_id: sender },
    version,
  });
  const { digest } = await desk.ask<{ digest: string }>('POST', `/api/broadcasts/${made.id}/plan`, {
    draft: { ...draft, words: `${name}. Ottermere Ferry`, sender_id: sender },
  });
  const { run_id } = await desk.ask<{ run_id: number }>('POST', `/api/broadcasts/${made.id}/press`, {
    version: saved.version,
    digest,
    press_id: `trial-replies-${round}`,
  });
  await until(async () => (await desk.ask<{ run: { state: string } }>('GET', `/api/runs/${run_id}`)).run.state !== 'planning');
  await desk.ask('POST', '/api/clock', { minutes: 1 });
  const { recipients } = await desk.ask<{ recipients: { number: string }[] }>('GET', `/api/runs/${run_id}/recipients`);
  const numbers = recipients.map((each) => each.number).filter((number) => !stopped.has(number));
  // people write while it goes: those at the end of the list, whose text may still be to come
  const writers = numbers.slice(-24);
  const wrote = new Map<string, string>();
  for (const [i, number] of writers.entries()) {
    const words = i % 4 === 0 ? 'STOP' : i % 4 === 1 ? `Is ${name} running?` : i % 4 === 2 ? 'HARBOR' : 'help';
    await desk.ask('POST', `/api/phones/${number.slice(1)}/text`, { to: '72399', text: words }).catch(() => undefined);
    wrote.set(number, words);
    if (words === 'STOP') stopped.add(number);
  }
  const t0 = Date.now();
  const kills = dice.between(1, 3);
  const killed: string[] = [];
  for (let k = 0; k < kills; k += 1) {
    await new Promise((resolve) => setTimeout(resolve, dice.between(10, 700)));
    killed.push(await desk.kill(dice));
  }
  const t1 = Date.now();
  await until(
    async () => (await desk.ask<{ run: { ended_at: string | null } }>('GET', `/api/runs/${run_id}`)).run.ended_at !== null,
    300,
  );
  const t2 = Date.now();
  await until(async () => {
    const { kinds } = await desk.ask<{ kinds: { kind: string; waiting: number }[] }>('GET', '/api/jobs');
    return kinds.filter(({ kind }) => ['replies', 'reply', 'pass on'].includes(kind)).every(({ waiting }) => waiting === 0);
  }, 300);
  const t3 = Date.now();
  if (process.env.PHASES) process.stdout.write(`kills ${t1 - t0}, ended ${t2 - t1}, acted ${t3 - t2}\n`);
  await desk.ask('POST', '/api/clock', { minutes: 61 }); // what answers by itself is counted by the hour
  const wrong = judge(name, wrote);
  for (const [number, words] of wrote)
    if (words === 'STOP') {
      const { opted_out } = await desk.ask<{ opted_out: boolean }>(
        'GET',
        `/api/replies/thread?number=${encodeURIComponent(number)}`,
      );
      if (!opted_out) wrong.push(`${number} is not in the register`);
    }
  if (wrong.length > 0) failed += 1;
  results.push({ round, killed, people: numbers.length, wrong });
  process.stdout.write(
    `${round + 1} ${engine}, ${killed.join(' and ')} killed: ${numbers.length} people ${wrong.length > 0 ? `BROKEN: ${wrong.join('; ')}` : ''}\n`,
  );
}

/** What the message center's journal says was wrong in a round. */
function judge(name: string, wrote: ReadonlyMap<string, string>): string[] {
  const wrong: string[] = [];
  const said = new Map<string, { number: string; text: string }>();
  const acknowledged = new Set<string>();
  const copies = new Map<string, number>();
  const passed = new Map<string, number>();
  const taken = new Map<string, number>();
  for (const line of readJournal(join(desk.folder, 'carrier.journal'))) {
    if (line.what === 'inbound') said.set(line.id, line);
    else if (line.what === 'inbound_taken') {
      const text = said.get(line.id);
      if (text) taken.set(`+${text.number} ${text.text}`, 1);
      if (text?.text === 'STOP') acknowledged.add(`+${text.number}`);
    } else if (line.what === 'submit') {
      const pdu = decodePdu(Buffer.from(line.pdu, 'hex'));
      if (pdu.command !== 'submit_sm') continue;
      const { text, join: part } = readPart(pdu.fields);
      const number = `+${line.number}`;
      if (number === PIER && (part?.index ?? 1) === 1) {
        const about = [...wrote].find(([, words]) => words.startsWith('Is ') && text.includes(words) && text.includes('“'));
        if (about) passed.set(text, (passed.get(text) ?? 0) + 1);
      }
      if (!text.startsWith(`${name}.`)) continue;
      copies.set(number, (copies.get(number) ?? 0) + 1);
      if (acknowledged.has(number)) wrong.push(`${number} was texted after their stop`);
    }
  }
  for (const [number, n] of copies) if (n > 1) wrong.push(`${number} got it ${n} times`);
  for (const [text, n] of passed) if (n > 1) wrong.push(`passed on ${n} times: ${text}`);
  for (const [number, words] of wrote) if (!taken.has(`${number} ${words}`)) wrong.push(`what ${number} wrote was not taken`);
  return wrong;
}

await desk.close();
if (keep) writeFileSync(keep, `${JSON.stringify({ engine, seed, rounds: count, failed, results: results }, null, 1)}\n`);
process.stdout.write(`${count - failed} passed, ${failed} failed\n`);
process.exit(failed === 0 ? 0 : 1);

import { writeFileSync } from 'node:fs';
import { parsePhoneNumberFromString } from 'libphonenumber-js/max';
import { split as splitSms } from 'split-sms';
import { compileText, type FieldType } from '../src/core/merge/compile';
import { readPhone } from '../src/core/phone/read';
import { pricer } from '../src/core/plan/money';
import { EMPTY_DRAFT } from '../src/core/plan/draft';
import { measure } from '../src/core/text/measure';
import { planThread } from '../src/server/broadcasts/plan-thread';
import { press } from '../src/server/broadcasts/press';
import { machineClock } from '../src/server/clock';
import type { Db } from '../src/server/db/db';
import { openEmbedded } from '../src/server/db/embedded';
import { preparedSnapshot } from '../src/server/db/snapshot';
import { Bus } from '../src/server/engine/bus';
import { makeWorkspace } from '../src/server/engine/testing/world';
import { figures, race, say, sink, timed } from './figures';
import { line, queue } from './line';
import { files, imports, million, millionRows } from './people';

/** npm run bench: each figure against a floor measured in the same run, alternately; the median counts. */
const NAMES = ['Marisol', 'Henrik', 'Inès', 'Dao', 'Maximiliano', 'Léonie', 'Jo'];
const LANDINGS = ['North Landing', 'Mill Quay', 'Pine Point', 'Upper Saltmarsh Landing'];
const N = 100_000;

async function texts(): Promise<void> {
  const rendered = Array.from(
    { length: 200_000 },
    (_, i) =>
      `${NAMES[i % 7]}: the 7:10 AM Heron from ${LANDINGS[i % 4]} is off Thu, Dec 3. Kittiwake leaves 7:40 AM, same dock. Ottermere Ferry. STOP to opt out`,
  );
  const floor = () => {
    for (const text of rendered) for (let i = 0; i < text.length; i += 1) sink.value += text.charCodeAt(i);
  };
  const [ours, bare] = await race(
    7,
    () => {
      for (const text of rendered) sink.value += measure(text).parts;
    },
    floor,
  );
  say({
    name: 'measure alphabet and parts',
    value: (rendered.length / ours) * 1000,
    unit: 'texts/s',
    against: 'bare loop',
    ratio: bare / ours,
    bar: '0.75',
  });
  const few = rendered.slice(0, 10_000);
  const [mine, theirs] = await race(
    5,
    () => {
      for (const text of few) sink.value += measure(text).parts;
    },
    () => {
      for (const text of few) sink.value += splitSms(text).parts.length;
    },
  );
  say({
    name: 'measure parts against split-sms',
    value: (few.length / mine) * 1000,
    unit: 'texts/s',
    against: 'split-sms',
    ratio: theirs / mine,
    bar: '10',
  });
  const compiled = compileText(
    '{given_name or "neighbor"}: the 7:10 AM Heron from {home_landing} is off Thu, Dec 3. Kittiwake leaves 7:40 AM, same dock. Ottermere Ferry. STOP to opt out',
    new Map<string, FieldType>([
      ['given_name', 'text'],
      ['home_landing', 'text'],
    ]),
  );
  const price = pricer([
    { prefix: '+1', price_micro: 7500 },
    { prefix: '+44', price_micro: 31_000 },
  ]);
  const [all, loop] = await race(
    7,
    () => {
      for (let i = 0; i < 200_000; i += 1) {
        const { text } = compiled.render((name) => (name === 'given_name' ? NAMES[i % 7] : LANDINGS[i % 4]), 'en');
        sink.value += measure(text).parts * (price('+12075550142') ?? 0);
      }
    },
    floor,
  );
  say({
    name: 'render, measure and price a recipient',
    value: (200_000 / all) * 1000,
    unit: 'texts/s',
    against: 'bare loop',
    ratio: loop / all,
    bar: '0.5',
  });
}

async function numbers(): Promise<void> {
  const mixed = Array.from({ length: 200_000 }, (_, i) => {
    const d = String(2_072_000_000 + ((i * 7919) % 7_000_000));
    return [
      `(${d.slice(0, 3)}) ${d.slice(3, 6)}-${d.slice(6)}`,
      `+1 ${d.slice(0, 3)} ${d.slice(3, 6)} ${d.slice(6)}`,
      d,
      `1${d}`,
      `${d.slice(0, 3)}.${d.slice(3, 6)}.${d.slice(6)}`,
      `00${`1${d}`}`,
      `+44 20 7946 ${String(i % 1000).padStart(4, '0')}`,
    ][i % 100 < 96 ? i % 5 : 5 + (i % 2)];
  });
  for (const text of mixed.slice(0, 5000)) {
    const ours = readPhone(text, { country: 'US' });
    const theirs = parsePhoneNumberFromString(text.replace(/^00/, '+'), { defaultCountry: 'US', extract: false });
    if ((ours.ok ? ours.number : undefined) !== (theirs?.isValid() ? theirs.number : undefined))
      throw new Error(`${text}: the fast road and the library differ`);
  }
  const [ours, theirs] = await race(
    3,
    () => {
      for (const text of mixed) sink.value += readPhone(text, { country: 'US' }).ok ? 1 : 0;
    },
    () => {
      for (const text of mixed) {
        const read = parsePhoneNumberFromString(text.replace(/^00/, '+'), { defaultCountry: 'US', extract: false });
        sink.value += read?.isValid() && read.getType() ? 1 : 0;
      }
    },
  );
  say({
    name: 'read phone numbers (200,000 mixed)',
    value: (mixed.length / ours) * 1000,
    unit: 'numbers/s',
    against: 'libphonenumber',
    ratio: theirs / ours,
    bar: '5',
  });
}

/** So many people on the list 1. */
async function makePeople(db: Db, n: number): Promise<void> {
  await db.query(`INSERT INTO list (id, name, created_at) VALUES (1, 'Bench', '2026-01-01')`);
  await db.query(
    `INSERT INTO person (given_name, family_name, number, number_country, number_kind, fields, sort_name, created_at, updated_at)
     SELECT ($2::text[])[1 + n % 7], 'Okafor' || n, '+1' || (2072000000 + n), 'US', 'either', '{}', 'okafor' || n, '2026-01-01', '2026-01-01' FROM generate_series(0, $1::int - 1) AS n`,
    [n, NAMES],
  );
  await db.query(`INSERT INTO list_member SELECT 1, id FROM person`);
  await db.exec('VACUUM (ANALYZE) person');
}

async function database(): Promise<void> {
  const db = await openEmbedded({ snapshot: await preparedSnapshot('.cache', '0.5.16') });
  await makeWorkspace(db);
  await db.query(`UPDATE sender SET parts_per_second = 100000`);
  await db.query(`INSERT INTO balance_entry (at, kind, amount_micro) VALUES ('2026-01-01T00:00:00Z', 'top_up', 100000000000)`);
  const clock = machineClock();
  const bus = new Bus();
  const at = new Date(clock.now()).toISOString();
  await makePeople(db, N);
  const draft = {
    ...EMPTY_DRAFT,
    sender_id: 1,
    to: [{ kind: 'list' as const, id: 1 }],
    words: '{given_name or "neighbor"}: the 7:10 AM Heron is off. Ottermere Ferry',
  };
  await db.query(
    `INSERT INTO broadcast (id, name, state, draft, created_at, updated_at) VALUES (1, 'Bench', 'draft', $1::jsonb, $2::timestamptz, $2::timestamptz)`,
    [JSON.stringify(draft), at],
  );
  // as the server does it: in the compute thread; other requests are asked meanwhile
  const plans = planThread(db, (error) => process.stderr.write(`${String(error)}\n`));
  const waits: number[] = [];
  let asking = true;
  const others = (async () => {
    while (asking) {
      const began = performance.now();
      await db.query(`SELECT id, given_name FROM person ORDER BY sort_name, id LIMIT 50`);
      waits.push(performance.now() - began);
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
  })();
  const cold = await timed(() => plans.summary(draft, clock.now()));
  const other = { ...draft, words: '{given_name or "neighbor"}: Kittiwake leaves at 7:40 AM. Ottermere Ferry' };
  const warm = await timed(() => plans.summary(other, clock.now()));
  const now = clock.now();
  const { digest, plan } = await plans.summary(draft, now);
  const pressed = await timed(async () => {
    const { stored } = await press(
      { db, bus, plans, clock, epoch: 0 },
      { broadcastId: 1, version: 1, digest, pressId: 'bench-press' },
      { account: undefined, at: new Date(now).toISOString(), now },
    );
    await stored;
  });
  asking = false;
  await others;
  await plans.end();
  await db.query(`CREATE TABLE outbound_copy (LIKE outbound INCLUDING ALL)`);
  const copied = await timed(() => db.query(`INSERT INTO outbound_copy SELECT * FROM outbound`));
  const people = plan.people.toLocaleString('en-US');
  const floor = 'INSERT … SELECT';
  say({ name: `plan ${people}, shown cold`, value: cold / 1000, unit: 's', against: floor, ratio: cold / copied, bar: '≤ 2 s' });
  say({
    name: `plan ${people} after a change of words`,
    value: warm / 1000,
    unit: 's',
    against: floor,
    ratio: warm / copied,
    bar: '≤ 0.4 s',
  });
  say({
    name: `the press of ${people}`,
    value: pressed / 1000,
    unit: 's',
    against: floor,
    ratio: pressed / copied,
    bar: '≤ 3 ×',
  });
  waits.sort((a, b) => a - b);
  const p99 = waits[Math.floor(waits.length * 0.99)];
  say({
    name: 'others’ requests meanwhile, 99 of 100 within',
    value: p99,
    unit: 'ms',
    against: '250 ms',
    ratio: p99 / 250,
    bar: '≤ 1',
  });
  await db.close();
}

// `-- line` runs one of them alone
const only = process.argv.slice(2).find((word) => !word.startsWith('--') && !word.endsWith('.json'));
for (const [name, run] of Object.entries({ texts, numbers, files, imports, line, queue, database, million, millionRows }))
  if (only === undefined || only === name) await run();
const memory = process.memoryUsage().rss / 1e6;
process.stdout.write(`\nmemory at the end ${memory.toFixed(0)} MB (${sink.value % 2})\n`);
const json = process.argv.indexOf('--json');
if (json > 0) writeFileSync(process.argv[json + 1], JSON.stringify(figures, null, 2));
process.exit(0);

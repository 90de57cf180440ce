import { runById } from '../src/server/broadcasts/run/run-queries';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { MessageCenter } from '../src/carrier/message-center';
import { readJournal } from '../src/carrier/journal';
import { DEMO_PROFILE } from '../src/carrier/profile';
import { openEmbedded } from '../src/server/db/embedded';
import { migrate } from '../src/server/db/migrate';
import { machineClock } from '../src/server/clock';
import { Bus } from '../src/server/desk/bus';
import { startEngine } from '../src/server/engine/engine';
import { makeRun, makeWorkspace, NOTHING_LATER } from '../src/server/engine/testing/world';
import { say } from './figures';

const REPLIES = 5000;
const MINUTE = 60_000;

/**
 * A storm: 5,000 replies in a minute, a STOP among every hundred, while a run goes out; on a folder of its own, by the machine's clock. A
 * stop is acted on when it is in the register and acknowledged. Nothing goes to anyone after their stop was acknowledged.
 */
export async function storm(): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'bell-storm-'));
  const db = await openEmbedded({ dataDir: join(folder, 'db') });
  await migrate(db);
  await makeWorkspace(db);
  await db.query(`UPDATE sender SET parts_per_second = 100`);
  const clock = machineClock();
  await makeRun(db, 6000, { now: clock.now() });
  const journal = join(folder, 'carrier.journal');
  const center = new MessageCenter({
    host: '127.0.0.1',
    port: 0,
    journal,
    systemId: 'bell',
    password: 'practice',
    now: () => clock.now(),
    profile: { ...DEMO_PROFILE, outcomes: 'delivered', latency: [5, 150], doubled: 0 },
  });
  const port = await center.listen();
  const errors: unknown[] = [];
  const engine = await startEngine({
    db,
    clock,
    bus: new Bus(),
    carrier: { host: '127.0.0.1', port, systemId: 'bell', password: 'practice' },
    countAhead: runById,
    later: () => NOTHING_LATER,
    failed: (error) => errors.push(error),
  });
  const asked = new Map<string, number>();
  const waits: number[] = [];
  const others: number[] = [];
  let watching = true;
  const watch = (async () => {
    while (watching) {
      const open = [...asked.keys()];
      if (open.length > 0) {
        const { rows } = await db.query<{ number: string }>(`SELECT number FROM suppression WHERE number = ANY ($1::text[])`, [
          open,
        ]);
        for (const { number } of rows) {
          waits.push(performance.now() - (asked.get(number) ?? 0));
          asked.delete(number);
        }
      }
      const began = performance.now();
      await db.query(`SELECT count(*) FROM inbound WHERE done_at IS NULL`);
      others.push(performance.now() - began);
      await new Promise((resolve) => setTimeout(resolve, 10));
    }
  })();
  const began = performance.now();
  for (let i = 0; i < REPLIES; i += 1) {
    const due = began + (i / REPLIES) * MINUTE;
    const wait = due - performance.now();
    if (wait > 1) await new Promise((resolve) => setTimeout(resolve, wait));
    const stop = i % 100 === 50;
    // those who stop are far back in the run: their text may still be to come
    const number = stop ? `+1207${2_000_000 + 1_000_000 + 5999 - i}` : `+1207${2_000_000 + 1_000_000 + (i % 3000)}`;
    center.textFromPhone(number.slice(1), '72345', stop ? 'STOP' : i % 9 === 0 ? 'HELP' : `Is it running? ${i}`);
    if (stop) asked.set(number, performance.now());
  }
  const told = performance.now();
  while (asked.size > 0 && performance.now() - told < 120_000) await new Promise((resolve) => setTimeout(resolve, 20));
  watching = false;
  await watch;
  await engine.inbound.settle();
  const settled = performance.now();
  const { rows } = await db.query<{ n: number }>(`SELECT count(*) AS n FROM inbound WHERE applied`);
  await engine.stop();
  await center.close();
  await db.close();
  const sorted = waits.sort((a, b) => a - b);
  const p99 = sorted[Math.floor(sorted.length * 0.99)] ?? Infinity;
  say({
    name: `a STOP in a storm of ${REPLIES} a minute, 99 of 100 within`,
    value: p99,
    unit: 'ms',
    against: '2,000 ms',
    ratio: p99 / 2000,
    bar: '≤ 1',
  });
  say({
    name: 'the storm acted on, after its last',
    value: settled - told,
    unit: 'ms',
    against: '2,000 ms',
    ratio: (settled - told) / 2000,
    bar: '—',
  });
  const other = others.sort((a, b) => a - b)[Math.floor(others.length * 0.99)];
  say({
    name: 'others’ requests meanwhile, 99 of 100 within',
    value: other,
    unit: 'ms',
    against: '250 ms',
    ratio: other / 250,
    bar: '≤ 1',
  });
  const after = textedAfterStop(journal);
  if (after.length > 0 || rows[0].n !== REPLIES || errors.length > 0)
    throw new Error(`After their stop: ${after.join(', ')}; acted on ${rows[0].n}; ${errors.map(String).join('; ')}`);
}

/** Whom the message center took a run's text for after it heard that their stop was taken. */
function textedAfterStop(journal: string): string[] {
  const said = new Map<string, string>();
  const stopped = new Set<string>();
  const wrong: string[] = [];
  const confirmed = new Set<string>();
  for (const line of readJournal(journal)) {
    if (line.what === 'inbound' && line.text === 'STOP') said.set(line.id, line.number);
    else if (line.what === 'inbound_taken' && said.has(line.id)) stopped.add(said.get(line.id) ?? '');
    else if (line.what === 'submit' && stopped.has(line.number)) {
      // its confirmation is the one text that may follow
      if (confirmed.has(line.number)) wrong.push(line.number);
      confirmed.add(line.number);
    }
  }
  return wrong;
}

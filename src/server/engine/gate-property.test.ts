import { EventEmitter } from 'node:events';
import { Temporal } from 'temporal-polyfill';
import { describe, expect, test } from 'vitest';
import { iso } from '../../core/clock';
import { Dice } from '../../core/line/simulator/dice';
import type { ShortMessageFields } from '../../smpp/pdu';
import type { Db } from '../db/db';
import { emptyDb, ENGINES } from '../db/testing/engines';
import { Bus } from '../desk/bus';
import type { GatewayState, Handed } from './gateway';
import { jobsOf } from './testing/jobs';
import { LineDriver } from './line/driver';
import { balanceMicro } from './money';
import { optOut } from './register';
import { want } from '../desk/job-queries';
import { moveRun } from './runs/run-life';
import { makeWorkspace, NOW } from './testing/world';
import { rounds } from '../db/testing/rounds';

/**
 * The gate, on the real statements of both engines: runs in random zones, hours and paces, through pauses, restarts, outages,
 * clock jumps and people who stop, are erased, changed or withdraw. An oracle of its own looks at every hand-over.
 */
const HOUR = 3_600_000;
const RUNS = rounds(50, 120);
const ZONES = ['America/New_York', 'America/Chicago', 'Pacific/Honolulu', 'Europe/Paris', null];

class FakeGateway extends EventEmitter<{ state: [GatewayState] }> {
  handed: { number: string; at: number }[] = [];
  up = false;
  private ids = 0;
  constructor(
    private readonly dice: Dice,
    private readonly clock: { at: number },
  ) {
    super();
  }
  turn(up: boolean): void {
    if (this.up === up) return;
    this.up = up;
    this.emit('state', { state: up ? 'connected' : 'connecting', since: this.clock.at, why: '' });
  }
  submit(fields: ShortMessageFields): Promise<Handed> {
    if (!this.up) return Promise.resolve({ kind: 'unwritten' });
    if (this.dice.chance(0.1)) return Promise.resolve({ kind: 'again', reason: 'slow down' });
    this.handed.push({ number: `+${fields.destination_addr}`, at: this.clock.at });
    return Promise.resolve({ kind: 'accepted', messageId: `m${(this.ids += 1)}` });
  }
}

interface Someone {
  id: number;
  number: string;
  zone: string | null;
  quiet: string | null;
}

/** What is true of numbers now, kept beside the database. */
interface Truth {
  gone: Map<string, number>;
  notAfter: Map<string, number>;
  people: Map<string, Someone>;
}

function quietAt(at: number, someone: Someone): string | undefined {
  // nobody knows where: 207 is Maine, and the workspace is there too
  const zone = someone.zone ?? 'America/New_York';
  const { hour, minute } = Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(zone);
  const minutes = hour * 60 + minute;
  if (minutes >= 21 * 60 || minutes < 8 * 60) return `quiet hours in ${zone}`;
  if (someone.quiet === '12:00-15:30' && minutes >= 12 * 60 && minutes < 15 * 60 + 30) return 'their own hours';
  return undefined;
}

async function fill(db: Db, dice: Dice, truth: Truth): Promise<void> {
  await makeWorkspace(db);
  await db.query(`UPDATE sender SET parts_per_second = 3`);
  await db.query(`UPDATE workspace SET late_limit_minutes = 100000`); // being late is the start's, and has a test of its own
  await db.query(
    `INSERT INTO sender (name, kind, address, parts_per_second, created_at) VALUES ('Quick', 'short', '72346', 200, '2026-01-01T00:00:00Z')`,
  );
  let person = 0;
  for (let run = 1; run <= RUNS; run += 1) {
    const start = NOW + dice.between(0, 30) * HOUR;
    const notAfter = start + dice.between(2, 40) * HOUR;
    const count = dice.between(1, 4);
    await db.query(
      `INSERT INTO broadcast (id, name, state, draft, created_at, updated_at) VALUES ($1, 'Run', 'scheduled', '{}', $2::timestamptz, $2::timestamptz)`,
      [run, iso(start)],
    );
    await db.query(
      `INSERT INTO run (id, broadcast_id, state, press_id, digest, words, name, sender_id, purpose, people, parts, cost_micro, takeback_until, due_at, last_due_at, not_after, pressed_at)
       VALUES ($1, $1, 'waiting', 'press-' || $1::bigint, 'd', '', 'Run', $5, 'service', $4, $4, $4 * 7500, $2::timestamptz, $2::timestamptz, $2::timestamptz, $3::timestamptz, $2::timestamptz)`,
      [run, iso(start), iso(notAfter), count, 1 + (run % 2)],
    );
    await want(db, [{ kind: 'start run', key: String(run), due: start }]);
    await db.query(`INSERT INTO balance_entry (at, kind, amount_micro, run_id) VALUES ($1::timestamptz, 'hold', $2, $3)`, [
      iso(start),
      -count * 7500,
      run,
    ]);
    const first = person + 1;
    for (let i = 0; i < count; i += 1) {
      person += 1;
      const someone: Someone = {
        id: person,
        number: `+1207${2_000_000 + person}`,
        zone: ZONES[dice.between(0, ZONES.length - 1)],
        quiet: dice.chance(0.3) ? '12:00-15:30' : null,
      };
      truth.people.set(someone.number, someone);
      truth.notAfter.set(someone.number, notAfter);
      await db.query(
        `INSERT INTO person (id, number, zone, quiet, created_at, updated_at) VALUES ($1, $2, $3, $4, $5::timestamptz, $5::timestamptz)`,
        [someone.id, someone.number, someone.zone, someone.quiet, iso(NOW)],
      );
    }
    await db.query(
      `INSERT INTO outbound (run_id, kind, person_id, number, sender_id, body, alphabet, parts, cost_micro, due_at, not_after, open)
       SELECT $1, 'run', id, number, $2, 'Heron is off', 'gsm7', 1, 7500, $3::timestamptz, $4::timestamptz, 1 FROM person WHERE id >= $5`,
      [run, 1 + (run % 2), iso(start), iso(notAfter), first],
    );
    await db.query(
      `INSERT INTO line_queue (run_id, sender_id, lane, due_at, parts, ids) SELECT $1, $2, 2, $3::timestamptz, count(*), array_agg(id ORDER BY id) FROM outbound WHERE run_id = $1`,
      [run, 1 + (run % 2), iso(start)],
    );
    await db.query(`UPDATE outbound SET queue = q.id FROM line_queue q WHERE q.run_id = $1 AND outbound.run_id = $1`, [run]);
  }
}

/** Something happens to somebody; the truth knows of it before anything can be handed over. */
async function happen(db: Db, dice: Dice, truth: Truth, now: number): Promise<void> {
  const numbers = [...truth.people.keys()];
  const number = numbers[dice.between(0, numbers.length - 1)];
  const person = truth.people.get(number);
  if (!person) return;
  const run = dice.between(1, RUNS);
  const what = dice.between(0, 7);
  if (what <= 3 && !truth.gone.has(number)) truth.gone.set(number, now);
  if (what === 0) await optOut(db, { number, how: 'texted', words: 'STOP' }, iso(now));
  else if (what === 1)
    await db.query(
      `INSERT INTO consent_event (person_id, number, purpose, act, how, at) VALUES ($1, $2, 'service', 'withdrawn', 'at the desk', $3::timestamptz)`,
      [person.id, number, iso(now)],
    );
  else if (what === 2) await db.query(`DELETE FROM person WHERE id = $1`, [person.id]);
  else if (what === 3) await db.query(`UPDATE person SET number = '+12079999999' WHERE id = $1`, [person.id]);
  else if (what <= 5) await db.transaction((tx) => moveRun(tx, run, { is: 'pause' }, now));
  else await resumeAll(db, now);
}

async function resumeAll(db: Db, now: number): Promise<void> {
  for (let run = 1; run <= RUNS; run += 1) await db.transaction((tx) => moveRun(tx, run, { is: 'resume' }, now));
}

describe.each(ENGINES)('the gate on %s', (engine) => {
  test('many runs through everything: nothing outside it, nobody twice, everyone with a reason, the ledger right', async () => {
    const dice = new Dice(engine === 'embedded' ? 11 : 23);
    const db = await emptyDb(engine);
    const truth: Truth = { gone: new Map(), notAfter: new Map(), people: new Map() };
    await fill(db, dice, truth);
    const clock = {
      at: NOW,
      now: () => clock.at,
      sleep: (_ms: number, signal?: AbortSignal) =>
        new Promise<void>((resolve) => (signal?.aborted ? resolve() : void setTimeout(resolve, 1))),
    };
    const bus = new Bus();
    const failures: unknown[] = [];
    const failed = (error: unknown) => void failures.push(error);
    const gateway = new FakeGateway(dice, clock);
    const settings = { postWait: 0, postSize: 50, lookEvery: 1000, siftEvery: 60_000 };
    const start = async () => {
      const line = new LineDriver(db, clock, gateway as never, bus, failed, settings);
      await line.start();
      return { line, jobs: jobsOf(db, clock, bus, failed, line) };
    };
    let engineNow = await start();
    gateway.turn(true);
    const look = async (times: number) => {
      for (let i = 0; i < times; i += 1) {
        await engineNow.jobs.settle();
        await engineNow.line.look();
        await engineNow.jobs.settle();
      }
    };
    for (let step = 0; step < rounds(40, 100); step += 1) {
      const roll = dice.roll();
      if (roll < 0.5) await happen(db, dice, truth, clock.at);
      else if (roll < 0.6) gateway.turn(!gateway.up);
      else if (roll < 0.67) {
        await engineNow.jobs.end();
        await engineNow.line.stop();
        gateway.removeAllListeners();
        gateway.up = false;
        engineNow = await start();
        gateway.turn(true);
      }
      await look(1);
      clock.at += dice.chance(0.15) ? dice.between(1, 5) * HOUR : dice.between(1, 40) * 30_000;
    }
    // everything is well again, and goes on until the last is of no use
    gateway.turn(true);
    await resumeAll(db, clock.at);
    for (let step = 0; step < 90; step += 1) {
      await look(1);
      clock.at += HOUR;
    }
    await look(6);
    await engineNow.jobs.end();
    await engineNow.line.stop();
    expect(failures).toEqual([]);

    const wrong: string[] = [];
    const seen = new Set<string>();
    for (const { number, at } of gateway.handed) {
      const someone = truth.people.get(number);
      if (!someone) throw new Error(number);
      if (seen.has(number)) wrong.push(`${number} twice`);
      seen.add(number);
      const quiet = quietAt(at, someone);
      if (quiet) wrong.push(`${number} at ${iso(at)} in ${quiet}`);
      if ((truth.gone.get(number) ?? Infinity) < at) wrong.push(`${number} after they were gone`);
      if (at >= (truth.notAfter.get(number) ?? 0)) wrong.push(`${number} past its use`);
    }
    expect(wrong).toEqual([]);
    expect(gateway.handed.length).toBeGreaterThan(60);
    const { rows } = await db.query<{ number: string; state: string; reason: string | null; open: number; billed: number }>(
      `SELECT number, state, reason, open, billed FROM outbound`,
    );
    expect(rows.filter((row) => row.open > 0)).toEqual([]);
    expect(rows.filter((row) => row.state === 'not_sent' && !row.reason)).toEqual([]);
    expect(rows.filter((row) => row.billed > 0 !== seen.has(row.number))).toEqual([]);
    expect((await db.query(`SELECT id FROM run WHERE ended_at IS NULL`)).rows).toEqual([]);
    expect(await balanceMicro(db)).toBe(100_000_000 - gateway.handed.length * 7500);
  });
});

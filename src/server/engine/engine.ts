import { iso, type Clock } from '../../core/clock';
import type { LineSettings } from '../../core/line/effects';
import type { SessionOptions } from '../../smpp/session';
import type { Db } from '../db/db';
import type { Bus } from '../desk/bus';
import type { LeasedJob } from '../desk/job-queries';
import { JobRunner } from '../desk/job-runner';
import { wantStanding, worksOf, type LaterWorks } from './kinds';
import { Gateway, USUAL_WAYS, type CarrierAddress, type CarrierWays } from './gateway';
import { Inbound } from './replies/inbound';
import { LineDriver } from './line/driver';
import { lookUpAtEachLine } from './lookup';
import type { CountAhead } from './runs/end-run';
import { settleUnpaid } from './money';

export interface Engine {
  gateway: Gateway;
  line: LineDriver;
  inbound: Inbound;
  jobs: JobRunner;
  /** Reads anew how the carrier writes what it hands over. */
  readWays(): Promise<void>;
  stop(): Promise<void>;
}

/**
 * Everything that moves texts. First becomes an owner of the line and settles what dead owners left (their journal is posted,
 * what was never answered becomes uncertain), then connects; what goes on by itself is jobs.
 */
export async function startEngine(options: {
  db: Db;
  clock: Clock;
  bus: Bus;
  carrier: CarrierAddress;
  session?: Partial<SessionOptions>;
  settings?: Partial<LineSettings>;
  /** The practice mailbox, while it stands in for a mail server. */
  practiceMail?: () => number | undefined;
  countAhead: CountAhead;
  /** The work of areas that know of the engine, and not it of them; what it makes leased to this process begins by `give`. */
  later(give: (job: LeasedJob) => void): LaterWorks;
  failed: (error: unknown) => void;
}): Promise<Engine> {
  const { db, clock, bus, carrier, failed } = options;
  let ways = await waysOf(db);
  const inbound = new Inbound(db, clock, bus, failed, () => jobs.settle());
  const gateway: Gateway = new Gateway(
    carrier,
    { receipt: (receipt) => line.receipt(receipt), text: (text) => inbound.take(text) },
    () => clock.now(),
    options.session,
    () => ways.country,
    () => ways,
  );
  const line: LineDriver = new LineDriver(db, clock, gateway, bus, failed, options.settings);
  const practiceMail = options.practiceMail ?? (() => undefined);
  const jobs: JobRunner = new JobRunner(
    db,
    clock,
    worksOf({
      db,
      bus,
      gateway,
      line,
      practiceMail,
      countAhead: options.countAhead,
      later: options.later((job) => jobs.given(job)),
    }),
    failed,
  );
  await line.start();
  noteTheLine(db, clock, bus, gateway, failed);
  lookUpAtEachLine(db, gateway, () => clock.now(), failed);
  await settleUnpaid(db, iso(clock.now()));
  await wantStanding(db, clock.now());
  await jobs.start();
  gateway.start();
  return {
    gateway,
    line,
    inbound,
    jobs,
    async readWays() {
      ways = await waysOf(db);
    },
    async stop() {
      // what is on the line comes to its end while it is still open
      await line.stop();
      await gateway.stop();
      await inbound.stored();
      await jobs.end();
    },
  };
}

/** How this carrier writes, and the country of numbers that come without one. */
async function waysOf(db: Db): Promise<CarrierWays & { country: string }> {
  const { rows } = await db.query<{ country: string; alphabet: CarrierWays['alphabet']; receipt_ids: CarrierWays['receiptIds'] }>(
    `SELECT country, carrier_alphabet AS alphabet, carrier_receipt_ids AS receipt_ids FROM workspace`,
  );
  const set = rows.at(0);
  return set ? { country: set.country, alphabet: set.alphabet, receiptIds: set.receipt_ids } : { country: 'US', ...USUAL_WAYS };
}

/** A line that breaks and comes back is part of a run's course. */
function noteTheLine(db: Db, clock: Clock, bus: Bus, gateway: Gateway, failed: (error: unknown) => void): void {
  let wasConnected = false;
  gateway.on('state', (state) => {
    bus.changed('carrier');
    const what = state.state === 'connected' ? 'line back' : wasConnected ? `line broke: ${state.why}` : undefined;
    wasConnected = state.state === 'connected';
    if (!what) return;
    db.query(
      `INSERT INTO run_event (run_id, at, what) SELECT id, $1::timestamptz, $2 FROM run WHERE state IN ('sending', 'paused')`,
      [iso(clock.now()), what],
    ).catch(failed);
  });
}

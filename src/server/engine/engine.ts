import { iso, type Clock } from '../../core/clock';
import type { LineSettings } from '../../core/line/effects';
import type { SessionOptions } from '../../smpp/session';
import type { Db } from '../db/db';
import type { Bus } from './bus';
import { Gateway, type CarrierAddress } from './gateway';
import { Inbound } from './inbound';
import { LineDriver } from './line/driver';
import { Lookup } from './lookup';
import { Passing } from './passing/pass-on';
import { Scheduler } from './scheduler';

export interface Engine {
  gateway: Gateway;
  line: LineDriver;
  inbound: Inbound;
  scheduler: Scheduler;
  passing: Passing;
  stop(): Promise<void>;
}

/**
 * Everything that moves texts. First becomes an owner of the line and settles what dead owners left (their journal is folded,
 * what was never answered becomes uncertain, committed replies are acted on, half-written plans go back to drafts), then connects.
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
  failed: (error: unknown) => void;
}): Promise<Engine> {
  const { db, clock, bus, carrier, failed } = options;
  const { country } = (await db.query<{ country: string }>(`SELECT country FROM workspace`)).rows[0] ?? { country: 'US' };
  const inbound = new Inbound(db, clock, bus, failed);
  const gateway: Gateway = new Gateway(
    carrier,
    { receipt: (receipt) => line.receipt(receipt), text: (text) => inbound.take(text) },
    () => clock.now(),
    options.session,
    () => country,
  );
  const line: LineDriver = new LineDriver(db, clock, gateway, bus, failed, options.settings);
  await line.start();
  inbound.apply();
  noteTheLine(db, clock, bus, gateway, failed);
  const lookup = new Lookup(db, clock, gateway, line, failed);
  const scheduler = new Scheduler(db, clock, bus, line, inbound, failed);
  const passing = new Passing(db, clock, bus, options.practiceMail ?? (() => undefined), failed);
  await scheduler.settleAll(iso(clock.now()));
  gateway.start();
  scheduler.start();
  passing.start();
  return {
    gateway,
    line,
    inbound,
    scheduler,
    passing,
    async stop() {
      await scheduler.end();
      await passing.end();
      await lookup.end();
      // what is on the line comes to its end while it is still open
      await line.stop();
      await gateway.stop();
      await inbound.settle();
    },
  };
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

import type { Clock } from '../../core/clock';
import type { SessionOptions } from '../../smpp/session';
import type { Db } from '../db/db';
import type { Bus } from './bus';
import { Dispatcher } from './dispatcher';
import { Gateway, type CarrierAddress } from './gateway';
import { Inbound } from './inbound';
import { markInterrupted, rollUpTexts } from './queue-queries';
import { Receipts } from './receipts';
import { Resolver } from './resolver';
import { Serial } from './serial';
import { Scheduler } from './scheduler';

export interface Engine {
  gateway: Gateway;
  receipts: Receipts;
  inbound: Inbound;
  scheduler: Scheduler;
  stop(): Promise<void>;
}

/**
 * Everything that moves texts. First settles what the last process left (interrupted parts become uncertain,
 * committed receipts and replies are applied, half-written plans go back to drafts), then connects.
 */
export async function startEngine(options: {
  db: Db;
  clock: Clock;
  bus: Bus;
  carrier: CarrierAddress;
  session?: Partial<SessionOptions>;
  failed: (error: unknown) => void;
}): Promise<Engine> {
  const { db, clock, bus, carrier, failed } = options;
  await db.transaction(async (tx) => void (await rollUpTexts(tx, await markInterrupted(tx))));
  await giveUpHalfPlans(db);
  const serial = new Serial();
  const receipts = new Receipts(db, clock, bus, serial, failed);
  const inbound = new Inbound(db, clock, bus, failed);
  receipts.apply();
  inbound.apply();
  const gateway = new Gateway(
    carrier,
    { receipt: (receipt) => receipts.take(receipt), text: (text) => inbound.take(text) },
    () => clock.now(),
    options.session,
  );
  let wasConnected = false;
  gateway.on('state', (state) => {
    bus.changed('carrier');
    const what = state.state === 'connected' ? 'line back' : wasConnected ? `line broke: ${state.why}` : undefined;
    wasConnected = state.state === 'connected';
    if (!what) return;
    db.query(
      `INSERT INTO run_event (run_id, at, what) SELECT id, $1::timestamptz, $2 FROM run WHERE state IN ('sending', 'paused')`,
      [new Date(clock.now()).toISOString(), what],
    ).catch(failed);
  });
  const dispatcher = new Dispatcher(db, clock, gateway, bus, serial, failed);
  const resolver = new Resolver(db, clock, gateway, bus, failed);
  const scheduler = new Scheduler(db, clock, bus, failed);
  gateway.start();
  dispatcher.start();
  scheduler.start();
  return {
    gateway,
    receipts,
    inbound,
    scheduler,
    async stop() {
      await scheduler.end();
      await resolver.end();
      await dispatcher.end();
      await gateway.stop();
      await receipts.settle();
      await inbound.settle();
    },
  };
}

/** A press whose plan was still being written when the process ended: nothing of it went, and it becomes a draft again. */
async function giveUpHalfPlans(db: Db): Promise<void> {
  await db.transaction(async (tx) => {
    const { rows } = await tx.query<{ id: number; broadcast_id: number }>(
      `SELECT id, broadcast_id FROM run WHERE state = 'planning'`,
    );
    for (const run of rows) {
      await tx.query(`DELETE FROM link WHERE run_id = $1`, [run.id]);
      await tx.query(`DELETE FROM outbound WHERE run_id = $1`, [run.id]);
      await tx.query(`DELETE FROM run_event WHERE run_id = $1`, [run.id]);
      await tx.query(`DELETE FROM run WHERE id = $1`, [run.id]);
      await tx.query(`UPDATE broadcast SET state = 'draft' WHERE id = $1`, [run.broadcast_id]);
    }
  });
}

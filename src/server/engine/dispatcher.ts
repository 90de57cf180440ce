import { iso, type Clock } from '../../core/clock';
import { airParts } from '../../core/text/air';
import type { ShortMessageFields } from '../../smpp/pdu';
import type { Db } from '../db/db';
import type { Bus } from './bus';
import type { Gateway, Handed } from './gateway';
import type { Serial } from './serial';
import { claimRetries, claimTexts, recordHanded, rollUpTexts, type ClaimedPart, type PartChange } from './queue-queries';

const IDLE = 1000;
const THROTTLE_WAIT = [500, 1000, 2000, 4000, 8000];

/**
 * Hands due texts over: claims no more than the window has free (the claim writes the intent), submits, and records
 * the answers in batches. Urgent texts (of no run) go first, then every sending run in turn.
 */
export class Dispatcher {
  private readonly results: { part: ClaimedPart; handed: Handed }[] = [];
  private readonly db: Db;
  private inFlight = 0;
  private claiming = false;
  private again = false;
  private recording: Promise<void> | undefined;
  private throttledUntil = 0;
  private throttles = 0;
  private turn = 0;
  private readonly stop = new AbortController();
  private loop: Promise<void> | undefined;

  constructor(
    db: Db,
    private readonly clock: Clock,
    private readonly gateway: Gateway,
    private readonly bus: Bus,
    private readonly serial: Serial,
    private readonly failed: (error: unknown) => void,
  ) {
    this.db = db.lane('dispatch');
    bus.on('work', () => this.wake());
    gateway.on('free', () => this.wake());
  }

  start(): void {
    this.loop = (async () => {
      while (!this.stop.signal.aborted) {
        this.wake();
        await this.clock.sleep(IDLE, this.stop.signal);
      }
    })();
  }

  async end(): Promise<void> {
    this.stop.abort();
    await this.loop;
    while (this.inFlight > 0 || this.recording || this.results.length > 0) {
      await this.record();
      await new Promise((resolve) => setTimeout(resolve, 5));
    }
  }

  private wake(): void {
    if (this.stop.signal.aborted) return;
    if (this.claiming) {
      this.again = true;
      return;
    }
    this.claiming = true;
    this.again = false;
    this.fill()
      .catch(this.failed)
      .finally(() => {
        this.claiming = false;
        if (this.again) this.wake();
      });
  }

  private async fill(): Promise<void> {
    for (;;) {
      // what is claimed but not yet answered and recorded counts too
      const room = Math.min(this.gateway.free, this.gateway.window - this.inFlight);
      if (room <= 0 || this.clock.now() < this.throttledUntil || this.stop.signal.aborted) return;
      // a nearly full window is left to empty a little: claiming one text at a time costs a statement each
      if (room < this.gateway.window / 4 && this.inFlight > 0) return;
      const parts = await this.claim(room);
      if (parts.length === 0) return;
      this.inFlight += parts.length;
      for (const part of parts) void this.hand(part);
    }
  }

  private async claim(room: number): Promise<ClaimedPart[]> {
    const now = iso(this.clock.now());
    const urgent = await claimTexts(this.db, null, now, room);
    if (urgent.length > 0) return urgent;
    const retries = await claimRetries(this.db, now, room);
    if (retries.length > 0) return retries;
    const { rows: runs } = await this.db.query<{ id: number }>(`SELECT id FROM run WHERE state = 'sending' ORDER BY id`);
    for (let i = 0; i < runs.length; i += 1) {
      const run = runs[(this.turn + i) % runs.length];
      const parts = await claimTexts(this.db, run.id, now, room);
      if (parts.length > 0) {
        this.turn = (this.turn + i + 1) % runs.length;
        return parts;
      }
    }
    return [];
  }

  private async hand(part: ClaimedPart): Promise<void> {
    const handed = await this.gateway.submit(submitFields(part), part.reference).catch((error: unknown): Handed => {
      this.failed(error);
      return { kind: 'lost', reason: 'our own trouble while handing over' };
    });
    this.results.push({ part, handed });
    this.recordSoon();
  }

  private recordSoon(): void {
    if (this.recording) return;
    this.recording = new Promise<void>((resolve) => setTimeout(resolve, 2))
      .then(() => this.record())
      .catch(this.failed)
      .finally(() => {
        this.recording = undefined;
        if (this.results.length > 0) this.recordSoon();
        else this.wake();
      });
  }

  private async record(): Promise<void> {
    const batch = this.results.splice(0);
    if (batch.length === 0) return;
    const now = this.clock.now();
    const changes = batch.map(({ part, handed }) => this.change(part, handed, now));
    for (;;) {
      try {
        const runs = await this.serial.run(() =>
          this.db.transaction(async (tx) => {
            const texts = await recordHanded(tx, changes, iso(now));
            const ids = changes.flatMap((change) => (change.messageId === undefined ? [] : [change.messageId]));
            // receipts that overtook their acceptance are looked at again
            if (ids.length > 0)
              await tx.query(
                `UPDATE receipt SET applied = false, parked = NULL WHERE parked = 'unknown' AND message_id = ANY ($1::text[])`,
                [ids],
              );
            return rollUpTexts(tx, texts);
          }),
        );
        for (const run of runs) this.bus.changed('run', run);
        break;
      } catch (error) {
        this.failed(error);
        if (this.stop.signal.aborted) break;
        await new Promise((resolve) => setTimeout(resolve, 500)); // an answer must not be forgotten because the disk was full
      }
    }
    this.inFlight -= batch.length;
  }

  private change(part: ClaimedPart, handed: Handed, now: number): PartChange {
    const id = part.part_id;
    switch (handed.kind) {
      case 'accepted':
        this.throttles = 0;
        return { id, state: 'with_carrier', messageId: handed.messageId };
      case 'refused':
        return { id, state: 'not_delivered', reason: handed.reason };
      case 'lost':
        return { id, state: 'uncertain', reason: handed.reason };
      case 'unwritten':
        return { id, state: 'planned', retryAt: iso(now) };
      case 'throttled': {
        if (now >= this.throttledUntil) {
          this.throttledUntil = now + THROTTLE_WAIT[Math.min(this.throttles, THROTTLE_WAIT.length - 1)];
          this.throttles += 1;
          void this.clock.sleep(this.throttledUntil - now, this.stop.signal).then(() => this.wake());
        }
        return { id, state: 'planned', retryAt: iso(this.throttledUntil) };
      }
    }
  }
}

/** SMPP v3.4 §4.4.1. A name as sender is alphanumeric (TON 5), a short code network specific (TON 3), a number international (TON 1). */
function submitFields(part: ClaimedPart): ShortMessageFields {
  // the joining reference is the text's, the same for all its parts and for a retry
  const air = airParts(part.body, part.alphabet, part.outbound_id & 0xff)[part.part_no - 1];
  return {
    service_type: '',
    source_addr_ton: part.sender_kind === 'name' ? 5 : part.sender_kind === 'short' ? 3 : 1,
    source_addr_npi: part.sender_kind === 'name' ? 0 : 1,
    source_addr: part.address.replace(/^\+/, ''),
    dest_addr_ton: 1,
    dest_addr_npi: 1,
    destination_addr: part.number.replace(/^\+/, ''),
    esm_class: air.esm_class,
    protocol_id: 0,
    priority_flag: 0,
    schedule_delivery_time: '',
    validity_period: '000001000000000R', // one day, relative: §7.1.1
    registered_delivery: 1,
    replace_if_present_flag: 0,
    data_coding: air.data_coding,
    sm_default_msg_id: 0,
    short_message: air.short_message,
  };
}

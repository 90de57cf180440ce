import { iso, type Clock } from '../../core/clock';
import { failureWords, onReceipt, type ReceiptState, type TextState } from '../../core/outcome/states';
import type { Db } from '../db/db';
import type { Bus } from './bus';
import type { ReceiptIn } from './gateway';
import type { Serial } from './serial';
import { recordReceipts, rollUpTexts, type PartChange } from './queue-queries';

const BATCH = 400;
const GATHER = 40;

interface NewReceipt {
  id: number;
  message_id: string;
  reference: number | null;
  number: string;
  state: ReceiptState;
  error: string;
  received_at: string;
}
interface Candidate {
  id: number;
  message_id: string | null;
  reference: number;
  number: string;
  state: TextState;
}

/**
 * Receipts in two steps: committed first (then the carrier is told so), applied afterwards. What a crash leaves
 * between the two is applied at the next start.
 */
export class Receipts {
  private readonly db: Db;
  private waiting: { receipt: ReceiptIn; resolve: () => void; reject: (error: unknown) => void }[] = [];
  private storing: Promise<void> | undefined;
  private applying: Promise<void> | undefined;
  private more = false;

  constructor(
    db: Db,
    private readonly clock: Clock,
    private readonly bus: Bus,
    private readonly serial: Serial,
    private readonly failed: (error: unknown) => void,
  ) {
    this.db = db.lane('dispatch');
  }

  /** Resolves once the receipt is committed. */
  take(receipt: ReceiptIn): Promise<void> {
    return new Promise((resolve, reject) => {
      this.waiting.push({ receipt, resolve, reject });
      this.storing ??= this.store().finally(() => (this.storing = undefined));
    });
  }

  private async store(): Promise<void> {
    while (this.waiting.length > 0) {
      // let a burst gather: three statements a batch cost the same for one receipt as for a hundred
      await new Promise((resolve) => setTimeout(resolve, GATHER));
      const batch = this.waiting.splice(0, BATCH);
      const of = <T>(pick: (receipt: ReceiptIn) => T) => batch.map(({ receipt }) => pick(receipt));
      try {
        await this.db.query(
          `INSERT INTO receipt (received_at, message_id, reference, number, state, error)
           SELECT $1::timestamptz, * FROM unnest($2::text[], $3::int[], $4::text[], $5::text[], $6::text[])`,
          [
            iso(this.clock.now()),
            of((r) => r.messageId),
            of((r) => r.reference ?? null),
            of((r) => `+${r.number}`),
            of((r) => r.state),
            of((r) => r.error),
          ],
        );
        for (const { resolve } of batch) resolve();
        this.apply();
      } catch (error) {
        for (const { reject } of batch) reject(error);
        this.failed(error);
      }
    }
  }

  /** Applies what is committed and not yet applied; safe to call at any time. */
  apply(): void {
    if (this.applying) {
      this.more = true;
      return;
    }
    this.applying = this.applyAll()
      .catch(this.failed)
      .finally(() => {
        this.applying = undefined;
        if (this.more) {
          this.more = false;
          this.apply();
        }
      });
  }

  /** Resolves when nothing is being stored or applied. */
  async settle(): Promise<void> {
    while (this.storing || this.applying) await (this.storing ?? this.applying);
  }

  private async applyAll(): Promise<void> {
    for (;;) {
      const { rows } = await this.db.query<NewReceipt>(
        `SELECT id, message_id, reference, number, state, error, received_at FROM receipt WHERE NOT applied ORDER BY id LIMIT ${BATCH}`,
      );
      if (rows.length === 0) return;
      const runs = await this.serial.run(() =>
        this.db.transaction(async (tx) => {
          // by message id first; a receipt may overtake its acceptance, so then by number and reference among open parts
          const byId = await tx.query<Candidate>(
            `SELECT id, message_id, reference, number, state FROM outbound_part WHERE message_id = ANY ($1::text[]) FOR UPDATE`,
            [rows.map((row) => row.message_id)],
          );
          const known = new Map(byId.rows.map((part) => [part.message_id, part]));
          const unmatched = rows.filter((row) => !known.has(row.message_id) && row.reference !== null);
          const byReference = new Map<string, Candidate[]>();
          if (unmatched.length > 0) {
            const { rows: parts } = await tx.query<Candidate>(
              `SELECT part.id, part.message_id, part.reference, part.number, part.state FROM outbound_part part
             JOIN unnest($1::text[], $2::int[]) AS wanted (number, reference) ON part.number = wanted.number AND part.reference = wanted.reference
             WHERE part.state IN ('handing_over', 'uncertain', 'with_carrier') AND part.message_id IS NULL`,
              [unmatched.map((row) => row.number), unmatched.map((row) => row.reference)],
            );
            for (const part of parts) {
              const key = `${part.number}|${part.reference}`;
              byReference.set(key, [...(byReference.get(key) ?? []).filter((each) => each.id !== part.id), part]);
            }
          }
          const changes = new Map<number, PartChange>();
          const parked = new Map<number, string>();
          for (const row of rows) {
            let part = known.get(row.message_id);
            if (!part) {
              const open = byReference.get(`${row.number}|${row.reference}`) ?? [];
              if (open.length === 1) part = open[0]; // two open parts with one reference would be a guess
            }
            if (!part) {
              parked.set(row.id, 'unknown');
              continue;
            }
            const state = changes.get(part.id)?.state ?? part.state;
            const next = onReceipt(state, row.state);
            if (!next) {
              parked.set(row.id, 'changes nothing');
              continue;
            }
            changes.set(part.id, {
              id: part.id,
              state: next,
              messageId: row.message_id,
              reason: next === 'not_delivered' || next === 'expired' ? failureWords(row.state, row.error) : '',
            });
          }
          const texts = changes.size > 0 ? await recordReceipts(tx, [...changes.values()], iso(this.clock.now())) : [];
          const touched = await rollUpTexts(tx, texts);
          await tx.query(
            `UPDATE receipt SET applied = true, parked = nullif(new.parked, '') FROM unnest($1::bigint[], $2::text[]) AS new (id, parked) WHERE receipt.id = new.id`,
            [rows.map((row) => row.id), rows.map((row) => parked.get(row.id) ?? '')],
          );
          return touched;
        }),
      );
      for (const run of runs) this.bus.changed('run', run);
      if (rows.length < BATCH) return;
    }
  }
}

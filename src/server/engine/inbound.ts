import { iso, type Clock } from '../../core/clock';
import { classifyReply } from '../../core/outcome/keywords';
import type { Db, Tx } from '../db/db';
import type { Bus } from './bus';
import type { TextIn } from './gateway';
import { removeByNumber } from './removals';
import { queueText } from './texts';

const CONFIRMATION_USEFUL = 5 * 60_000; // 47 CFR 64.1200(a)(12): within five minutes
const CONFIRM: Record<string, (name: string) => string> = {
  en: (name) => `${name}: you are opted out and get no more texts from us. START brings them back.`,
  fr: (name) => `${name} : vous ne recevrez plus de textos de notre part. START pour reprendre.`,
  es: (name) => `${name}: no recibirá más mensajes nuestros. START para volver.`,
};

interface Settings {
  name: string;
  help_wording: string;
  emergency_line: string;
}
interface Stored {
  id: number;
  number: string;
  to_address: string;
  body: string;
}

/** Texts from people: committed, then acknowledged to the carrier, then acted on; STOP, HELP and START at once. */
export class Inbound {
  private readonly db: Db;
  private applying: Promise<void> = Promise.resolve();
  private storing: Promise<void> = Promise.resolve();

  constructor(
    db: Db,
    private readonly clock: Clock,
    private readonly bus: Bus,
    private readonly failed: (error: unknown) => void,
  ) {
    this.db = db.lane('dispatch');
  }

  /** Resolves once the text is committed. One after the other: STOP and then START is not START and then STOP. */
  take(text: TextIn): Promise<void> {
    const stored = this.storing.then(() => this.store(text));
    this.storing = stored.catch(() => undefined);
    return stored.then(() => this.apply());
  }

  private async store(text: TextIn): Promise<void> {
    await this.db.query(
      `INSERT INTO inbound (received_at, number, to_address, body, kind) VALUES ($1::timestamptz, $2, $3, $4, $5)`,
      [iso(this.clock.now()), `+${text.number}`, text.to, text.text, classifyReply(text.text)],
    );
  }

  /** Acts on every committed text not yet acted on. */
  apply(): void {
    this.applying = this.applying.then(() => this.applyAll()).catch(this.failed);
  }

  async settle(): Promise<void> {
    await this.applying;
  }

  private async applyAll(): Promise<void> {
    const { rows } = await this.db.query<Stored>(
      `SELECT id, number, to_address, body FROM inbound WHERE NOT applied ORDER BY id LIMIT 200`,
    );
    for (const stored of rows) {
      const runs = await this.db.transaction((tx) => this.act(tx, stored));
      for (const run of runs) this.bus.changed('run', run);
    }
    if (rows.length > 0) {
      this.bus.changed('replies');
      this.bus.work();
    }
  }

  private async act(tx: Tx, stored: Stored): Promise<number[]> {
    const now = this.clock.now();
    const at = iso(now);
    const kind = classifyReply(stored.body);
    // the latest text to that number tells whom and what the answer is about
    const last = (
      await tx.query<{ person_id: number | null; run_id: number | null; sender_id: number }>(
        `SELECT person_id, run_id, sender_id FROM outbound WHERE number = $1 AND handed_at IS NOT NULL ORDER BY id DESC LIMIT 1`,
        [stored.number],
      )
    ).rows[0];
    const person =
      last?.person_id ??
      (await tx.query<{ id: number }>(`SELECT id FROM person WHERE number = $1 ORDER BY id LIMIT 1`, [stored.number])).rows[0]
        ?.id ??
      null;
    const touched: number[] = last?.run_id ? [last.run_id] : [];
    const settings = (await tx.query<Settings>(`SELECT name, help_wording, emergency_line FROM workspace`)).rows[0];
    const answer = async (body: string) => {
      const sender =
        (
          await tx.query<{ id: number }>(`SELECT id FROM sender WHERE ltrim(address, '+') = $1`, [
            stored.to_address.replace(/^\+/, ''),
          ])
        ).rows[0]?.id ?? last?.sender_id;
      if (sender === undefined) return;
      await queueText(
        tx,
        { kind: 'confirmation', personId: person, number: stored.number, senderId: sender, body, usefulFor: CONFIRMATION_USEFUL },
        now,
      );
    };
    if (kind === 'stop') {
      const added = await tx.query(
        `INSERT INTO suppression (number, at, how, words) VALUES ($1, $2::timestamptz, 'texted', $3) ON CONFLICT (number) DO NOTHING`,
        [stored.number, at, stored.body],
      );
      touched.push(...(await removeByNumber(tx, [stored.number], 'opted out', at)));
      if (added.rowCount > 0) {
        const language =
          (await tx.query<{ language: string | null }>(`SELECT language FROM person WHERE id = $1`, [person])).rows[0]
            ?.language ?? 'en';
        await answer((CONFIRM[language] ?? CONFIRM.en)(settings.name));
      }
    } else if (kind === 'start') {
      const lifted = await tx.query(`DELETE FROM suppression WHERE number = $1`, [stored.number]);
      if (lifted.rowCount > 0) await answer(`${settings.name}: you get our texts again. STOP ends them.`);
    } else if (kind === 'help') {
      const line = settings.emergency_line ? ` Emergency: ${settings.emergency_line}.` : '';
      await answer(`${settings.help_wording || `This is ${settings.name}. Text STOP to get no more texts.`}${line}`);
    }
    const done = kind === 'stop' || kind === 'start';
    await tx.query(
      `UPDATE inbound SET applied = true, kind = $2, person_id = $3, run_id = $4, done_at = CASE WHEN $5::boolean THEN $6::timestamptz END WHERE id = $1`,
      [stored.id, kind, person, last?.run_id ?? null, done, at],
    );
    return touched;
  }
}

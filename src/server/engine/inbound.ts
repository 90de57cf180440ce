import { iso, type Clock } from '../../core/clock';
import { classifyReply, type ReplyKind } from '../../core/outcome/keywords';
import { readChoice } from '../../core/outcome/question';
import { fold } from '../../core/people/fold';
import type { Db, Queryable, Tx } from '../db/db';
import type { Bus } from './bus';
import type { TextIn } from './gateway';
import { joinPart, takeIncomplete, type WholeText } from './join-parts';
import { optIn, optOut } from './opt-out';
import { questionOfRun } from './run-question';
import { queueText } from './texts';

const CONFIRMATION_USEFUL = 5 * 60_000; // 47 CFR 64.1200(a)(12): within five minutes
const BATCH = 200;
const CONFIRM: Record<string, (name: string) => string> = {
  en: (name) => `${name}: you are opted out and get no more texts from us. START brings them back.`,
  fr: (name) => `${name} : vous ne recevrez plus de textos de notre part. START pour reprendre.`,
  es: (name) => `${name}: no recibirá más mensajes nuestros. START para volver.`,
};

interface Stored {
  id: number;
  number: string;
  to_address: string;
  body: string;
}
interface Waiting {
  text: TextIn;
  resolve(): void;
  reject(error: unknown): void;
}

/**
 * Texts from people: committed, then acknowledged to the carrier, then acted on one after the other. An opt-out is its own
 * transaction and comes first; its confirmation is best effort. What cannot be acted on is parked with its reason and shown,
 * and never holds up the next.
 */
export class Inbound {
  private readonly db: Db;
  private applying: Promise<void> = Promise.resolve();
  private readonly waiting: Waiting[] = [];
  private storing: Promise<void> | undefined;

  constructor(
    db: Db,
    private readonly clock: Clock,
    private readonly bus: Bus,
    private readonly failed: (error: unknown) => void,
  ) {
    this.db = db.lane('dispatch');
  }

  /** Resolves once the text is committed. In the order they came: STOP and then START is not START and then STOP. */
  take(text: TextIn): Promise<void> {
    return new Promise((resolve, reject) => {
      this.waiting.push({ text, resolve, reject });
      this.keepStoring();
    });
  }

  private keepStoring(): void {
    this.storing ??= this.storeAll().finally(() => {
      this.storing = undefined;
      // what came between the last look and here would wait for the next reply
      if (this.waiting.length > 0) this.keepStoring();
    });
  }

  /** Acts on every committed text not yet acted on. */
  apply(): void {
    this.applying = this.applying.then(() => this.applyAll()).catch(this.failed);
  }

  async settle(): Promise<void> {
    while (this.storing) await this.storing;
    await this.applying;
  }

  /** Replies whose missing parts never came are shown as they are. Called now and then. */
  async closeIncomplete(): Promise<void> {
    const stored = await this.db.transaction(async (tx) => {
      const texts = await takeIncomplete(tx, this.clock.now());
      await insert(tx, texts, iso(this.clock.now()));
      return texts.length;
    });
    if (stored > 0) this.apply();
  }

  private async storeAll(): Promise<void> {
    while (this.waiting.length > 0) {
      await new Promise((resolve) => setTimeout(resolve, 5)); // a burst is one transaction
      const batch = this.waiting.splice(0, BATCH);
      try {
        await this.db.transaction(async (tx) => {
          const whole: WholeText[] = [];
          for (const { text } of batch) {
            const { join } = text;
            const joined = join && join.total > 1 ? await joinPart(tx, { ...text, join }, this.clock.now()) : undefined;
            if (joined) whole.push(joined);
            else if (!join || join.total <= 1) whole.push({ ...text, incomplete: false });
          }
          await insert(tx, whole, iso(this.clock.now()));
        });
        for (const { resolve } of batch) resolve();
        this.apply();
      } catch (error) {
        for (const { reject } of batch) reject(error);
        this.failed(error);
      }
    }
  }

  private async applyAll(): Promise<void> {
    for (;;) {
      const { rows } = await this.db.query<Stored>(
        `SELECT id, number, to_address, body FROM inbound WHERE NOT applied ORDER BY id LIMIT ${BATCH}`,
      );
      if (rows.length === 0) return;
      const runs = new Set<number>();
      for (const stored of rows) for (const run of await this.actSafely(stored)) runs.add(run);
      for (const run of runs) this.bus.changed('run', run);
      this.bus.changed('replies');
      this.bus.work();
    }
  }

  private async actSafely(stored: Stored): Promise<number[]> {
    try {
      const { runs, answer } = await this.db.transaction((tx) => this.act(tx, stored));
      if (answer) await this.answer(stored, answer);
      return runs;
    } catch (error) {
      // parked: a person sees it, and the next is not held up
      this.failed(error);
      await this.db.query(`UPDATE inbound SET applied = true, trouble = $2 WHERE id = $1`, [
        stored.id,
        'It could not be acted on. Look at it and decide.',
      ]);
      return [];
    }
  }

  /** What the reply asks for, in one transaction; gives the text that answers it, if any. */
  private async act(tx: Tx, stored: Stored): Promise<{ runs: number[]; answer?: Answer }> {
    const at = iso(this.clock.now());
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
    const runs: number[] = last?.run_id ? [last.run_id] : [];
    let says: Answer['says'] | undefined;
    if (kind === 'stop') {
      const stopped = await optOut(tx, { number: stored.number, how: 'texted', words: stored.body }, at);
      runs.push(...stopped.runs);
      if (stopped.added) says = 'stopped';
    } else if (kind === 'start') {
      if (await optIn(tx, stored.number)) says = 'started';
    } else if (kind === 'help') says = 'help';
    else if (kind === 'maybe_stop')
      // no run texts them until a person has decided
      await tx.query(
        `INSERT INTO hold_number (number, inbound_id, at) VALUES ($1, $2, $3::timestamptz) ON CONFLICT (number) DO NOTHING`,
        [stored.number, stored.id, at],
      );
    // what was put away until they write again waits again
    await tx.query(`UPDATE conversation SET later_at = NULL WHERE number = $1 AND later_at IS NOT NULL`, [stored.number]);
    const counted = kind === 'reply' && last?.run_id ? await makesChoice(tx, last.run_id, stored.body) : false;
    await markApplied(tx, stored.id, kind, person, last?.run_id ?? null, at, counted);
    return { runs, answer: says ? { says, person, sender: last?.sender_id } : undefined };
  }

  /** Best effort: an answer that cannot be sent takes nothing back, and is told with the reply. */
  private async answer(stored: Stored, answer: Answer): Promise<void> {
    try {
      await this.db.transaction(async (tx) => {
        const sender = await senderOf(tx, stored.to_address, answer.sender);
        if (sender === undefined) return;
        await queueText(
          tx,
          {
            kind: 'confirmation',
            personId: answer.person,
            number: stored.number,
            senderId: sender,
            body: await wordsOf(tx, answer),
            usefulFor: CONFIRMATION_USEFUL,
          },
          this.clock.now(),
        );
      });
    } catch (error) {
      await this.db.query(`UPDATE inbound SET trouble = $2 WHERE id = $1`, [
        stored.id,
        `It was acted on, but could not be confirmed: ${error instanceof Error ? error.message : 'unknown trouble'}`,
      ]);
    }
  }
}

interface Answer {
  says: 'stopped' | 'started' | 'help';
  person: number | null;
  sender: number | undefined;
}

async function insert(tx: Tx, texts: readonly WholeText[], at: string): Promise<void> {
  if (texts.length === 0) return;
  await tx.query(
    `INSERT INTO inbound (received_at, number, to_address, body, kind, incomplete, folded)
     SELECT $1::timestamptz, number, to_address, body, kind, incomplete, folded
     FROM unnest($2::text[], $3::text[], $4::text[], $5::text[], $6::boolean[], $7::text[]) WITH ORDINALITY AS new (number, to_address, body, kind, incomplete, folded, n) ORDER BY n`,
    [
      at,
      texts.map((t) => t.number),
      texts.map((t) => t.to),
      texts.map((t) => t.text),
      texts.map((t) => classifyReply(t.text)),
      texts.map((t) => t.incomplete),
      texts.map((t) => fold(t.text)),
    ],
  );
}

async function markApplied(
  tx: Tx,
  id: number,
  kind: ReplyKind,
  person: number | null,
  run: number | null,
  at: string,
  counted: boolean,
): Promise<void> {
  const done = counted || kind === 'stop' || kind === 'start' || kind === 'auto';
  await tx.query(
    `UPDATE inbound SET applied = true, kind = $2, person_id = $3, run_id = $4, done_at = CASE WHEN $5::boolean THEN $6::timestamptz END WHERE id = $1`,
    [id, kind, person, run, done, at],
  );
}

/** An answer that plainly makes one of the choices that its run asks for is counted there, and waits for nobody. */
async function makesChoice(tx: Tx, run: number, body: string): Promise<boolean> {
  const wordings = await questionOfRun(tx, run);
  return wordings.length > 0 && typeof readChoice(body, wordings) === 'number';
}

/** The sender that was written to, else the one that wrote last. */
async function senderOf(db: Queryable, address: string, last: number | undefined): Promise<number | undefined> {
  const { rows } = await db.query<{ id: number }>(`SELECT id FROM sender WHERE ltrim(address, '+') = $1`, [
    address.replace(/^(\+|00)/, ''),
  ]);
  return rows[0]?.id ?? last;
}

async function wordsOf(db: Queryable, { says, person }: Answer): Promise<string> {
  const { name, help_wording, emergency_line } = (
    await db.query<{ name: string; help_wording: string; emergency_line: string }>(
      `SELECT name, help_wording, emergency_line FROM workspace`,
    )
  ).rows[0];
  if (says === 'started') return `${name}: you get our texts again. STOP ends them.`;
  if (says === 'help') {
    const line = emergency_line ? ` Emergency: ${emergency_line}.` : '';
    return `${help_wording || `This is ${name}. Text STOP to get no more texts.`}${line}`;
  }
  const language =
    (await db.query<{ language: string | null }>(`SELECT language FROM person WHERE id = $1`, [person])).rows[0]?.language ??
    'en';
  return (CONFIRM[language] ?? CONFIRM.en)(name);
}

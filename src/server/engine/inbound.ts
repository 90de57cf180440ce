import { iso, type Clock } from '../../core/clock';
import { saysWrong } from '../../core/outcome/alarms';
import { classifyReply, type ReplyKind } from '../../core/outcome/keywords';
import { readChoice } from '../../core/outcome/question';
import { fold } from '../../core/people/fold';
import type { Db, Tx } from '../db/db';
import { raiseAlarm } from './alarms';
import { awayWords } from './away';
import type { Bus } from './bus';
import { answerByItself, type OwnAnswer } from './by-itself';
import type { TextIn } from './gateway';
import { joinPart, takeIncomplete, type WholeText } from './join-parts';
import { optIn, optOut } from './opt-out';
import { wordsAfter } from './own-words';
import { echoes, noteForPassing } from './passing/note';
import { answerByText } from './passing/pass-back';
import { REPLIES_UNTIL } from './reply-window-sql';
import { questionOfRun } from './run-question';
import { signUp } from './sign-up';

const BATCH = 200;

interface Stored {
  id: number;
  number: string;
  to_address: string;
  body: string;
  received_at: string;
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
        `SELECT id, number, to_address, body, received_at FROM inbound WHERE NOT applied ORDER BY id LIMIT ${BATCH}`,
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
  private async act(tx: Tx, stored: Stored): Promise<{ runs: number[]; answer?: OwnAnswer }> {
    const now = this.clock.now();
    const at = iso(now);
    const { number } = stored;
    const kind = classifyReply(stored.body);
    const around = await aroundReply(tx, stored, now);
    const { last } = around;
    const known = last?.person_id ?? around.person;
    const told: Told = {
      kind,
      person: known,
      run: last?.run_id ?? null,
      late: last?.late ?? false,
      done: SETTLED.has(kind),
      trouble: null,
    };
    // what was put away until they write again waits again
    await tx.query(`UPDATE conversation SET later_at = NULL WHERE number = $1 AND later_at IS NOT NULL`, [number]);
    const answer = (words: string, as: OwnAnswer['kind']): OwnAnswer => ({
      kind: as,
      words,
      person: told.person,
      sender: last?.sender_id,
    });
    // a text that holds one of ours comes from a machine that hands on what it gets: it answers nobody
    const echo = kind !== 'stop' && around.written && (await echoes(tx, number, stored.body, now));
    const passedBack =
      kind === 'stop' || echo || !around.told ? undefined : await answerByText(tx, { number, body: stored.body, kind }, now);
    if (passedBack) {
      // somebody whom replies are passed on to: what went on needs nobody; what did not waits, and they are told why
      Object.assign(told, { kind: 'answer', run: null, late: false, done: passedBack.sent, trouble: passedBack.says ?? null });
      await markApplied(tx, stored.id, told, at);
      // said again with a mark: what did not say whom it answers is done with
      if (passedBack.sent)
        await tx.query(`UPDATE inbound SET done_at = $2::timestamptz WHERE number = $1 AND kind = 'answer' AND done_at IS NULL`, [
          number,
          at,
        ]);
      return { runs: [], answer: passedBack.says === undefined ? undefined : answer(passedBack.says, 'automatic') };
    }
    const runs: number[] = last?.run_id ? [last.run_id] : [];
    let own: OwnAnswer | undefined;
    let keyword: number | null = null;
    if (kind === 'stop') {
      const stopped = await optOut(tx, { number, how: 'texted', words: stored.body }, at);
      runs.push(...stopped.runs);
      if (stopped.added) own = answer(await wordsAfter(tx, 'stop', known), 'confirmation');
    } else if (kind === 'start') {
      if (await optIn(tx, number)) own = answer(await wordsAfter(tx, 'start', known), 'confirmation');
    } else if (kind === 'help') own = answer(await wordsAfter(tx, 'help', known), 'confirmation');
    else if (kind === 'maybe_stop')
      // no run texts them until a person has decided
      await tx.query(
        `INSERT INTO hold_number (number, inbound_id, at) VALUES ($1, $2, $3::timestamptz) ON CONFLICT (number) DO NOTHING`,
        [number, stored.id, at],
      );
    if (kind === 'reply' && !echo) {
      const wrote = { ...stored, person: known, sender: last?.sender_id, afterRun: last?.kind === 'run' };
      const signed = around.keywords ? await signUp(tx, wrote, now) : undefined;
      if (signed) {
        keyword = signed.keyword;
        Object.assign(told, {
          person: signed.person,
          run: null,
          late: false,
          done: !signed.trouble,
          trouble: signed.trouble ?? null,
        });
        if (signed.words) own = answer(signed.words, 'automatic');
      } else if (last?.run_id && !last.closed && (await makesChoice(tx, last.run_id, stored.body))) told.done = true;
      else {
        const away = around.away ? await awayWords(tx, number, known, now) : undefined;
        if (away) own = answer(away, 'automatic');
      }
    }
    if (told.run !== null && PASSED.has(kind) && saysWrong(stored.body))
      await raiseAlarm(tx, told.run, 'wrong', `An answer says that it is wrong: “${stored.body.slice(0, 120)}”`, at);
    if (!echo && around.passing && PASSED.has(kind))
      await noteForPassing(tx, { id: stored.id, number, run: told.run, keyword }, now);
    await markApplied(tx, stored.id, told, at);
    return { runs, answer: own };
  }

  /** Best effort: an answer that cannot be sent takes nothing back, and is told with the reply. */
  private async answer(stored: Stored, answer: OwnAnswer): Promise<void> {
    try {
      await this.db.transaction((tx) => answerByItself(tx, stored, answer, this.clock.now()));
    } catch (error) {
      await this.db.query(`UPDATE inbound SET trouble = $2 WHERE id = $1`, [
        stored.id,
        `It was acted on, but could not be confirmed: ${error instanceof Error ? error.message : 'unknown trouble'}`,
      ]);
    }
  }
}

/** What a reply meets, in one look, so that a storm of them asks only what is there to be asked. */
interface Around {
  /** The latest text to that number: it tells whom and what the answer is about. */
  last: Last | null;
  person: number | null;
  /** Something but runs was written to it within a day; it is told of others' replies; and what is set for everybody. */
  written: boolean;
  told: boolean;
  keywords: boolean;
  passing: boolean;
  away: boolean;
}

interface Last {
  person_id: number | null;
  run_id: number | null;
  sender_id: number;
  kind: string;
  /** The days are over for which its sender reads replies. */
  closed: boolean;
  /** Or what it says was of no more use when the reply came. */
  late: boolean;
}

async function aroundReply(tx: Tx, { number, received_at }: Stored, now: number): Promise<Around> {
  return (
    await tx.query<Around>(
      `SELECT (SELECT jsonb_build_object('person_id', person_id, 'run_id', run_id, 'sender_id', sender_id, 'kind', kind,
           'closed', coalesce(until <= $3::timestamptz, false), 'late', coalesce(coalesce(until, not_after) <= $3::timestamptz, false))
         FROM (SELECT o.id, o.person_id, o.run_id, o.sender_id, o.kind, run.not_after, ${REPLIES_UNTIL} AS until
           FROM outbound o LEFT JOIN run ON run.id = o.run_id LEFT JOIN person ON person.id = o.person_id CROSS JOIN workspace
           WHERE o.number = $1 AND o.handed_at IS NOT NULL ORDER BY o.id DESC LIMIT 1) AS it) AS last,
         (SELECT id FROM person WHERE number = $1 ORDER BY id LIMIT 1) AS person,
         EXISTS (SELECT 1 FROM outbound WHERE number = $1 AND kind <> 'run' AND due_at > $2::timestamptz) AS written,
         EXISTS (SELECT 1 FROM pass_on WHERE way = 'text' AND address = $1) AS told,
         EXISTS (SELECT 1 FROM keyword WHERE ended_at IS NULL) AS keywords,
         EXISTS (SELECT 1 FROM pass_on WHERE ended_at IS NULL) AS passing,
         EXISTS (SELECT 1 FROM desk_setting WHERE away_on) AS away`,
      [number, iso(now - 86_400_000), received_at],
    )
  ).rows[0];
}

/** What nobody has to answer, and what is passed on to whoever wants to know. */
const SETTLED: ReadonlySet<ReplyKind> = new Set(['stop', 'start', 'auto']);
const PASSED: ReadonlySet<ReplyKind> = new Set(['reply', 'help', 'maybe_stop']);

/** What a reply was taken for. */
interface Told {
  kind: ReplyKind | 'answer';
  person: number | null;
  run: number | null;
  late: boolean;
  done: boolean;
  trouble: string | null;
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

async function markApplied(tx: Tx, id: number, told: Told, at: string): Promise<void> {
  await tx.query(
    `UPDATE inbound SET applied = true, kind = $2, person_id = $3, run_id = $4, done_at = CASE WHEN $5::boolean THEN $6::timestamptz END, trouble = coalesce($7, trouble), late = $8 WHERE id = $1`,
    [id, told.kind, told.person, told.run, told.done, at, told.trouble, told.late],
  );
}

/** An answer that plainly makes one of the choices that its run asks for is counted there, and waits for nobody. */
async function makesChoice(tx: Tx, run: number, body: string): Promise<boolean> {
  const wordings = await questionOfRun(tx, run);
  return wordings.length > 0 && typeof readChoice(body, wordings) === 'number';
}

import { iso, type Clock } from '../../../core/clock';
import { classifyReply, type ReplyKind } from '../../../core/outcome/keywords';
import { isRedelivery, type Came } from '../../../core/outcome/redelivery';
import { fold } from '../../../core/text/fold';
import type { Db, Tx } from '../../db/db';
import { isPassing } from '../../db/db-error';
import { wantActing } from './reply-work';
import { want, type Wanted } from '../../desk/job-queries';
import type { Bus } from '../../desk/bus';
import type { TextIn } from '../gateway';
import { INCOMPLETE_AFTER, joinPart, keepPart, type WholeText } from './join-parts';
import { optOutAll } from '../register';

const BATCH = 200;
/** Between the tries of one that failed, ms. */
const WAITS = [50, 200];
/** The carrier breaks the line when it hears nothing for its response timer (ten seconds are usual); by then it has an answer, ms. */
const ANSWER_WITHIN = 4000;

interface Waiting {
  text: TextIn;
  /** Machine time: the carrier's timer runs by it, whatever the desk's clock says. */
  since: number;
  resolve(): void;
  reject(error: unknown): void;
}

/**
 * Takes in what people text. A burst is read in memory and stored with its stops registered, stops first, in one transaction; then it is
 * acknowledged to the carrier. What fails is tried again one by one; what fails still, or would outlast the carrier's patience, is stored
 * bare, which holds its number if it may mean stop (`number_held`). What cannot be stored is not acknowledged, and the carrier keeps it.
 * Everything else that a reply asks for is a job, made due by the same transaction.
 */
export class Inbound {
  private readonly db: Db;
  private readonly waiting: Waiting[] = [];
  private storing: Promise<void> | undefined;

  constructor(
    db: Db,
    private readonly clock: Clock,
    private readonly bus: Bus,
    private readonly failed: (error: unknown) => void,
    /** Resolves when what was made due has been acted on. */
    private readonly acted: () => Promise<void> = () => Promise.resolve(),
  ) {
    this.db = db.lane('dispatch');
  }

  /** Resolves once the text is committed. In the order they came: STOP and then START is not START and then STOP. */
  take(text: TextIn): Promise<void> {
    return new Promise((resolve, reject) => {
      this.waiting.push({ text, since: performance.now(), resolve, reject });
      this.keepStoring();
    });
  }

  /** Resolves when everything that was taken in is stored and acted on. For tests and the end. */
  async settle(): Promise<void> {
    await this.stored();
    await this.acted();
  }

  async stored(): Promise<void> {
    while (this.storing) await this.storing;
  }

  private keepStoring(): void {
    this.storing ??= this.storeAll().finally(() => {
      this.storing = undefined;
      // what came between the last look and here would wait for the next reply
      if (this.waiting.length > 0) this.keepStoring();
    });
  }

  private async storeAll(): Promise<void> {
    while (this.waiting.length > 0) {
      await new Promise((resolve) => setTimeout(resolve, 5)); // a burst is one transaction
      const batch = this.waiting.splice(0, BATCH);
      try {
        await this.store(batch.map(({ text }) => text));
        for (const { resolve } of batch) resolve();
      } catch (error) {
        this.failed(error);
        for (const each of stopsFirst(batch)) await this.storeOne(each);
      }
    }
  }

  private async storeOne({ text, since, resolve, reject }: Waiting): Promise<void> {
    for (let tries = 0; ; tries += 1)
      try {
        await this.store([text]);
        return resolve();
      } catch (error) {
        this.failed(error);
        const patience = performance.now() - since < ANSWER_WITHIN;
        if (!patience || tries >= WAITS.length) break;
        if (isPassing(error)) await new Promise((wake) => setTimeout(wake, WAITS[tries]));
      }
    try {
      await this.db.transaction((tx) => storeBare(tx, text, this.clock.now()));
      resolve();
    } catch (error) {
      this.failed(error);
      reject(error);
    }
  }

  private async store(texts: readonly TextIn[]): Promise<void> {
    const { runs, added } = await this.db.transaction((tx) => storeTexts(tx, texts, this.clock.now()));
    if (added) this.bus.changed('replies');
    for (const run of runs) this.bus.changed('run', run);
  }
}

const kindOf = (text: Pick<TextIn, 'text' | 'octets'>): ReplyKind | 'unread' =>
  text.octets === undefined ? classifyReply(text.text) : 'unread';
const mayStop = (text: TextIn): boolean => ['stop', 'maybe_stop', 'unread'].includes(kindOf(text));

/** Whoever may have said stop comes first, with all they wrote in its order: START and then STOP is not STOP and then START. */
export function stopsFirst<W extends { text: TextIn }>(batch: readonly W[]): W[] {
  const stopping = new Set(batch.filter(({ text }) => mayStop(text)).map(({ text }) => text.number));
  const first = (each: W) => stopping.has(each.text.number);
  return [...batch.filter(first), ...batch.filter((each) => !first(each))];
}

/** Joins parts, leaves out what was handed over twice, stores the rest, registers its stops, and makes acting on it due. */
async function storeTexts(tx: Tx, texts: readonly TextIn[], now: number): Promise<{ runs: number[]; added: boolean }> {
  const whole: WholeText[] = [];
  const jobs: Wanted[] = [];
  for (const text of texts) {
    const { join } = text;
    if (!join || join.total <= 1) whole.push({ ...text, incomplete: false });
    else {
      const joined = await joinPart(tx, { ...text, join }, now);
      if (joined) whole.push(joined);
      // later, or at once, it is shown as whole as it is; and its parts do not stay for ever
      jobs.push({ kind: 'incomplete', due: now + INCOMPLETE_AFTER + 1000 });
    }
  }
  return { ...(await insertTexts(tx, whole, now, jobs)), added: whole.length > 0 };
}

/** Stores texts as replies that wait to be acted on, with their stops registered. */
export async function insertTexts(
  tx: Tx,
  texts: readonly WholeText[],
  now: number,
  jobs: Wanted[] = [],
): Promise<{ runs: number[] }> {
  const fresh = await withoutRedelivered(tx, texts, now);
  const at = iso(now);
  const stored = await insertRows(tx, fresh, at);
  const stops = stored.filter(({ kind }) => kind === 'stop');
  const { runs } = await optOutAll(
    tx,
    stops.map(({ id, number, body }) => ({ number, how: 'texted', words: body, inbound: id })),
    at,
  );
  await want(tx, [
    ...jobs,
    ...wantActing(
      stored.map(({ number }) => number),
      now,
    ),
  ]);
  return { runs };
}

interface Inserted {
  id: number;
  number: string;
  kind: string;
  body: string;
}

async function insertRows(tx: Tx, texts: readonly WholeText[], at: string): Promise<Inserted[]> {
  if (texts.length === 0) return [];
  const of = <T>(pick: (text: WholeText) => T) => texts.map(pick);
  const { rows } = await tx.query<Inserted>(
    `INSERT INTO inbound (received_at, number, to_address, body, kind, incomplete, folded, octets, coding, carrier_id, came_by, trouble)
     SELECT $1::timestamptz, number, to_address, body, kind, incomplete, folded, octets, coding, carrier_id, came_by, trouble
     FROM unnest($2::text[], $3::text[], $4::text[], $5::text[], $6::boolean[], $7::text[], $8::text[], $9::smallint[], $10::text[], $11::text[], $12::text[])
       WITH ORDINALITY AS new (number, to_address, body, kind, incomplete, folded, octets, coding, carrier_id, came_by, trouble, n) ORDER BY n
     RETURNING id, number, kind, body`,
    [
      at,
      of((t) => t.number),
      of((t) => t.to),
      of((t) => t.text),
      of(kindOf),
      of((t) => t.incomplete),
      of((t) => fold(t.text)),
      of((t) => t.octets ?? null),
      of((t) => t.coding ?? null),
      of((t) => t.carrierId ?? null),
      of((t) => t.cameBy ?? null),
      of((t) => (t.why === undefined ? null : `It could not be read: ${t.why}.`)),
    ],
  );
  return rows;
}

/** Leaves out what the carrier hands over once more: it was stored, and its acknowledgement was lost. */
async function withoutRedelivered(tx: Tx, texts: readonly WholeText[], now: number): Promise<WholeText[]> {
  if (texts.length === 0) return [];
  const { rows } = await tx.query<{
    number: string;
    to_address: string;
    words: string;
    received_at: string;
    carrier_id: string | null;
    came_by: string | null;
  }>(
    `SELECT last.* FROM unnest($1::text[]) AS wanted (of) CROSS JOIN LATERAL (
       SELECT number, to_address, coalesce(octets, body) AS words, received_at, carrier_id, came_by FROM inbound WHERE number = of ORDER BY id DESC LIMIT 1) AS last`,
    [[...new Set(texts.map((text) => text.number))]],
  );
  const latest = new Map<string, Came>(
    rows.map((row) => [
      row.number,
      { to: row.to_address, words: row.words, at: Date.parse(row.received_at), id: row.carrier_id, by: row.came_by },
    ]),
  );
  const known: { number: string; by: string }[] = [];
  const fresh = texts.filter((text) => {
    const came: Came = {
      to: text.to,
      words: (text.octets ?? text.text).replaceAll('\0', ''),
      at: now,
      id: text.carrierId ?? null,
      by: text.cameBy ?? null,
    };
    const again = isRedelivery(latest.get(text.number), came);
    if (again && came.by !== null) known.push({ number: text.number, by: came.by });
    latest.set(text.number, came);
    return !again;
  });
  // where it came by last: what a person writes next on this line is another
  for (const { number, by } of known)
    await tx.query(`UPDATE inbound SET came_by = $2 WHERE id = (SELECT max(id) FROM inbound WHERE number = $1)`, [number, by]);
  return fresh;
}

/** A text by itself, in one statement: nothing is joined, found or registered; if it may mean stop, it holds its number all the same. */
async function storeBare(tx: Tx, text: TextIn, now: number): Promise<void> {
  const { join } = text;
  if (join && join.total > 1) {
    await keepPart(tx, { ...text, join }, now);
    return want(tx, [{ kind: 'incomplete', due: now }]);
  }
  await insertRows(tx, [{ ...text, incomplete: false }], iso(now));
  await want(tx, wantActing([text.number], now));
}

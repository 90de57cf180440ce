import { iso } from '../../../core/clock';
import { sizeOf, type Entry } from '../../../core/line/entries';
import { Posting, wants, type Posted, type PostedPart, type PostedText, type Parked } from '../../../core/line/posting';
import { SETTLED, Unanswered, type Meant } from '../../../core/line/unanswered';
import type { ReceiptState, TextState } from '../../../core/outcome/states';
import type { Queryable, Tx } from '../../db/db';
import { want, type Wanted } from '../../desk/job-queries';
import { settleRun, settleTexts } from '../money';
import { followWithOptOut } from './follow-with-opt-out';
import { enqueue, type QueueRow } from './queue';

/** Entries of one posting at most, by the parts they speak of; what is more is left for the next. */
const MOST = 1200;
const AT_ONCE = 400;
/** Late words of the carrier come in bursts; lists are looked at after them, ms. */
const LATE_WORDS = 10_000;

export interface PostResult {
  /** The journal held more than one posting takes. */
  more: boolean;
  runs: number[];
  /** Texts of no run have moved: an answer, a text to one person. */
  singles: boolean;
  /** Something went back into the queue. */
  again: boolean;
}

interface PartRow {
  outbound_id: number;
  part_no: number;
  number: string;
  state: TextState;
  reference: number;
  message_id: string | null;
  reason: string | null;
  attempts: number;
  written_at: string;
  accepted_at: string | null;
  final_at: string | null;
}
interface TextRow {
  id: number;
  run_id: number | null;
  sender_id: number;
  number: string;
  parts: number;
  state: TextState;
  reason: string | null;
  handed_at: string | null;
  final_at: string | null;
  queued: boolean;
}

const ms = (at: string | null): number | null => (at === null ? null : Date.parse(at));
const at = (instant: number | null): string | null => (instant === null ? null : iso(instant));

/**
 * Brings the tables up to date with an owner's journal, in the caller's transaction: the same entries are never posted twice,
 * since how far it has come is written with it. `ended`: the owner is gone, and all of its entries are taken.
 */
export async function postJournal(tx: Tx, asked: { epoch: number; ended: boolean; now: number }): Promise<PostResult> {
  // asked together, carried out one after the other: how far it has come is held before what comes after is read
  const [{ rows: owners }, { rows: stored }] = await Promise.all([
    tx.query<{ posted: number; unanswered: Meant[] }>(`SELECT posted, unanswered FROM line_owner WHERE epoch = $1 FOR UPDATE`, [
      asked.epoch,
    ]),
    tx.query<{ id: number; entry: Entry }>(
      `SELECT id, entry FROM line_journal WHERE epoch = $1 AND id > (SELECT posted FROM line_owner WHERE epoch = $1)
       ORDER BY id LIMIT ${asked.ended ? 1_000_000 : AT_ONCE}`,
      [asked.epoch],
    ),
  ]);
  const nothing: PostResult = { more: false, runs: [], singles: false, again: false };
  if (owners.length === 0) return nothing;
  const entries: Entry[] = [];
  let posted = owners[0].posted;
  let size = 0;
  for (const { id, entry } of stored) {
    if (size >= MOST && !asked.ended) break;
    entries.push(entry);
    size += sizeOf(entry);
    posted = id;
  }
  const unanswered = new Unanswered(owners[0].unanswered);
  if (entries.length === 0 && !(asked.ended && unanswered.size > 0)) return nothing;
  const loaded = await load(
    tx,
    entries,
    asked.ended || entries.some((entry) => entry.kind === 'voided') ? owners[0].unanswered : [],
  );
  const handed = new Map(loaded.texts.map((row) => [row.id, ms(row.handed_at)]));
  const posting = new Posting(
    loaded.texts.map(postedText),
    loaded.parts.map((row) => postedPart(row, handed.get(row.outbound_id) ?? null)),
    loaded.parked,
  );
  for (const entry of entries) {
    posting.take({ kind: 'answers', at: entry.at, answers: unanswered.take(entry) });
    posting.take(entry);
  }
  if (asked.ended) posting.interrupted(unanswered.values(), asked.now);
  const result = posting.finish();
  const byId = new Map(loaded.texts.map((text) => [text.id, text]));
  const { runs, followed } = await store(tx, result, byId, asked.now);
  tx.send(`UPDATE line_owner SET posted = $2, unanswered = $3::jsonb WHERE epoch = $1`, [
    asked.epoch,
    posted,
    JSON.stringify(asked.ended ? [] : unanswered.values()),
  ]);
  return {
    more: stored.length === AT_ONCE || entries.length < stored.length,
    runs,
    singles: result.texts.some((text) => byId.get(text.id)?.run_id === null),
    again: result.again.length > 0 || followed,
  };
}

/** What the entries speak of: texts with all their parts, and receipts that were parked. */
async function load(
  db: Queryable,
  entries: readonly Entry[],
  unanswered: readonly Meant[],
): Promise<{ texts: TextRow[]; parts: PartRow[]; parked: Parked[] }> {
  const wanted = wants(entries);
  for (const { text } of unanswered) wanted.texts.add(text);
  // ids that the entries themselves bring along are known only afterwards
  const brought = new Set(
    entries.flatMap((entry) =>
      entry.kind === 'answers' ? entry.answers.flatMap((a) => (a.kind === 'accepted' ? [a.messageId] : [])) : [],
    ),
  );
  const messageIds = [...wanted.messageIds].filter((id) => !brought.has(id));
  if (messageIds.length > 0) {
    const { rows } = await db.query<{ outbound_id: number; message_id: string }>(
      `SELECT outbound_id, message_id FROM outbound_part WHERE message_id = ANY ($1::text[])`,
      [messageIds],
    );
    for (const row of rows) wanted.texts.add(row.outbound_id);
    const found = new Set(rows.map((row) => row.message_id));
    const early = entries.flatMap((entry) =>
      entry.kind === 'receipts'
        ? entry.receipts.filter((r) => r.reference !== null && !found.has(r.messageId) && !brought.has(r.messageId))
        : [],
    );
    if (early.length > 0) {
      const { rows: open } = await db.query<{ outbound_id: number }>(
        `SELECT DISTINCT outbound_id FROM outbound_part part JOIN unnest($1::text[], $2::int[]) AS early (number, reference)
           ON part.number = early.number AND part.reference = early.reference WHERE part.message_id IS NULL`,
        [early.map((r) => r.number), early.map((r) => r.reference)],
      );
      for (const row of open) wanted.texts.add(row.outbound_id);
    }
  }
  const ids = [...wanted.texts];
  // locked: another owner may post another part of the same text, and each rolls up what it sees
  const { rows: texts } = await db.query<TextRow>(
    `SELECT id, run_id, sender_id, number, parts, state, reason, handed_at, final_at, queue IS NOT NULL AS queued FROM outbound
     WHERE id = ANY ($1::bigint[]) ORDER BY id FOR NO KEY UPDATE`,
    [ids],
  );
  // a text that was never handed over has none yet
  const withParts = texts.filter(({ handed_at, state }) => handed_at !== null || state !== 'planned').map(({ id }) => id);
  const [{ rows: parts }, { rows: parked }] = await Promise.all([
    withParts.length === 0
      ? { rows: [] }
      : db.query<PartRow>(
          `SELECT outbound_id, part_no, number, state, reference, message_id, reason, attempts, written_at, accepted_at, final_at
           FROM outbound_part WHERE outbound_id = ANY ($1::bigint[])`,
          [withParts],
        ),
    wanted.messageIds.size === 0
      ? { rows: [] }
      : db.query<{
          at: string;
          message_id: string;
          reference: number | null;
          number: string;
          state: ReceiptState;
          error: string;
        }>(
          `SELECT at, message_id, reference, number, state, error FROM receipt_parked WHERE message_id = ANY ($1::text[]) ORDER BY id`,
          [[...wanted.messageIds]],
        ),
  ]);
  return {
    texts,
    parts,
    parked: parked.map((row) => ({
      at: Date.parse(row.at),
      why: 'unknown',
      receipt: { messageId: row.message_id, reference: row.reference, number: row.number, state: row.state, error: row.error },
    })),
  };
}

function postedText(row: TextRow): PostedText {
  return {
    id: row.id,
    number: row.number,
    parts: row.parts,
    state: row.state,
    reason: row.reason,
    handedAt: ms(row.handed_at),
    finalAt: ms(row.final_at),
    queued: row.queued,
  };
}
/** @param handed when its text was first handed over; a part whose answer was lost bears the moment of that as its own */
function postedPart(row: PartRow, handed: number | null): PostedPart {
  const writtenAt = ms(row.written_at) ?? 0;
  return {
    text: row.outbound_id,
    no: row.part_no,
    number: row.number,
    state: row.state,
    reference: row.reference,
    messageId: row.message_id,
    reason: row.reason,
    attempts: row.attempts,
    writtenAt,
    handedAt: Math.min(writtenAt, handed ?? writtenAt),
    acceptedAt: ms(row.accepted_at),
    finalAt: ms(row.final_at),
  };
}

const PART_COLUMNS = [
  'outbound_id',
  'part_no',
  'number',
  'state',
  'reference',
  'message_id',
  'reason',
  'attempts',
  'written_at',
  'accepted_at',
  'final_at',
] as const;

async function store(
  tx: Tx,
  posted: Posted,
  texts: ReadonlyMap<number, TextRow>,
  now: number,
): Promise<{ runs: number[]; followed: boolean }> {
  if (posted.fresh.length > 0)
    await tx.copyIn('outbound_part', PART_COLUMNS, [
      posted.fresh.map((p) => [
        p.text,
        p.no,
        p.number,
        p.state,
        p.reference,
        p.messageId,
        p.reason,
        p.attempts,
        iso(p.writtenAt),
        at(p.acceptedAt),
        at(p.finalAt),
      ]),
    ]);
  const { changed } = posted;
  if (changed.length > 0)
    tx.send(
      `UPDATE outbound_part part SET state = new.state, reference = new.reference, message_id = new.message_id, reason = new.reason,
         attempts = new.attempts, written_at = new.written_at, accepted_at = new.accepted_at, final_at = new.final_at
       FROM unnest($1::bigint[], $2::int[], $3::text[], $4::int[], $5::text[], $6::text[], $7::int[], $8::timestamptz[], $9::timestamptz[], $10::timestamptz[])
         AS new (outbound_id, part_no, state, reference, message_id, reason, attempts, written_at, accepted_at, final_at)
       WHERE part.outbound_id = new.outbound_id AND part.part_no = new.part_no`,
      [
        changed.map((p) => p.text),
        changed.map((p) => p.no),
        changed.map((p) => p.state),
        changed.map((p) => p.reference),
        changed.map((p) => p.messageId),
        changed.map((p) => p.reason),
        changed.map((p) => p.attempts),
        changed.map((p) => iso(p.writtenAt)),
        changed.map((p) => at(p.acceptedAt)),
        changed.map((p) => at(p.finalAt)),
      ],
    );
  const moved = posted.texts;
  if (moved.length > 0)
    tx.send(
      `UPDATE outbound SET state = new.state, reason = new.reason, handed_at = new.handed_at, final_at = new.final_at, billed = new.billed, open = new.open,
         queue = CASE WHEN new.queued THEN outbound.queue END
       FROM unnest($1::bigint[], $2::text[], $3::text[], $4::timestamptz[], $5::timestamptz[], $6::int[], $7::int[], $8::bool[])
         AS new (id, state, reason, handed_at, final_at, billed, open, queued)
       WHERE outbound.id = new.id`,
      [
        moved.map((t) => t.id),
        moved.map((t) => t.state),
        moved.map((t) => t.reason),
        moved.map((t) => at(t.handedAt)),
        moved.map((t) => at(t.finalAt)),
        moved.map((t) => t.billed),
        moved.map((t) => t.open),
        moved.map((t) => t.queued),
      ],
    );
  await enqueueAgain(tx, posted, texts);
  const followed = await followWithOptOut(tx, moved, texts, now);
  park(tx, posted);
  const singles = moved.filter((text) => text.open === 0 && texts.get(text.id)?.run_id === null).map((text) => text.id);
  await settleTexts(tx, singles, iso(now));
  const runs = [...new Set(moved.flatMap((text) => texts.get(text.id)?.run_id ?? []))].sort((a, b) => a - b);
  // a part that was found out about after its run had been paid for is put right
  for (const run of runs) await settleRun(tx, run, iso(now));
  await wantAfter(tx, moved, runs, now);
  return { runs, followed };
}

/** Late words make work: parts whose fate is not known are asked about, and lists of runs that have ended are cleaned once more. */
async function wantAfter(tx: Tx, moved: Posted['texts'], runs: readonly number[], now: number): Promise<void> {
  const jobs: Wanted[] = [];
  if (moved.some(({ state }) => state === 'uncertain' || state === 'handing_over'))
    jobs.push({ kind: 'look up', due: now + SETTLED });
  if (moved.some(({ state }) => state === 'not_delivered' || state === 'expired')) {
    const { rows } = await tx.query<{ id: number }>(`SELECT id FROM run WHERE id = ANY ($1::bigint[]) AND ended_at IS NOT NULL`, [
      runs,
    ]);
    for (const { id } of rows) jobs.push({ kind: 'clean lists', key: String(id), due: now + LATE_WORDS });
  }
  await want(tx, jobs);
}

/** Texts to be tried again, in rows by run, sender and moment. */
async function enqueueAgain(tx: Tx, posted: Posted, texts: ReadonlyMap<number, TextRow>): Promise<void> {
  const rows = new Map<string, QueueRow & { ids: number[] }>();
  for (const { text, at: due } of posted.again) {
    const row = texts.get(text);
    if (!row) continue;
    const key = `${row.run_id} ${row.sender_id} ${due}`;
    const known = rows.get(key);
    if (known) {
      known.ids.push(text);
      known.parts += row.parts;
    } else
      rows.set(key, {
        runId: row.run_id,
        senderId: row.sender_id,
        lane: row.run_id === null ? 0 : 1,
        due,
        parts: row.parts,
        ids: [text],
      });
  }
  await enqueue(tx, [...rows.values()]);
  for (const row of rows.values())
    await tx.query(`UPDATE outbound SET due_at = greatest(due_at, $1::timestamptz) WHERE id = ANY ($2::bigint[])`, [
      iso(row.due),
      row.ids,
    ]);
}

function park(tx: Tx, posted: Posted): void {
  if (posted.claimed.length > 0) tx.send(`DELETE FROM receipt_parked WHERE message_id = ANY ($1::text[])`, [posted.claimed]);
  const unknown = posted.parked.filter((each) => each.why === 'unknown');
  if (unknown.length === 0) return;
  const of = <T>(pick: (each: Parked) => T) => unknown.map(pick);
  tx.send(
    `INSERT INTO receipt_parked (at, message_id, reference, number, state, error)
     SELECT * FROM unnest($1::timestamptz[], $2::text[], $3::int[], $4::text[], $5::text[], $6::text[])`,
    [
      of((e) => iso(e.at)),
      of((e) => e.receipt.messageId),
      of((e) => e.receipt.reference),
      of((e) => e.receipt.number),
      of((e) => e.receipt.state),
      of((e) => e.receipt.error),
    ],
  );
}

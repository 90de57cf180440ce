import { iso } from '../../../core/clock';
import { JUST_WROTE } from '../../../core/gate/gate';
import { factsOf, type TextAsRead } from '../../../core/gate/facts-of';
import type { HoursBook } from '../../../core/gate/hours';
import type { WorkspaceHours } from '../../../core/gate/hours-of';
import { decideClaim, referencesOf, type ClaimText } from '../../../core/line/claim';
import type { Answered, Entry } from '../../../core/line/entries';
import type { Committed, LeasedText } from '../../../core/line/effects';
import type { AtOnce } from '../../../core/text/at-once';
import type { Alphabet } from '../../../core/text/measure';
import type { Db, Queryable, Tx } from '../../db/db';
import { sealedAmong } from '../../db/sealed';
import { keepEntries, writeEntries } from './journal';
import { Fenced } from './fenced';
import { enqueue } from './queue';

/** Words of a part to be handed over, beside its intent. */
export interface Words {
  number: string;
  body: string;
  alphabet: Alphabet;
  address: string;
  senderKind: 'long' | 'short' | 'name';
  /** Phones show it at once: as the carrier takes that. */
  showAtOnce: AtOnce | null;
}

/** A text as it stands now, with everything the gate asks for: what `line_texts` names (db/functions/line_texts.sql). */
interface FactRow extends TextAsRead {
  id: number;
  queue: number | null;
  parts: number;
  sender_id: number;
  run_id: number | null;
  body: string;
  alphabet: Alphabet;
  due: number;
  state: string;
  gone: number[] | null;
  show_at_once: AtOnce | null;
  reference_taken: boolean;
}

/** A sender as the line needs it. */
interface LineOf {
  rate: number;
  freeAt: number;
  address: string;
  kind: 'long' | 'short' | 'name';
}

interface Read {
  around: WorkspaceHours;
  lines: Map<number, LineOf>;
  rows: Map<number, FactRow>;
}

/**
 * Everything the gate asks for, read at this moment for these texts; the owner's row and the senders' lines are held until the
 * transaction ends.
 * @throws Fenced
 */
async function readFacts(tx: Queryable, epoch: number, ids: readonly number[], now: number): Promise<Read> {
  // asked together, carried out one after the other: what is held is held before the texts are read
  const [opened, texts] = await Promise.all([
    tx.query<{ read: string | null }>(`SELECT line_opens($1, $2::bigint[]) AS read`, [epoch, ids]),
    tx.query<FactRow>(`SELECT * FROM line_texts($1::bigint[], $2::timestamptz)`, [ids, iso(now - JUST_WROTE)]),
  ]);
  const { read } = opened.rows[0];
  if (read === null) throw new Fenced();
  const { around, lines } = JSON.parse(read) as {
    around: WorkspaceHours & { sealed: boolean };
    lines: { id: number; address: string; kind: LineOf['kind']; rate: number; free_at: number }[] | null;
  };
  const { rows: facts } = texts;
  // in the same transaction: of erased people who had opted out there is nothing but a hash
  if (around.sealed) {
    const erased = await sealedAmong(
      tx,
      facts.filter((row) => !row.registered).map((row) => row.number),
    );
    for (const row of facts) row.registered ||= erased.has(row.number);
  }
  return {
    around,
    lines: new Map(
      (lines ?? []).map((line) => [line.id, { rate: line.rate, freeAt: line.free_at, address: line.address, kind: line.kind }]),
    ),
    rows: new Map(facts.map((row) => [row.id, row])),
  };
}

type Candidate = ClaimText & { leased: LeasedText; row: FactRow };

/**
 * One transaction: fence, journal what the carrier answered, ask the gate for the leased texts on what is read here and now,
 * and journal the intent for those that may go. Nothing is written to a socket that is not in the journal first.
 * @throws Fenced
 */
export async function commitWindow(
  db: Db,
  epoch: number,
  asked: {
    commit: number;
    voided: readonly number[];
    answers: readonly Answered[];
    texts: readonly LeasedText[];
    room: number;
    now: () => number;
  },
  book: HoursBook,
): Promise<{ commit: Committed; words: Map<number, Words> }> {
  const words = new Map<number, Words>();
  const commit: Committed = { at: asked.now(), journaled: 0, intended: [], left: [], putBack: false, askAgain: new Map() };
  const before = (at: number): Entry[] => [
    { kind: 'voided', at, commits: asked.voided },
    { kind: 'answers', at, answers: asked.answers },
  ];
  if (asked.texts.length === 0) {
    commit.journaled = await keepEntries(db, epoch, before(commit.at));
    return { commit, words };
  }
  await db.transaction(async (tx) => {
    // the moment of the gate is when the transaction has its turn, not when it was asked for
    commit.at = asked.now();
    const read = await readFacts(tx, epoch, [...new Set(asked.texts.map((text) => text.id))], commit.at);
    const { entries, freeAt } = await claim(tx, asked, read, book, commit, words);
    commit.journaled = writeEntries(tx, epoch, [...before(commit.at), ...entries], freeAt);
  });
  return { commit, words };
}

async function claim(
  tx: Tx,
  asked: { commit: number; texts: readonly LeasedText[]; room: number },
  read: Read,
  book: HoursBook,
  commit: Committed,
  words: Map<number, Words>,
): Promise<{ entries: Entry[]; freeAt: ReadonlyMap<number, number> }> {
  const now = commit.at;
  const candidates: Candidate[] = [];
  for (const leased of asked.texts) {
    const row = read.rows.get(leased.id);
    const todo = row ? Array.from({ length: row.parts }, (_, i) => i + 1).filter((no) => !row.gone?.includes(no)) : [];
    if (!row || row.queue !== leased.row || row.state === 'not_sent' || todo.length === 0) commit.left.push(leased);
    else
      candidates.push({
        leased,
        row,
        id: row.id,
        sender: row.sender_id,
        due: row.due,
        todo,
        facts: factsOf(row, read.around, now),
      });
  }
  const claimed = decideClaim({ now, texts: candidates, room: asked.room, lines: read.lines, book });
  for (const { text, until } of claimed.go) {
    const { row } = text;
    const sender = read.lines.get(text.sender);
    const references = referencesOf(text.id, text.todo, row.reference_taken);
    commit.left.push(text.leased);
    text.todo.forEach((no, i) => commit.intended.push({ text: text.id, no, reference: references[i], until }));
    words.set(text.id, {
      number: row.number,
      body: row.body,
      alphabet: row.alphabet,
      address: sender?.address ?? '',
      senderKind: sender?.kind ?? 'long',
      showAtOnce: row.show_at_once,
    });
  }
  commit.askAgain = claimed.askAgain;
  for (const { text } of claimed.never) commit.left.push(text.leased);
  await putBack(tx, claimed, commit);
  return {
    entries: [
      {
        kind: 'intent',
        at: now,
        commit: asked.commit,
        parts: commit.intended.map(({ text, no, reference }) => ({ text, no, reference })),
      },
      { kind: 'dropped', at: now, texts: claimed.never.map(({ text, reason }) => ({ text: text.id, reason })) },
    ],
    freeAt: claimed.freeAt,
  };
}

/** Those who may not go at this hour, or whose run is paused, go back into the queue, in rows of their own. */
async function putBack(tx: Tx, claimed: ReturnType<typeof decideClaim<Candidate>>, commit: Committed): Promise<void> {
  const rows = new Map<
    string,
    { runId: number | null; senderId: number; lane: 0 | 1 | 2; due: number; parts: number; ids: number[] }
  >();
  const put = (text: Candidate, due: number) => {
    const key = `${text.row.run_id} ${text.sender} ${due}`;
    const known = rows.get(key);
    commit.left.push(text.leased);
    if (known) {
      known.ids.push(text.id);
      known.parts += text.todo.length;
    } else
      rows.set(key, {
        runId: text.row.run_id,
        senderId: text.sender,
        lane: text.row.run_id === null ? 0 : 1,
        due,
        parts: text.todo.length,
        ids: [text.id],
      });
  };
  for (const { text, at } of claimed.later) put(text, at);
  // a second at a time: texts of a paused run that were due apart stay together in few rows
  for (const text of claimed.hold) put(text, Math.ceil(text.due / 1000) * 1000);
  if (rows.size === 0) return;
  commit.putBack = true;
  await enqueue(tx, [...rows.values()]);
  for (const [at, ids] of byMoment(claimed.later))
    await tx.query(`UPDATE outbound SET due_at = $1::timestamptz WHERE id = ANY ($2::bigint[])`, [iso(at), ids]);
}

function byMoment(later: readonly { text: Candidate; at: number }[]): Map<number, number[]> {
  const moments = new Map<number, number[]>();
  for (const { text, at } of later) moments.set(at, [...(moments.get(at) ?? []), text.id]);
  return moments;
}

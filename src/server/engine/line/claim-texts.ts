import { iso } from '../../../core/clock';
import { JUST_WROTE, type GateFacts } from '../../../core/gate/gate';
import { hoursKey, type AllowedHours, type HoursBook, type HoursRule } from '../../../core/gate/hours';
import { hoursIn, type WorkspaceHours } from '../../../core/gate/hours-of';
import { plausibleZones } from '../../../core/gate/plausible';
import { decideClaim, referencesOf, type ClaimText } from '../../../core/line/claim';
import type { Answered, Entry } from '../../../core/line/entries';
import type { Committed, LeasedText } from '../../../core/line/effects';
import type { RunState } from '../../../core/outcome/states';
import { isNumber } from '../../../core/phone/number';
import { yearsBetween } from '../../../core/people/day';
import { wallClock } from '../../../core/zones';
import type { Alphabet } from '../../../core/text/measure';
import type { Db, Queryable, Tx } from '../../db/db';
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
}

/** A text as it stands now, with everything the gate asks for: what `line_facts` names (db/functions/line_facts.sql). */
interface FactRow {
  id: number;
  queue: number | null;
  kind: Exclude<GateFacts['kind'], 'own'> | 'opt_out' | 'copy' | 'automatic' | 'passed' | 'alarm';
  number: string;
  parts: number;
  sender_id: number;
  run_id: number | null;
  body: string;
  alphabet: Alphabet;
  due: number;
  not_after: number;
  state: string;
  gone: number[] | null;
  reference_taken: boolean;
  registered: boolean;
  undecided: 'stop' | 'maybe' | null;
  person_id: number | null;
  person_here: number | null;
  person_number: string | null;
  zone: string | null;
  zone_guessed: boolean | null;
  quiet: string | null;
  born: string | null;
  consent: 'granted' | 'withdrawn' | 'cleared' | null;
  must_not: boolean;
  wrote: boolean;
  run_state: RunState | null;
  run_note: string | null;
  purpose: 'service' | 'marketing' | null;
  allowed: AllowedHours | null;
  urgent: string | null;
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
  const { rows } = await tx.query<{ read: string | null }>(`SELECT line_facts($1, $2::bigint[], $3::timestamptz) AS read`, [
    epoch,
    ids,
    iso(now - JUST_WROTE),
  ]);
  if (rows[0].read === null) throw new Fenced();
  const { around, lines, facts } = JSON.parse(rows[0].read) as {
    around: WorkspaceHours;
    lines: { id: number; address: string; kind: LineOf['kind']; rate: number; free_at: number }[] | null;
    facts: FactRow[] | null;
  };
  return {
    around,
    lines: new Map(
      (lines ?? []).map((line) => [line.id, { rate: line.rate, freeAt: line.free_at, address: line.address, kind: line.kind }]),
    ),
    rows: new Map((facts ?? []).map((row) => [row.id, row])),
  };
}

/**
 * What follows a run's text, and its copies, are allowed what that is allowed, no more; what goes by itself to one number is
 * allowed what an answer is, but not where they may have said stop.
 */
const GATED_AS: Record<FactRow['kind'], GateFacts['kind']> = {
  run: 'run',
  opt_out: 'run',
  copy: 'run',
  test: 'test',
  confirmation: 'confirmation',
  reply: 'reply',
  automatic: 'own',
  passed: 'own',
  alarm: 'own',
};

/** The gate's facts out of a row. */
function factsOf(row: FactRow, around: WorkspaceHours, now: number): GateFacts {
  const hours = rule(row, around);
  return {
    kind: GATED_AS[row.kind],
    number: isNumber(row.number),
    purpose: row.purpose ?? 'service',
    registered: row.registered,
    person:
      row.person_id === null
        ? 'none'
        : row.person_here === null
          ? 'erased'
          : row.person_number === row.number
            ? 'here'
            : 'changed',
    consent: row.consent,
    mustNot: row.must_not,
    undecided: row.undecided,
    minor: row.purpose === 'marketing' && row.born !== null && yearsBetween(row.born, wallClock(now, around.zone).date) < 18,
    notAfter: row.not_after,
    run: row.run_state === null ? null : { state: row.run_state, note: row.run_note ?? '' },
    hours,
    hoursKey: keyOf(hours),
    override: row.urgent !== null,
    asked: row.kind === 'confirmation' || row.kind === 'test' || row.wrote,
  };
}

const keys = new WeakMap<HoursRule, string>();
function keyOf(hours: HoursRule): string {
  let key = keys.get(hours);
  if (key === undefined) keys.set(hours, (key = hoursKey(hours)));
  return key;
}

const rules = new Map<string, HoursRule>();
function rule(row: FactRow, around: WorkspaceHours): HoursRule {
  const zones = plausibleZones({ zone: row.zone, zoneGuessed: row.zone_guessed ?? true, number: row.number }, around.zone);
  const key = `${zones.join('|')} ${around.quiet_from} ${around.quiet_to} ${row.quiet ?? ''} ${row.allowed ? JSON.stringify(row.allowed) : ''}`;
  let known = rules.get(key);
  if (!known) {
    known = hoursIn(zones, row.quiet, around, row.allowed);
    if (rules.size > 5000) rules.clear();
    rules.set(key, known);
  }
  return known;
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
    commit.journaled = await writeEntries(tx, epoch, [...before(commit.at), ...entries], freeAt);
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

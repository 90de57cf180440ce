import { iso } from '../../../core/clock';
import type { GateFacts } from '../../../core/gate/gate';
import { hoursKey, type AllowedHours, type HoursBook, type HoursRule } from '../../../core/gate/hours';
import { plausibleZones } from '../../../core/gate/plausible';
import { decideClaim, referencesOf, type ClaimText } from '../../../core/line/claim';
import type { Answered, Entry } from '../../../core/line/entries';
import type { Committed, LeasedText } from '../../../core/line/line';
import type { RunState } from '../../../core/outcome/states';
import { yearsBetween } from '../../../core/people/day';
import { wallClock } from '../../../core/plan/zones';
import type { Alphabet } from '../../../core/text/measure';
import type { Db, Queryable, Tx } from '../../db/db';
import { writeEntries } from './journal';
import { Fenced } from './owner';
import { enqueue } from './queue';

/** Words of a part to be handed over, beside its intent. */
export interface Words {
  number: string;
  body: string;
  alphabet: Alphabet;
  address: string;
  senderKind: 'long' | 'short' | 'name';
}

/** A text as it stands now, with everything the gate asks for. */
interface FactRow {
  id: number;
  queue: number | null;
  kind: 'run' | 'test' | 'confirmation' | 'reply';
  number: string;
  parts: number;
  sender_id: number;
  run_id: number | null;
  body: string;
  alphabet: Alphabet;
  due_at: string;
  not_after: string;
  open: number;
  state: string;
  gone: number[] | null;
  reference_taken: boolean;
  registered: boolean;
  undecided: boolean;
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

export interface Surroundings {
  zone: string;
  quiet_from: string;
  quiet_to: string;
}

/** A reply within this time answers someone who is awake, ms. */
const JUST_WROTE = 3_600_000;

/**
 * Everything the gate asks for, read at this moment for these texts. Consent is the latest word for the purpose at the very
 * number; for a bare number, anyone's "no" who has it counts.
 */
export async function readFacts(db: Queryable, ids: readonly number[], now: number): Promise<FactRow[]> {
  const { rows } = await db.query<FactRow>(
    `SELECT o.id, o.queue, o.kind, o.number, o.parts, o.sender_id, o.run_id, o.body, o.alphabet, o.due_at, o.not_after, o.open, o.state, o.person_id,
       CASE WHEN o.open < o.parts OR o.state <> 'planned'
         THEN (SELECT array_agg(part_no::int) FROM outbound_part p WHERE p.outbound_id = o.id AND p.state <> 'planned') END AS gone,
       EXISTS (SELECT 1 FROM outbound_part p WHERE p.number = o.number AND p.reference BETWEEN (o.id % 4095) * 16 AND (o.id % 4095) * 16 + 15
         AND p.outbound_id <> o.id AND p.state IN ('planned', 'handing_over', 'with_carrier', 'uncertain')) AS reference_taken,
       s.number IS NOT NULL AS registered, h.number IS NOT NULL AS undecided,
       person.id AS person_here, person.number AS person_number, person.zone, person.zone_guessed, person.quiet, person.born,
       CASE WHEN o.kind <> 'run' THEN NULL
         WHEN o.person_id IS NOT NULL THEN (SELECT act FROM consent_now c WHERE c.person_id = o.person_id AND c.purpose = run.purpose AND c.number = o.number)
         WHEN EXISTS (SELECT 1 FROM person x JOIN consent_now c ON c.person_id = x.id AND c.purpose = run.purpose AND c.number = o.number
           WHERE x.number = o.number AND c.act = 'withdrawn') THEN 'withdrawn'
         ELSE 'granted' END AS consent,
       o.dependants IS NOT NULL AND EXISTS (SELECT 1 FROM guardianship g WHERE g.person_id = o.person_id AND g.dependant_id = ANY (o.dependants) AND g.must_not_receive) AS must_not,
       o.kind = 'reply' AND EXISTS (SELECT 1 FROM inbound i WHERE i.number = o.number AND i.received_at > $2::timestamptz) AS wrote,
       run.state AS run_state, run.note AS run_note, run.purpose, run.allowed, run.urgent
     FROM outbound o LEFT JOIN run ON run.id = o.run_id LEFT JOIN person ON person.id = o.person_id
       LEFT JOIN suppression s ON s.number = o.number LEFT JOIN hold_number h ON h.number = o.number
     WHERE o.id = ANY ($1::bigint[])`,
    [ids, iso(now - JUST_WROTE)],
  );
  return rows;
}

/** The gate's facts out of a row. */
export function factsOf(row: FactRow, around: Surroundings, now: number): GateFacts {
  const hours = rule(row, around);
  return {
    kind: row.kind,
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
    notAfter: Date.parse(row.not_after),
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
function rule(row: FactRow, around: Surroundings): HoursRule {
  const zones = plausibleZones({ zone: row.zone, zoneGuessed: row.zone_guessed ?? true, number: row.number }, around.zone);
  const key = `${zones.join('|')} ${around.quiet_from} ${around.quiet_to} ${row.quiet ?? ''} ${row.allowed ? JSON.stringify(row.allowed) : ''}`;
  let known = rules.get(key);
  if (!known) {
    known = {
      zones,
      quiet: { from: around.quiet_from, to: around.quiet_to },
      own: row.quiet ? { from: row.quiet.slice(0, 5), to: row.quiet.slice(6) } : null,
      allowed: row.allowed,
    };
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
  asked: { answers: readonly Answered[]; texts: readonly LeasedText[]; room: number; now: () => number },
  book: HoursBook,
): Promise<{ commit: Committed; words: Map<number, Words> }> {
  return db.transaction(async (tx) => {
    const { rows: around } = await tx.query<Surroundings>(
      `SELECT zone, quiet_from, quiet_to FROM workspace, (SELECT epoch FROM line_owner WHERE epoch = $1 AND ended_at IS NULL FOR SHARE) AS own`,
      [epoch],
    );
    if (around.length === 0) throw new Fenced();
    // the moment of the gate is when the transaction has its turn, not when it was asked for
    const now = asked.now();
    const commit: Committed = { at: now, journaled: 0, intended: [], left: [], putBack: false, askAgain: new Map() };
    const words = new Map<number, Words>();
    const entries: Entry[] = [{ kind: 'answers', at: now, answers: asked.answers }];
    if (asked.texts.length > 0) await claim(tx, { ...asked, now, around: around[0] }, book, commit, words, entries);
    commit.journaled = await writeEntries(tx, epoch, entries);
    return { commit, words };
  });
}

async function claim(
  tx: Tx,
  asked: { texts: readonly LeasedText[]; room: number; now: number; around: Surroundings },
  book: HoursBook,
  commit: Committed,
  words: Map<number, Words>,
  entries: Entry[],
): Promise<void> {
  const { now } = asked;
  const facts = new Map((await readFacts(tx, [...new Set(asked.texts.map((text) => text.id))], now)).map((row) => [row.id, row]));
  const candidates: Candidate[] = [];
  for (const leased of asked.texts) {
    const row = facts.get(leased.id);
    const todo = row ? Array.from({ length: row.parts }, (_, i) => i + 1).filter((no) => !row.gone?.includes(no)) : [];
    if (!row || row.queue !== leased.row || row.state === 'not_sent' || todo.length === 0) commit.left.push(leased);
    else
      candidates.push({
        leased,
        row,
        id: row.id,
        sender: row.sender_id,
        due: Date.parse(row.due_at),
        todo,
        facts: factsOf(row, asked.around, now),
      });
  }
  if (candidates.length === 0) return;
  const senders = await readLines(tx, [...new Set(candidates.map((each) => each.sender))]);
  const claimed = decideClaim({ now, texts: candidates, room: asked.room, lines: senders, book });
  for (const { text, until } of claimed.go) {
    const { row } = text;
    const sender = senders.get(text.sender);
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
  entries.push(
    { kind: 'intent', at: now, parts: commit.intended.map(({ text, no, reference }) => ({ text, no, reference })) },
    { kind: 'dropped', at: now, texts: claimed.never.map(({ text, reason }) => ({ text: text.id, reason })) },
  );
  commit.askAgain = claimed.askAgain;
  for (const { text } of claimed.never) commit.left.push(text.leased);
  await putBack(tx, claimed, commit);
  // out of its row at once: nobody else may take it up before the fold says so in the tables
  const out = [...claimed.go, ...claimed.never].map(({ text }) => text.id);
  if (claimed.never.length > 0) await tx.query(`UPDATE outbound SET queue = NULL WHERE id = ANY ($1::bigint[])`, [out]);
  for (const [sender, freeAt] of claimed.freeAt)
    await tx.query(`UPDATE line_pace SET free_at = $2 WHERE sender_id = $1`, [sender, Math.ceil(freeAt)]);
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

interface Line {
  rate: number;
  freeAt: number;
  address: string;
  kind: 'long' | 'short' | 'name';
}

/** The senders' rates and when their lines are free, held until the transaction ends. */
async function readLines(tx: Tx, ids: readonly number[]): Promise<Map<number, Line>> {
  const read = () =>
    tx.query<{ id: number; address: string; kind: Line['kind']; parts_per_second: number; free_at: number }>(
      `SELECT sender.id, address, kind, parts_per_second, free_at FROM sender JOIN line_pace ON sender_id = sender.id
       WHERE sender.id = ANY ($1::bigint[]) ORDER BY sender.id FOR UPDATE OF line_pace`,
      [ids],
    );
  let { rows } = await read();
  if (rows.length < ids.length) {
    await tx.query(
      `INSERT INTO line_pace (sender_id) SELECT id FROM sender WHERE id = ANY ($1::bigint[]) ON CONFLICT DO NOTHING`,
      [ids],
    );
    ({ rows } = await read());
  }
  return new Map(
    rows.map((row) => [row.id, { rate: row.parts_per_second, freeAt: row.free_at, address: row.address, kind: row.kind }]),
  );
}

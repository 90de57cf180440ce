import { iso } from '../../../core/clock';
import { saysWrong } from '../../../core/outcome/alarms';
import type { ReplyKind } from '../../../core/outcome/keywords';
import { readChoice } from '../../../core/outcome/question';
import { isReactionTo, quotedByReaction } from '../../../core/outcome/reaction';
import { isNumber } from '../../../core/phone/number';
import type { Tx } from '../../db/db';
import { raiseAlarm } from '../runs/alarms';
import { awayWords } from './away';
import { answerByItself, type OwnAnswer } from './by-itself';
import { EngineError } from '../engine-error';
import { isRegistered, optIn, optOutAll } from '../register';
import { wordsAfter } from './own-words';
import { echoes, noteForPassing } from '../passing/note';
import { answerByText } from '../passing/pass-back';
import { REPLIES_UNTIL } from './reply-window-sql';
import { questionOfRun } from './run-question';
import { signUp } from './sign-up';
import { whoHas } from './who-has';

/** A reply as it was taken in. */
export interface Stored {
  id: number;
  number: string;
  to_address: string;
  body: string;
  kind: ReplyKind | 'unread';
  received_at: string;
}

/** What replies of different numbers ask for, with what answers them; gives the runs that changed. */
export async function act(tx: Tx, all: readonly Stored[], now: number): Promise<number[]> {
  if (all.length === 0) return [];
  // what was put away until they write again waits again
  await tx.query(`UPDATE conversation SET later_at = NULL WHERE number = ANY ($1::text[]) AND later_at IS NOT NULL`, [
    all.map(({ number }) => number),
  ]);
  const around = await aroundReplies(tx, all, now);
  const { runs, first } = await registerStops(tx, all, iso(now));
  const done: { id: number; told: Told }[] = [];
  for (const stored of all) {
    const met = around.get(stored.id);
    if (!met) continue;
    const decided = await decide(tx, stored, met, first.has(stored.id), now);
    const { told, answer } = decided;
    if (answer) {
      const why = await tryToAnswer(tx, stored, answer, now);
      if (why !== undefined) told.trouble = told.trouble === null ? why : `${told.trouble} ${why}`;
    }
    runs.push(...decided.runs);
    done.push({ id: stored.id, told });
  }
  await markApplied(tx, done, iso(now));
  return runs;
}

/** Best effort: an answer that cannot be sent takes nothing back, and is told with the reply. It is refused before anything is written. */
async function tryToAnswer(tx: Tx, stored: Stored, answer: OwnAnswer, now: number): Promise<string | undefined> {
  try {
    const came = await answerByItself(tx, stored, answer, now);
    return came === 'too dear'
      ? 'It was not answered by itself: what numbers nobody knows may cost a day is used up.'
      : undefined;
  } catch (error) {
    if (!(error instanceof EngineError)) throw error;
    return `It was acted on, but could not be confirmed: ${error.message}`;
  }
}

interface Decided {
  runs: number[];
  answer?: OwnAnswer;
  told: Told;
}

/** @param first it was by this one that its number came into the register */
async function decide(tx: Tx, stored: Stored, around: Around, first: boolean, now: number): Promise<Decided> {
  const at = iso(now);
  const { number } = stored;
  const kind = await kindOf(tx, stored, around);
  const { last } = around;
  // who has the number now, whoever was texted there before
  const known = around.person;
  const told: Told = {
    kind,
    person: known,
    run: last?.run_id ?? null,
    late: last?.late ?? false,
    done: SETTLED.has(kind),
    trouble: null,
  };
  const answer = (words: string, as: OwnAnswer['kind']): OwnAnswer => ({
    kind: as,
    words,
    person: told.person,
    sender: last?.sender_id,
  });
  // a text that holds one of ours comes from a machine that hands on what it gets: it answers nobody
  const echo = kind !== 'stop' && kind !== 'reaction' && around.written && (await echoes(tx, number, stored.body, now));
  if (kind !== 'stop' && kind !== 'reaction' && kind !== 'unread' && !echo && around.told) {
    const back = await answerByText(tx, { number, body: stored.body, kind }, now);
    if (back) {
      // somebody whom replies are passed on to: what went on needs nobody; what did not waits, and they are told why
      Object.assign(told, {
        kind: 'answer',
        run: null,
        late: false,
        done: back.sent,
        trouble: (back.sent ? null : back.says) ?? null,
      });
      // said again with a mark: what did not say whom it answers is done with
      if (back.sent)
        await tx.query(`UPDATE inbound SET done_at = $2::timestamptz WHERE number = $1 AND kind = 'answer' AND done_at IS NULL`, [
          number,
          at,
        ]);
      return { runs: [], answer: back.says === undefined ? undefined : answer(back.says, 'automatic'), told };
    }
  }
  const runs: number[] = last?.run_id ? [last.run_id] : [];
  let own: OwnAnswer | undefined;
  let keyword: number | null = null;
  if (kind === 'stop') {
    if (first) own = answer(await wordsAfter(tx, 'stop', known), 'confirmation');
  } else if (kind === 'start') {
    // a stop that came after it goes before it, whichever was acted on first
    if (!(await stoppedSince(tx, stored)) && (await optIn(tx, number)))
      own = answer(await wordsAfter(tx, 'start', known), 'automatic');
  } else if (kind === 'help')
    // whoever opted out hears that they did, and nothing else
    own = (await isRegistered(tx, number))
      ? answer(await wordsAfter(tx, 'stop', known), 'confirmation')
      : answer(await wordsAfter(tx, 'help', known), 'automatic');
  if (kind === 'reply' && !echo) {
    const wrote = { ...stored, person: known, sender: last?.sender_id, afterRun: last?.kind === 'run' };
    const signed = around.keywords && isNumber(number) ? await signUp(tx, { ...wrote, number }, now) : undefined;
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
  return { runs, answer: own, told };
}

/** What it was taken for, unless it is only a reaction to a text of ours, which quotes words of stopping that nobody said. */
async function kindOf(tx: Tx, { kind, body, number }: Stored, { last }: Around): Promise<Told['kind']> {
  if (kind === 'stop' || kind === 'unread' || last === null || quotedByReaction(body) === undefined) return kind;
  const { rows } = await tx.query<{ body: string }>(
    `SELECT body FROM outbound WHERE number = $1 AND handed_at IS NOT NULL ORDER BY id DESC LIMIT 50`,
    [number],
  );
  return isReactionTo(
    body,
    rows.map((row) => row.body),
  )
    ? 'reaction'
    : kind;
}

/** Registers the stops among replies of different numbers; gives those by which their number came into the register, and the runs that lost texts. */
async function registerStops(
  tx: Tx,
  all: readonly Stored[],
  at: string,
): Promise<{ runs: number[]; first: ReadonlySet<number> }> {
  const stops = all.filter(({ kind }) => kind === 'stop');
  if (stops.length === 0) return { runs: [], first: new Set() };
  const { runs } = await optOutAll(
    tx,
    stops.map(({ id, number, body }) => ({ number, how: 'texted', words: body, inbound: id })),
    at,
  );
  const { rows } = await tx.query<{ inbound_id: number }>(
    `SELECT inbound_id FROM suppression WHERE number = ANY ($1::text[]) AND inbound_id = ANY ($2::bigint[])`,
    [stops.map(({ number }) => number), stops.map(({ id }) => id)],
  );
  return { runs: [...runs], first: new Set(rows.map((row) => row.inbound_id)) };
}

async function stoppedSince(tx: Tx, { number, id }: Stored): Promise<boolean> {
  return (
    (await tx.query(`SELECT 1 FROM inbound WHERE number = $1 AND id > $2 AND kind = 'stop' LIMIT 1`, [number, id])).rowCount > 0
  );
}

/** What a reply meets, in one look, so that a storm of them asks only what is there to be asked. */
interface Around {
  /** The latest text to that number: it tells what the answer is about. */
  last: Last | null;
  /** Who has the number now: of several the one that was texted there last. */
  person: number | null;
  /** Something but runs was written to it within a day; it is told of others' replies; and what is set for everybody. */
  written: boolean;
  told: boolean;
  keywords: boolean;
  passing: boolean;
  away: boolean;
}

interface Last {
  run_id: number | null;
  sender_id: number;
  kind: string;
  /** The days are over for which its sender reads replies. */
  closed: boolean;
  /** Or what it says was of no more use when the reply came. */
  late: boolean;
}

async function aroundReplies(tx: Tx, all: readonly Stored[], now: number): Promise<Map<number, Around>> {
  const { rows } = await tx.query<Around & { id: number }>(
    `SELECT i.id, (SELECT jsonb_build_object('run_id', run_id, 'sender_id', sender_id, 'kind', kind,
         'closed', coalesce(until <= i.received_at, false), 'late', coalesce(coalesce(until, not_after) <= i.received_at, false))
       FROM (SELECT o.id, o.run_id, o.sender_id, o.kind, run.not_after, ${REPLIES_UNTIL} AS until
         FROM outbound o LEFT JOIN run ON run.id = o.run_id LEFT JOIN person ON person.id = o.person_id CROSS JOIN workspace
         WHERE o.number = i.number AND o.handed_at IS NOT NULL ORDER BY o.id DESC LIMIT 1) AS it) AS last,
       ${whoHas('i.number')} AS person,
       EXISTS (SELECT 1 FROM outbound WHERE number = i.number AND kind <> 'run' AND due_at > $2::timestamptz) AS written,
       EXISTS (SELECT 1 FROM pass_on WHERE way = 'text' AND address = i.number) AS told,
       EXISTS (SELECT 1 FROM keyword) AS keywords,
       EXISTS (SELECT 1 FROM pass_on WHERE ended_at IS NULL) AS passing,
       EXISTS (SELECT 1 FROM desk_setting WHERE away_on) AS away
     FROM inbound i WHERE i.id = ANY ($1::bigint[])`,
    [all.map(({ id }) => id), iso(now - 86_400_000)],
  );
  return new Map(rows.map((row) => [row.id, row]));
}

/** What nobody has to answer, and what is passed on to whoever wants to know. */
const SETTLED: ReadonlySet<string> = new Set(['stop', 'start', 'auto', 'reaction']);
const PASSED: ReadonlySet<string> = new Set(['reply', 'help', 'maybe_stop']);

/** What a reply was taken for. */
interface Told {
  kind: ReplyKind | 'answer' | 'unread' | 'reaction';
  person: number | null;
  run: number | null;
  late: boolean;
  done: boolean;
  trouble: string | null;
}

async function markApplied(tx: Tx, done: readonly { id: number; told: Told }[], at: string): Promise<void> {
  const of = <T>(pick: (told: Told) => T) => done.map(({ told }) => pick(told));
  await tx.query(
    `UPDATE inbound SET applied = true, kind = new.kind, person_id = new.person_id, run_id = new.run_id, done_at = CASE WHEN new.done THEN $2::timestamptz END,
       trouble = coalesce(new.trouble, inbound.trouble), late = new.late
     FROM unnest($1::bigint[], $3::text[], $4::bigint[], $5::bigint[], $6::boolean[], $7::text[], $8::boolean[]) AS new (id, kind, person_id, run_id, done, trouble, late)
     WHERE inbound.id = new.id`,
    [
      done.map(({ id }) => id),
      at,
      of((t) => t.kind),
      of((t) => t.person),
      of((t) => t.run),
      of((t) => t.done),
      of((t) => t.trouble),
      of((t) => t.late),
    ],
  );
}

/** An answer that plainly makes one of the choices that its run asks for is counted there, and waits for nobody. */
async function makesChoice(tx: Tx, run: number, body: string): Promise<boolean> {
  const wordings = await questionOfRun(tx, run);
  return wordings.length > 0 && typeof readChoice(body, wordings) === 'number';
}

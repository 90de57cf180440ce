import type { RunTally } from '../../core/api/sending/runs';
import { readChoice, type Counted } from '../../core/outcome/question';
import type { Queryable, Tx } from '../db/db';
import { questionOfRun } from '../engine/for-others';

/** So many doubtful answers are shown at once. */
const SHOWN = 5;
const CHUNK = 5000;

interface Said {
  id: number;
  number: string;
  body: string;
  choice: number | null;
  person_id: number | null;
  late: boolean;
}

/** What those who wrote said of a run's question, by number. */
interface Answered {
  /** The last of each that says anything of it: "thanks" after "1" takes nothing back. */
  last: Map<string, { said: Said; counted: Counted }>;
  /** What came when replies were read no more, as the text had said: for a person to count, and it takes nothing back. */
  afterwards: Map<string, Said>;
  wrote: Set<string>;
}

async function readAnswers(db: Queryable, run: number, wordings: readonly string[][]): Promise<Answered> {
  const closes = (await db.query(`SELECT 1 FROM run WHERE id = $1 AND reply_days IS NOT NULL`, [run])).rowCount > 0;
  const answered: Answered = { last: new Map(), afterwards: new Map(), wrote: new Set() };
  const { last, afterwards, wrote } = answered;
  for (let after = 0; ;) {
    const { rows } = await db.query<Said>(
      `SELECT id, number, body, choice, person_id, late FROM inbound WHERE run_id = $1 AND kind IN ('reply', 'maybe_stop') AND id > $2 ORDER BY id LIMIT ${CHUNK}`,
      [run, after],
    );
    for (const said of rows) {
      wrote.add(said.number);
      const counted: Counted = said.choice === null ? readChoice(said.body, wordings) : said.choice < 0 ? 'none' : said.choice;
      if (closes && said.late && said.choice === null) {
        if (counted !== 'none') afterwards.set(said.number, said);
      } else if (counted !== 'none') last.set(said.number, { said, counted });
      else if (said.choice !== null) last.delete(said.number);
    }
    if (rows.length < CHUNK) return answered;
    after = rows[rows.length - 1].id;
  }
}

/** Numbers of those whose answer to a run's question is counted as a choice, from 0. */
export async function numbersThatChose(db: Queryable, run: number, choice: number): Promise<string[]> {
  const wordings = await questionOfRun(db, run);
  if (wordings.length === 0) return [];
  const { last } = await readAnswers(db, run, wordings);
  return [...last].flatMap(([number, { counted }]) => (counted === choice ? [number] : []));
}

/**
 * Answers to a run's question, each person counted once by the last that they said of it. What somebody of the desk has said of an
 * answer goes before how it is read.
 */
export async function tallyOfRun(db: Queryable, run: number): Promise<RunTally> {
  const wordings = await questionOfRun(db, run);
  if (wordings.length === 0) return { choices: [], people: [], doubtful: [], doubts: 0, others: 0, silent: 0 };
  const { delivered } = (
    await db.query<{ delivered: number }>(
      `SELECT coalesce((SELECT people FROM run_tally WHERE run_id = $1 AND state = 'delivered'), 0) AS delivered`,
      [run],
    )
  ).rows[0];
  const { last, afterwards, wrote } = await readAnswers(db, run, wordings);
  const [choices] = wordings;
  const people = choices.map(() => 0);
  const doubts: Said[] = [...afterwards.values()];
  for (const { said, counted } of last.values())
    if (counted === 'doubtful' || counted === 'none' || counted >= people.length) doubts.push(said);
    else people[counted] += 1;
  const shown = doubts.slice(0, SHOWN);
  const names = new Map(
    (
      await db.query<{ id: number; name: string }>(
        `SELECT id, trim(given_name || ' ' || family_name) AS name FROM person WHERE id = ANY ($1::bigint[])`,
        [shown.flatMap(({ person_id }) => person_id ?? [])],
      )
    ).rows.map(({ id, name }) => [id, name]),
  );
  return {
    choices,
    people,
    doubtful: shown.map(({ id, number, body, person_id, late }) => ({
      id,
      number,
      body,
      name: names.get(person_id ?? 0) ?? '',
      late: late && afterwards.has(number),
    })),
    doubts: doubts.length,
    others: [...wrote].filter((number) => !last.has(number) && !afterwards.has(number)).length,
    silent: Math.max(0, delivered - wrote.size),
  };
}

/** What somebody of the desk says of a reply. False when there is no such reply. */
export async function sayChoice(tx: Tx, reply: number, choice: number | null): Promise<boolean> {
  return (await tx.query(`UPDATE inbound SET choice = $2::smallint WHERE id = $1`, [reply, choice ?? -1])).rowCount > 0;
}

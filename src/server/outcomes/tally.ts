import type { RunTally } from '../../core/api/runs';
import { readChoice, type Counted } from '../../core/outcome/question';
import type { Queryable, Tx } from '../db/db';
import { questionOfRun } from '../engine/run-question';

/** So many doubtful answers are shown at once. */
const SHOWN = 5;
const CHUNK = 5000;

interface Said {
  id: number;
  number: string;
  body: string;
  choice: number | null;
  person_id: number | null;
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
  // the last of each person that says anything of the question: "thanks" after "1" takes nothing back
  const last = new Map<string, { said: Said; counted: Counted }>();
  const wrote = new Set<string>();
  for (let after = 0; ;) {
    const { rows } = await db.query<Said>(
      `SELECT id, number, body, choice, person_id FROM inbound WHERE run_id = $1 AND kind IN ('reply', 'maybe_stop') AND id > $2 ORDER BY id LIMIT ${CHUNK}`,
      [run, after],
    );
    for (const said of rows) {
      wrote.add(said.number);
      const counted: Counted = said.choice === null ? readChoice(said.body, wordings) : said.choice < 0 ? 'none' : said.choice;
      if (counted !== 'none') last.set(said.number, { said, counted });
      else if (said.choice !== null) last.delete(said.number);
    }
    if (rows.length < CHUNK) break;
    after = rows[rows.length - 1].id;
  }
  const [choices] = wordings;
  const people = choices.map(() => 0);
  const doubts: Said[] = [];
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
    doubtful: shown.map(({ id, number, body, person_id }) => ({ id, number, body, name: names.get(person_id ?? 0) ?? '' })),
    doubts: doubts.length,
    others: wrote.size - last.size,
    silent: Math.max(0, delivered - wrote.size),
  };
}

/** What somebody of the desk says of a reply. False when there is no such reply. */
export async function sayChoice(tx: Tx, reply: number, choice: number | null): Promise<boolean> {
  return (await tx.query(`UPDATE inbound SET choice = $2::smallint WHERE id = $1`, [reply, choice ?? -1])).rowCount > 0;
}

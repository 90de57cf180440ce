import { iso } from '../../../core/clock';
import { MARK_FOR, passedBackTo, readMark, whichOne } from '../../../core/passing/mark';
import type { Tx } from '../../db/db';
import { senderAnswering } from '../replies/answering-sender';
import { lockConversation } from '../replies/conversation-acts';
import { EngineError } from '../engine-error';
import { queueText } from '../queue-text';
import { isRegistered } from '../register';

/** An answer of the desk is of use for so long, ms. */
export const ANSWER_USEFUL = 12 * 3_600_000;
/** So many answers to one text of theirs go on; a mailbox that answers each mail by itself comes to an end at them. */
export const MOST_ANSWERS = 6;
/** What was passed on is open for an answer without its mark for so long, ms; with it, as long as the mark is its own. */
const OPEN_FOR = 7 * 86_400_000;

interface Open {
  id: number;
  mark: number;
  who: string;
}

/** What became of an answer: to whom it went, or why it did not. */
export interface PassedBack {
  sent: boolean;
  /** Said to whoever answered: why it did not go, and by text, to whom it went. */
  says?: string;
}

/**
 * A text from somebody whom replies are passed on to: an answer, when it begins with a mark, or when it follows what was passed on and
 * only one is open. Undefined when it is no answer.
 */
export async function answerByText(
  tx: Tx,
  text: { number: string; body: string; kind: string },
  now: number,
): Promise<PassedBack | undefined> {
  const open = (
    await tx.query<Open>(
      `SELECT passed.id, passed.mark, ${WHO} AS who FROM passed JOIN pass_on ON pass_on.id = pass_on_id
       WHERE way = 'text' AND address = $1 AND state = 'sent' AND passed.at > $2::timestamptz ORDER BY passed.id`,
      [text.number, iso(now - OPEN_FOR)],
    )
  ).rows;
  const { mark, words } = readMark(text.body);
  if (mark !== undefined) {
    // an answer may be followed by a second one
    const meant =
      open.findLast((each) => each.mark === mark) ??
      (
        await tx.query<{ id: number; who: string }>(
          `SELECT passed.id, ${WHO} AS who FROM passed JOIN pass_on ON pass_on.id = pass_on_id WHERE way = 'text' AND address = $1 AND mark = $2 AND passed.at > $3::timestamptz ORDER BY passed.id DESC LIMIT 1`,
          [text.number, mark, iso(now - MARK_FOR)],
        )
      ).rows.at(0);
    return meant ? tellWhom(await passBack(tx, meant.id, words, now), meant.who) : undefined;
  }
  if (text.kind !== 'reply' || open.length === 0 || !(await followsPassed(tx, text.number))) return undefined;
  if (open.length > 1) return { sent: false, says: whichOne(open) };
  return tellWhom(await passBack(tx, open[0].id, words, now), open[0].who);
}

const tellWhom = (back: PassedBack, who: string): PassedBack => (back.sent ? { sent: true, says: passedBackTo(who) } : back);

/** The latest text to a number passed something on: what they write now is about that. */
async function followsPassed(tx: Tx, number: string): Promise<boolean> {
  const { rows } = await tx.query<{ kind: string }>(
    // what is no run's goes at once: it has gone, whether or not that is written down yet
    `SELECT kind FROM outbound WHERE number = $1 AND (handed_at IS NOT NULL OR run_id IS NULL) AND kind <> 'copy' ORDER BY id DESC LIMIT 1`,
    [number],
  );
  return rows.at(0)?.kind === 'passed';
}

/** Who wrote what was passed on: their name, else their number. */
export const WHO = `coalesce((SELECT nullif(trim(given_name || ' ' || family_name), '') FROM inbound i JOIN person ON person.id = i.person_id WHERE i.id = inbound_id), passed.number)`;

/**
 * Sends an answer on to the one who asked, as from the workspace; or holds it for the desk, with why: somebody else has answered,
 * they opted out, there is nothing in it, or it is too long.
 */
export async function passBack(tx: Tx, id: number, words: string, now: number): Promise<PassedBack> {
  const passed = (
    await tx.query<{ number: string; inbound_id: number; at: string; pass_on_id: number }>(
      `SELECT number, inbound_id, at, pass_on_id FROM passed WHERE id = $1 FOR UPDATE`,
      [id],
    )
  ).rows[0];
  const { number, inbound_id } = passed;
  if (words.trim() === '') return { sent: false, says: 'Not passed on: there are no words in it.' };
  // of two answers at the same moment one comes after the other
  await lockConversation(tx, number);
  const hold = async (why: string): Promise<PassedBack> => {
    await tx.query(
      `INSERT INTO passed_answer (passed_id, number, at, words, state, reason) VALUES ($1, $2, $3::timestamptz, $4, 'held', $5)`,
      [id, number, iso(now), words.slice(0, 20_000), why],
    );
    return { sent: false, says: `Not passed on: ${why} It is kept for the desk.` };
  };
  if (await isRegistered(tx, number)) return hold('they have opted out.');
  const { n } = (
    await tx.query<{ n: number }>(`SELECT count(*) AS n FROM passed_answer WHERE passed_id = $1 AND state = 'sent'`, [id])
  ).rows[0];
  if (n >= MOST_ANSWERS) return hold(`${n} answers to the same have gone already.`);
  const other = (
    await tx.query<{ body: string; by: string }>(
      `SELECT o.body, coalesce(account.name, p.name, 'somebody') AS by FROM outbound o LEFT JOIN account ON account.id = o.account_id
       LEFT JOIN passed_answer a ON a.outbound_id = o.id LEFT JOIN passed ON passed.id = a.passed_id LEFT JOIN pass_on p ON p.id = passed.pass_on_id
       WHERE o.number = $1 AND o.kind = 'reply' AND o.due_at > $2::timestamptz AND p.id IS DISTINCT FROM $3 ORDER BY o.id DESC LIMIT 1`,
      [number, passed.at, passed.pass_on_id],
    )
  ).rows.at(0);
  if (other) return hold(`${other.by} has answered since: “${other.body.slice(0, 200)}”.`);
  // the one road to what an answer comes from: never a name, which they could not answer
  const sender = await senderAnswering(tx, number);
  if (!sender) return hold('there is no sender that takes replies.');
  let outbound: number;
  try {
    const person = (
      await tx.query<{ person_id: number | null }>(`SELECT person_id FROM inbound WHERE id = $1`, [inbound_id])
    ).rows.at(0);
    outbound = await queueText(
      tx,
      {
        kind: 'reply',
        personId: person?.person_id ?? null,
        number,
        senderId: sender.id,
        body: words,
        usefulFor: ANSWER_USEFUL,
      },
      now,
    );
  } catch (error) {
    // refused before anything was written: too long, no price, no balance
    if (!(error instanceof EngineError)) throw error;
    return hold(error.message);
  }
  await tx.query(
    `INSERT INTO passed_answer (passed_id, number, at, words, state, outbound_id) VALUES ($1, $2, $3::timestamptz, $4, 'sent', $5)`,
    [id, number, iso(now), words, outbound],
  );
  await tx.query(`UPDATE passed SET state = 'answered' WHERE id = $1`, [id]);
  await tx.query(
    `UPDATE inbound SET done_at = $3::timestamptz WHERE number = $1 AND id <= $2 AND done_at IS NULL AND kind NOT IN ('maybe_stop', 'unread', 'stop')`,
    [number, inbound_id, iso(now)],
  );
  return { sent: true };
}

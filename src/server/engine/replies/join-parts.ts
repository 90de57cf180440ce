import { iso } from '../../../core/clock';
import { classifyReply } from '../../../core/outcome/keywords';
import type { Queryable, Tx } from '../../db/db';
import type { TextIn } from '../gateway';

/** A reply whose missing parts have not come by then is shown as it is, ms. */
export const INCOMPLETE_AFTER = 10 * 60_000;
/** Parts of a text that is whole are known for so long when they are handed over once more, ms. */
const KNOWN_FOR = 60 * 60_000;

/** A text from somebody, whole or as much as there is of it. */
export interface WholeText extends Pick<TextIn, 'number' | 'to' | 'text' | 'octets' | 'why' | 'coding' | 'carrierId' | 'cameBy'> {
  incomplete: boolean;
}

type Part = TextIn & { join: NonNullable<TextIn['join']> };

interface Kept {
  part_no: number;
  body: string;
  octets: string | null;
  joined: boolean;
}

const WHICH = `number = $1 AND to_address = $2 AND reference = $3 AND total = $4`;
const keyOf = ({ number, to, join }: Part) => [number, to, join.reference, join.total];

/** Keeps one part by itself. What may mean stop in it holds its number until the text is whole, or as whole as it gets. */
export async function keepPart(db: Queryable, part: Part, now: number): Promise<void> {
  const kind = part.octets === undefined ? classifyReply(part.text) : 'maybe_stop';
  await db.query(
    `INSERT INTO inbound_part (number, to_address, reference, total, part_no, body, octets, may_stop, received_at)
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9::timestamptz) ON CONFLICT DO NOTHING`,
    [...keyOf(part), part.join.index, part.text, part.octets ?? null, kind === 'stop' || kind === 'maybe_stop', iso(now)],
  );
}

/**
 * Takes one part of a reply and gives the whole text when it was the last that was missing. Parts may come out of order or
 * twice; they are kept in the database meanwhile (TS 23.040 §9.2.3.24.1 and .8: 8- and 16-bit references; SMPP v3.4 §5.3.2.22).
 * A part of a text that is whole already is the carrier handing it over once more; with other words it begins another text.
 */
export async function joinPart(tx: Tx, part: Part, now: number): Promise<WholeText | undefined> {
  const key = keyOf(part);
  const kept = async () =>
    (
      await tx.query<Kept>(
        `SELECT part_no, body, octets, joined_at IS NOT NULL AS joined FROM inbound_part WHERE ${WHICH} ORDER BY part_no`,
        key,
      )
    ).rows;
  const before = await kept();
  const same = before.find((each) => each.part_no === part.join.index);
  const isSame = same?.body === part.text && same.octets === (part.octets ?? null);
  if (same?.joined && isSame) return undefined;
  // the phone's counter has come round, or two texts have the same one: what was whole is gone, what was not is shown as it is
  if (same && !isSame) {
    await tx.query(`DELETE FROM inbound_part WHERE ${WHICH}`, key);
    await keepPart(tx, part, now);
    return same.joined ? undefined : shown(part, before);
  }
  await keepPart(tx, part, now);
  const all = await kept();
  if (all.length < part.join.total) return undefined;
  await tx.query(`UPDATE inbound_part SET joined_at = $5::timestamptz WHERE ${WHICH}`, [...key, iso(now)]);
  return shown(part, all);
}

/** What there is of a text, with a mark where something is missing; octets where a part of it could not be read. */
function shown(
  of: Pick<Part, 'number' | 'to' | 'coding' | 'carrierId' | 'cameBy'> & { join: Part['join'] },
  kept: readonly Kept[],
): WholeText {
  const parts = Array.from({ length: of.join.total }, (_, i) => kept.find((each) => each.part_no === i + 1));
  const { number, to, coding, carrierId, cameBy } = of;
  const unread = parts.some((part) => part && part.octets !== null);
  return {
    number,
    to,
    coding,
    carrierId,
    cameBy,
    text: parts.map((part) => (part === undefined ? ' … ' : part.octets === null ? part.body : ' ▯ ')).join(''),
    ...(unread && { octets: parts.map((part) => part?.octets ?? '').join(' '), why: 'a part of it could not be read' }),
    incomplete: parts.some((part) => part === undefined),
  };
}

/**
 * Texts whose missing parts have not come for long, and those whose last part was kept but not joined; and when the next are due. Parts
 * of whole texts that nobody hands over any more go.
 */
export async function takeIncomplete(tx: Tx, now: number): Promise<{ texts: WholeText[]; next: number | undefined }> {
  await tx.query(`DELETE FROM inbound_part WHERE joined_at < $1::timestamptz`, [iso(now - KNOWN_FOR)]);
  const { rows } = await tx.query<Kept & { number: string; to_address: string; reference: number; total: number }>(
    `DELETE FROM inbound_part WHERE joined_at IS NULL AND (number, to_address, reference, total) IN (
       SELECT number, to_address, reference, total FROM inbound_part WHERE joined_at IS NULL GROUP BY number, to_address, reference, total
       HAVING max(received_at) <= $1::timestamptz OR count(*) = total)
     RETURNING number, to_address, reference, total, part_no, body, octets, false AS joined`,
    [iso(now - INCOMPLETE_AFTER)],
  );
  const texts = new Map<string, typeof rows>();
  for (const row of rows) {
    const key = `${row.number} ${row.to_address} ${row.reference} ${row.total}`;
    texts.set(key, [...(texts.get(key) ?? []), row]);
  }
  const left = await tx.query<{ waits: string | null; joined: string | null }>(
    `SELECT min(received_at) FILTER (WHERE joined_at IS NULL) AS waits, min(joined_at) AS joined FROM inbound_part`,
  );
  const { waits, joined } = left.rows[0];
  const due = [
    ...(waits === null ? [] : [Date.parse(waits) + INCOMPLETE_AFTER]),
    ...(joined === null ? [] : [Date.parse(joined) + KNOWN_FOR]),
  ].map((at) => Math.max(at, now) + 1000);
  return {
    texts: [...texts.values()].map((parts) => {
      const [{ number, to_address, reference, total }] = parts;
      return shown({ number, to: to_address, join: { reference, total, index: 1 } }, parts);
    }),
    next: due.length === 0 ? undefined : Math.min(...due),
  };
}

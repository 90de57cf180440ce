import type { Keyword, KeywordBody } from '../../core/api/desk/keywords';
import { foldKeyword, lookAlike } from '../../core/outcome/sign-up';
import type { Queryable } from '../db/db';

/** Every keyword: those that hold first, the latest first; each with how many signed up by it and what is easily taken for it. */
export async function allKeywords(db: Queryable): Promise<Keyword[]> {
  const { rows } = await db.query<Omit<Keyword, 'alike'>>(
    `SELECT k.id, word, sender_id, list_id, tag_id, purpose, consent_wording, confirms, asks_first, asks, from_at, until_at, ended_at,
       sender.name AS sender, sender.address, list.name AS list, tag.name AS tag,
       (SELECT count(DISTINCT number) FROM sign_up s WHERE s.keyword_id = k.id AND state = 'signed_up') AS signed_up,
       (SELECT count(DISTINCT number) FROM sign_up s WHERE s.keyword_id = k.id AND state = 'asked') AS asked,
       (SELECT max(at) FROM sign_up s WHERE s.keyword_id = k.id) AS last_at
     FROM keyword k JOIN sender ON sender.id = sender_id LEFT JOIN list ON list.id = list_id LEFT JOIN tag ON tag.id = tag_id
     ORDER BY ended_at IS NOT NULL, k.id DESC LIMIT 500`,
  );
  return rows.map((each) => ({
    ...each,
    alike: rows
      .filter(
        (other) =>
          other.id !== each.id && each.ended_at === null && other.ended_at === null && other.sender_id === each.sender_id,
      )
      .filter((other) => lookAlike(each.word, other.word))
      .map((other) => other.word),
  }));
}

const values = (b: KeywordBody, at: string) => [
  b.word.trim(),
  foldKeyword(b.word),
  b.sender_id,
  b.list_id,
  b.tag_id,
  b.purpose,
  b.consent_wording.trim(),
  b.confirms.trim(),
  b.asks.trim(),
  b.asks_first,
  b.from_at ?? at,
  b.until_at,
];

/** @throws what the driver throws where the word holds at that sender already */
export async function insertKeyword(db: Queryable, b: KeywordBody, at: string, account: number): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    `INSERT INTO keyword (word, folded, sender_id, list_id, tag_id, purpose, consent_wording, confirms, asks, asks_first, from_at, until_at, created_at, account_id)
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11::timestamptz, $12::timestamptz, $13::timestamptz, $14) RETURNING id`,
    [...values(b, at), at, account],
  );
  return rows[0].id;
}

/** Changes one that has not ended; false when there is none. @throws as insertKeyword */
export async function changeKeyword(db: Queryable, id: number, b: KeywordBody, at: string): Promise<boolean> {
  const changed = await db.query(
    `UPDATE keyword SET word = $1, folded = $2, sender_id = $3, list_id = $4, tag_id = $5, purpose = $6, consent_wording = $7, confirms = $8,
       asks = $9, asks_first = $10, from_at = $11::timestamptz, until_at = $12::timestamptz WHERE id = $13 AND ended_at IS NULL`,
    [...values(b, at), id],
  );
  return changed.rowCount > 0;
}

/** The word of one that is ended now; undefined when there was none. */
export async function endKeyword(db: Queryable, id: number, at: string): Promise<string | undefined> {
  const { rows } = await db.query<{ word: string }>(
    `UPDATE keyword SET ended_at = $2::timestamptz WHERE id = $1 AND ended_at IS NULL RETURNING word`,
    [id, at],
  );
  return rows[0]?.word;
}

/** Whether a list, a tag and a sender that takes replies are there. */
export async function whatIsThere(
  db: Queryable,
  b: Pick<KeywordBody, 'sender_id' | 'list_id' | 'tag_id'>,
): Promise<{ sender: string | null; list: boolean; tag: boolean }> {
  const { rows } = await db.query<{ sender: string | null; list: boolean; tag: boolean }>(
    `SELECT (SELECT kind FROM sender WHERE id = $1) AS sender, EXISTS (SELECT 1 FROM list WHERE id = $2) AS list, EXISTS (SELECT 1 FROM tag WHERE id = $3) AS tag`,
    [b.sender_id, b.list_id, b.tag_id],
  );
  return rows[0];
}

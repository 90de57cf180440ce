import { iso } from '../../../core/clock';
import { foldKeyword, readKeyword, saysYes } from '../../../core/outcome/sign-up';
import type { TextNumber } from '../../../core/phone/number';
import { readPhone } from '../../../core/phone/read';
import { guessZone } from '../../../core/phone/zone-guess';
import type { Tx } from '../../db/db';
import { fieldTypes, insertPeople, reserveIds } from '../../address-book/for-others';
import { senderWrittenTo } from './by-itself';
import { isRegistered } from '../register';

/** What was written, by whom, and what it may be about. */
export interface Wrote {
  id: number;
  number: TextNumber;
  to_address: string;
  body: string;
  received_at: string;
  person: number | null;
  /** What they were texted from last, and whether a run's text was the last that they got. */
  sender: number | undefined;
  afterRun: boolean;
}

/** What came of it: words that answer, whoever was signed up, and what a person of the desk has to know. */
export interface SignedUp {
  words?: string;
  keyword: number;
  person: number | null;
  trouble?: string;
}

/** A keyword in one of its versions: as it stands now, or as somebody was asked by it. */
interface Keyword {
  id: number;
  version_id: number;
  word: string;
  list_id: number | null;
  tag_id: number | null;
  purpose: 'service' | 'marketing';
  consent_wording: string;
  confirms: string;
  asks: string;
}

/** An answer to being asked is one for so long, ms. */
const ASKED_FOR = 24 * 3_600_000;
const VERSION = 'v.id AS version_id, v.list_id, v.tag_id, v.purpose, v.consent_wording, v.confirms, v.asks';

/**
 * A word by which people sign up, or the yes to being asked for one: puts them on its list, writes down what they agreed to, and
 * says what to answer. What they agree to is what was sent or shown to them, whatever stands there now. A number that opted out is not
 * signed up: only START from it lifts the register. Undefined when it is neither.
 */
export async function signUp(tx: Tx, wrote: Wrote, now: number): Promise<SignedUp | undefined> {
  const sender = await senderWrittenTo(tx, wrote.to_address);
  if (sender === undefined) return undefined;
  const { rows } = await tx.query<Keyword & { folded: string; asks_first: boolean }>(
    `SELECT k.id, k.word, k.folded, k.asks_first, ${VERSION} FROM keyword k
     CROSS JOIN LATERAL (SELECT * FROM keyword_version v WHERE v.keyword_id = k.id ORDER BY v.id DESC LIMIT 1) AS v
     WHERE sender_id = $1 AND ended_at IS NULL AND from_at <= $2::timestamptz AND (until_at IS NULL OR until_at > $2::timestamptz)`,
    [sender, wrote.received_at],
  );
  const keyword = readKeyword(wrote.body, rows);
  if (keyword) {
    if (await isRegistered(tx, wrote.number))
      return {
        keyword: keyword.id,
        person: wrote.person,
        trouble: `They opted out, so “${foldKeyword(wrote.body).toUpperCase()}” did nothing. Only START from them brings texts back.`,
      };
    const before = await isSignedUp(tx, keyword.id, wrote.number);
    if (keyword.asks_first && !before) {
      await note(tx, keyword, wrote, 'asked', now);
      return { words: keyword.asks, keyword: keyword.id, person: wrote.person };
    }
    return { words: keyword.confirms, keyword: keyword.id, person: await enlist(tx, keyword, wrote, now) };
  }
  if (wrote.afterRun || !saysYes(wrote.body)) return undefined;
  return sayYes(tx, wrote, sender, now);
}

/** A yes to the latest question at this sender, as it was asked; to one that has ended meanwhile it signs nobody up. */
async function sayYes(tx: Tx, wrote: Wrote, sender: number, now: number): Promise<SignedUp | undefined> {
  const asked = (
    await tx.query<Keyword & { over: boolean }>(
      `SELECT k.id, k.word, ${VERSION}, k.ended_at IS NOT NULL OR coalesce(k.until_at <= $4::timestamptz, false) AS over
       FROM sign_up JOIN keyword k ON k.id = keyword_id JOIN keyword_version v ON v.id = sign_up.version_id
       WHERE sign_up.number = $1 AND state = 'asked' AND at > $2::timestamptz AND sender_id = $3 ORDER BY sign_up.id DESC LIMIT 1`,
      [wrote.number, iso(now - ASKED_FOR), sender, wrote.received_at],
    )
  ).rows.at(0);
  if (!asked || (await isRegistered(tx, wrote.number))) return undefined;
  await tx.query(`DELETE FROM sign_up WHERE number = $1 AND keyword_id = $2 AND state = 'asked'`, [wrote.number, asked.id]);
  if (asked.over)
    return {
      keyword: asked.id,
      person: wrote.person,
      trouble: `They said yes when “${asked.word}” was over, so it signed nobody up.`,
    };
  return { words: asked.confirms, keyword: asked.id, person: await enlist(tx, asked, wrote, now) };
}

async function isSignedUp(tx: Tx, keyword: number, number: string): Promise<boolean> {
  return (
    (
      await tx.query(`SELECT 1 FROM sign_up WHERE keyword_id = $1 AND number = $2 AND state = 'signed_up' LIMIT 1`, [
        keyword,
        number,
      ])
    ).rowCount > 0
  );
}

async function note(tx: Tx, keyword: Keyword, wrote: Wrote, state: 'asked' | 'signed_up', now: number): Promise<void> {
  await tx.query(
    `INSERT INTO sign_up (keyword_id, number, person_id, inbound_id, at, state, version_id) VALUES ($1, $2, $3, $4, $5::timestamptz, $6, $7)`,
    [keyword.id, wrote.number, wrote.person, wrote.id, iso(now), state, keyword.version_id],
  );
}

/** On the list and under the tag, with the consent that this was; who is not in the address book comes in with their number alone. */
async function enlist(tx: Tx, keyword: Keyword, wrote: Wrote, now: number): Promise<number> {
  const at = iso(now);
  const person = wrote.person ?? (await newPerson(tx, wrote.number, at));
  if (keyword.list_id !== null)
    await tx.query(
      `INSERT INTO list_member (list_id, person_id) SELECT id, $2::bigint FROM list WHERE id = $1 ON CONFLICT DO NOTHING`,
      [keyword.list_id, person],
    );
  if (keyword.tag_id !== null)
    await tx.query(
      `INSERT INTO person_tag (tag_id, person_id) SELECT id, $2::bigint FROM tag WHERE id = $1 ON CONFLICT DO NOTHING`,
      [keyword.tag_id, person],
    );
  // the wording they agreed to is the one that was sent or shown; it is written down again each time they say so
  await tx.query(
    `INSERT INTO consent_event (person_id, number, purpose, act, how, evidence, wording, at, version_id) VALUES ($1, $2, $3, 'granted', 'texted a keyword', $4, $5, $6::timestamptz, $7)`,
    [
      person,
      wrote.number,
      keyword.purpose,
      `“${wrote.body.slice(0, 100)}” to ${wrote.to_address}`,
      keyword.consent_wording,
      at,
      keyword.version_id,
    ],
  );
  await note(tx, keyword, { ...wrote, person }, 'signed_up', now);
  return person;
}

async function newPerson(tx: Tx, number: string, at: string): Promise<number> {
  const read = readPhone(number, {});
  const known = read.ok ? read : undefined;
  const zone = guessZone(number) ?? null;
  const [id] = await reserveIds(tx, 'person', 1);
  await insertPeople(
    tx,
    [
      {
        id,
        given_name: '',
        family_name: '',
        reference: null,
        number,
        number_country: known?.country ?? null,
        number_kind: known?.kind ?? null,
        kind_source: null,
        language: null,
        zone,
        zone_guessed: zone !== null,
        born: null,
        quiet: null,
        fields: {},
      },
    ],
    await fieldTypes(tx),
    { at, importId: null },
  );
  return id;
}

import { iso } from '../../core/clock';
import { foldKeyword, readKeyword, saysYes } from '../../core/outcome/sign-up';
import { readPhone } from '../../core/phone/read';
import { guessZone } from '../../core/phone/zone-guess';
import type { Tx } from '../db/db';
import { fieldTypes, insertPeople, reserveIds } from '../people/person-store';
import { senderWrittenTo } from './by-itself';
import { isRegistered } from './texts';

/** What was written, by whom, and what it may be about. */
export interface Wrote {
  id: number;
  number: string;
  to_address: string;
  body: string;
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

interface Keyword {
  id: number;
  folded: string;
  list_id: number | null;
  tag_id: number | null;
  purpose: 'service' | 'marketing';
  consent_wording: string;
  confirms: string;
  asks: string;
  asks_first: boolean;
}

/** An answer to being asked is one for so long, ms. */
const ASKED_FOR = 24 * 3_600_000;
const COLUMNS = 'id, folded, list_id, tag_id, purpose, consent_wording, confirms, asks, asks_first';

/**
 * A word by which people sign up, or the yes to being asked for one: puts them on its list, writes down what they agreed to, and
 * says what to answer. A number that opted out is not signed up: only START from it lifts the register. Undefined when it is neither.
 */
export async function signUp(tx: Tx, wrote: Wrote, now: number): Promise<SignedUp | undefined> {
  const sender = await senderWrittenTo(tx, wrote.to_address, undefined);
  if (sender === undefined) return undefined;
  const { rows } = await tx.query<Keyword>(
    `SELECT ${COLUMNS} FROM keyword WHERE sender_id = $1 AND ended_at IS NULL AND from_at <= $2::timestamptz AND (until_at IS NULL OR until_at > $2::timestamptz)`,
    [sender, iso(now)],
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
  const asked = (
    await tx.query<Keyword & { sign_up: number }>(
      `SELECT sign_up.id AS sign_up, keyword.id, folded, list_id, tag_id, purpose, consent_wording, confirms, asks, asks_first
       FROM sign_up JOIN keyword ON keyword.id = keyword_id
       WHERE sign_up.number = $1 AND state = 'asked' AND at > $2::timestamptz AND ended_at IS NULL AND sender_id = $3 ORDER BY sign_up.id DESC LIMIT 1`,
      [wrote.number, iso(now - ASKED_FOR), sender],
    )
  ).rows.at(0);
  if (!asked || (await isRegistered(tx, wrote.number))) return undefined;
  await tx.query(`DELETE FROM sign_up WHERE number = $1 AND keyword_id = $2 AND state = 'asked'`, [wrote.number, asked.id]);
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
    `INSERT INTO sign_up (keyword_id, number, person_id, inbound_id, at, state) VALUES ($1, $2, $3, $4, $5::timestamptz, $6)`,
    [keyword.id, wrote.number, wrote.person, wrote.id, iso(now), state],
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
  // the wording they agreed to is the one that stood then; it is written down again each time they say so
  await tx.query(
    `INSERT INTO consent_event (person_id, number, purpose, act, how, evidence, wording, at) VALUES ($1, $2, $3, 'granted', 'texted a keyword', $4, $5, $6::timestamptz)`,
    [person, wrote.number, keyword.purpose, `“${wrote.body.slice(0, 100)}” to ${wrote.to_address}`, keyword.consent_wording, at],
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

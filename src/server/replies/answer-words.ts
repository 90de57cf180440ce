import { EMPTY_DRAFT } from '../../core/plan/draft/draft';
import { makeWriter } from '../../core/plan/words/writer';
import { wallClock } from '../../core/zones';
import { MOST_PARTS, measure } from '../../core/text/measure';
import { dependantsOf, peopleWithConsent, surroundings } from '../broadcasts/for-others';
import type { Queryable } from '../db/db';
import { priceOf, senderAnswering } from '../engine/for-others';
import { answerGoesAt } from './goes-at';

/** An answer as it would be received. */
export interface AnswerProof {
  text: string;
  parts: number;
  cost_micro: number | null;
  /** When it would go, ISO 8601; null for at once. */
  goes_at: string | null;
  /** Why it cannot go like this, each with what to do. */
  problems: string[];
}

const NOT_HERE = 'cannot be put into an answer: write it, or send a broadcast.';

/**
 * The words of an answer with their fields filled in for whoever it goes to, as a broadcast's would be, without wording for opting
 * out: they have just written. Links and codes belong to broadcasts.
 */
export async function answerProof(
  db: Queryable,
  { number, person, words, now }: { number: string; person: number | null; words: string; now: number },
): Promise<AnswerProof> {
  const around = await surroundings(db);
  const sender = await senderAnswering(db, number);
  const found = around.senders.find((each) => each.id === sender?.id);
  // whoever is answered is in a conversation, which ends on no day
  const from = found ? { ...found, reply_days: null } : null;
  const writer = makeWriter({ ...EMPTY_DRAFT, words, opt_out: 'none' }, around.workspace, from, around.types);
  const today = { day: wallClock(now, around.workspace.zone).date, zone: around.workspace.zone };
  const loading = {
    purpose: 'service' as const,
    needsYes: false,
    fields: writer.fields,
    dependantFields: writer.dependantFields,
  };
  const [known] = person === null ? [] : await peopleWithConsent(db, 'id', [person], loading, today);
  const about = known && writer.aboutDependants ? await dependantsOf(db, () => [known.id], writer.dependantFields) : undefined;
  const problems = writer.compiled.problems.map(({ message }) => message);
  for (const slug of ['code', 'opt_out_link', 'ready_text'])
    if (writer.compiled.fields.includes(slug)) problems.push(`{${slug}} ${NOT_HERE}`);
  if (writer.compiled.links.length > 0) problems.push(`A link of a broadcast ${NOT_HERE}`);
  const nobody = { given_name: '', family_name: '', reference: null, fields: {}, dependants: [], ready: '', language: null };
  const reader = known ? { ...known, dependants: about?.get(known.id) ?? [] } : nobody;
  const { text, missing } = writer.write({ ...STRANGER, ...reader }, writer.languageOf({ ...STRANGER, ...reader }), today.day);
  for (const name of new Set(missing))
    if (!writer.compiled.problems.some(({ unknown }) => unknown === name))
      problems.push(`They have no “${name}”. Add words to use instead: {${name} or "…"}.`);
  const { parts } = measure(text);
  if (parts > MOST_PARTS) problems.push(`The text has ${parts} parts; at most ${MOST_PARTS} can be sent.`);
  const price = await priceOf(db, number);
  if (price === undefined) problems.push(`There is no price for ${number} on the rate card.`);
  if (sender === null) problems.push('There is no sender that takes replies. Add one in Setup.');
  const goes = await answerGoesAt(db, number, now);
  if (goes === 'never')
    problems.push('There is no hour in which they may be texted before it is of no use. Write to them in the morning.');
  return {
    text,
    goes_at: goes === 'never' ? null : goes,
    parts,
    cost_micro: price === undefined ? null : parts * price,
    problems,
  };
}

/** A number of which nothing is known. */
const STRANGER = {
  id: 0,
  known: false,
  number: null,
  number_kind: null,
  consent: null,
  zone: null,
  zone_guessed: true,
  quiet: null,
} as const;

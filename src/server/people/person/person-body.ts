import type { PersonBody } from '../../../core/api/people/people';
import { bornOf } from '../../../core/people/day';
import { storedValue } from '../../../core/people/person-fields';
import { readPhone, PHONE_PROBLEM_WORDS } from '../../../core/phone/read';
import { guessZone } from '../../../core/phone/zone-guess';
import { oneLine } from '../../../core/text/tidy';
import { isZone } from '../../../core/zones';
import type { Queryable } from '../../db/db';
import { Refusal } from '../../../core/api/refusal';
import { fieldTypes, type StoredPerson } from '../../address-book/for-others';

export const KEPT = 'Everything you typed is still here.';

/** Typed values of custom fields as they are stored. */
export async function readFields(
  db: Queryable,
  about: 'person' | 'dependant',
  fields: Record<string, string>,
): Promise<Record<string, string>> {
  const types = await fieldTypes(db, about);
  const read: Record<string, string> = {};
  for (const [slug, typed] of Object.entries(fields)) {
    if (typed.trim() === '') continue;
    const stored = storedValue(types.get(slug) ?? 'text', typed.trim(), false);
    if (stored === undefined)
      throw new Refusal(
        'wrong',
        'value',
        `“${typed}” is no ${types.get(slug) === 'date' ? 'date' : types.get(slug) === 'number' ? 'number' : 'yes or no'}.`,
        {
          place: `fields.${slug}`,
          kept: KEPT,
        },
      );
    // words keep their line ends; what turns the direction of the page does not belong to them
    read[slug] = stored.includes('\n') ? stored.split('\n').map(oneLine).join('\n') : oneLine(stored);
  }
  return read;
}

/** A typed birth date. @throws Refusal when it is none, lies ahead, or could be in two centuries */
export function readBorn(typed: string, at: string): string | null {
  if (typed.trim() === '') return null;
  const born = bornOf(typed, false, at.slice(0, 10));
  if (born === 'two')
    throw new Refusal('wrong', 'born', `“${typed}” may be in two centuries. Write the year in full.`, {
      place: 'born',
      kept: KEPT,
    });
  if (born === undefined)
    throw new Refusal('wrong', 'born', `“${typed}” is no birth date: nobody is born ahead of today.`, {
      place: 'born',
      kept: KEPT,
    });
  return born;
}

/** A typed person as they are stored. @throws Refusal that names the place */
export async function readBody(
  db: Queryable,
  body: PersonBody,
  at: string,
  before?: StoredPerson,
): Promise<Omit<StoredPerson, 'id'>> {
  const country = (await db.query<{ country: string }>(`SELECT country FROM workspace`)).rows[0].country;
  const read = body.number.trim() === '' ? undefined : readPhone(body.number, { country });
  if (read && !read.ok)
    throw new Refusal('wrong', 'number', `“${body.number}”: ${PHONE_PROBLEM_WORDS[read.problem]}.`, {
      place: 'number',
      kept: KEPT,
    });
  if (body.zone !== '' && !isZone(body.zone))
    throw new Refusal('wrong', 'zone', `There is no time zone “${body.zone}”.`, { place: 'zone', kept: KEPT });
  const born = readBorn(body.born ?? '', at);
  const number = read?.ok ? read.number : null;
  const guessed = read?.ok && body.zone === '' ? (guessZone(read.number) ?? null) : null;
  const same = before !== undefined && before.number === number;
  const plan = read?.ok ? read.kind : null;
  const told = body.kind && plan === 'either' ? body.kind : undefined;
  return {
    given_name: oneLine(body.given_name),
    family_name: oneLine(body.family_name),
    reference: oneLine(body.reference) || null,
    language: body.language.trim().toLowerCase() || null,
    number,
    number_country: read?.ok ? read.country : null,
    number_kind: told ?? (same && body.kind === undefined ? before.number_kind : plan),
    kind_source: told ? 'by hand' : same && body.kind === undefined ? before.kind_source : null,
    zone: body.zone || guessed,
    zone_guessed: guessed !== null,
    born,
    quiet: body.quiet === undefined ? (before?.quiet ?? null) : body.quiet || null,
    fields: await readFields(db, 'person', body.fields),
  };
}

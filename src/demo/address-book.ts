import { readPhone } from '../core/phone/read';
import { guessZone } from '../core/phone/zone-guess';
import { fieldTypes, insertPeople, type StoredPerson } from '../server/address-book/person-store';
import type { Param, Tx } from '../server/db/db';
import type { Chance } from './chance';
import { makeDependants, makeThereFor } from './dependants';
import type { DemoPerson } from './people';

/** People with their dependants, lists and tags. */
export async function makeAddressBook(tx: Tx, people: readonly DemoPerson[], long: string, now: number): Promise<void> {
  await insertPeople(tx, people.map(stored), await fieldTypes(tx), { at: long, importId: null });
  await tx.query(`SELECT setval('person_id_seq', (SELECT max(id) FROM person))`);
  await makeDependants(tx, people, long, now);
  const names = [...new Set(people.flatMap((p) => p.lists))].sort();
  for (const name of names) await tx.query(`INSERT INTO list (name, created_at) VALUES ($1, $2::timestamptz)`, [name, long]);
  for (const name of [...new Set(people.flatMap((p) => p.tags))].sort())
    await tx.query(`INSERT INTO tag (name) VALUES ($1)`, [name]);
  for (const [table, column, of] of [
    ['list_member', 'list', 'lists'],
    ['person_tag', 'tag', 'tags'],
  ] as const) {
    const pairs = people.flatMap((p) => p[of].map((name) => [p.id, name] as const));
    await tx.query(
      `INSERT INTO ${table} (${column}_id, person_id) SELECT ${column}.id, p.id FROM unnest($1::bigint[], $2::text[]) AS p (id, name) JOIN ${column} ON ${column}.name = p.name`,
      [pairs.map(([id]) => id), pairs.map(([, name]) => name)],
    );
  }
  await makeThereFor(tx);
}

/** Consent: marketing granted by some, notices withdrawn by few; the register holds those who said stop. */
export async function makeConsents(
  tx: Tx,
  chance: Chance,
  people: readonly DemoPerson[],
  long: string,
  now: number,
): Promise<Map<string, number>> {
  const consents: Param[][] = [];
  for (const p of people) {
    if (p.number === null) continue;
    if (chance.chance(0.4))
      consents.push([
        p.id,
        p.number,
        'marketing',
        'granted',
        'web form',
        'pass renewal page',
        'I would like offers by text.',
        long,
      ]);
    if (chance.chance(0.005))
      consents.push([
        p.id,
        p.number,
        'service',
        'withdrawn',
        'at the desk',
        '',
        '',
        new Date(now - chance.int(5, 150) * 86_400_000).toISOString(),
      ]);
  }
  await tx.copyIn('consent_event', ['person_id', 'number', 'purpose', 'act', 'how', 'evidence', 'wording', 'at'], [consents]);
  const numbers = [...new Set(people.flatMap((p) => (p.number?.startsWith('+1') ? [p.number] : [])))];
  const stopped = numbers.filter(() => chance.chance(0.035));
  const stops = stopped.map((number) => ({
    number,
    at: now - chance.int(3, 190) * 86_400_000,
    words: chance.pick(['STOP', 'stop', 'Stop please', 'arrêt']),
  }));
  await tx.copyIn(
    'suppression',
    ['number', 'at', 'how', 'words'],
    [stops.map(({ number, at, words }) => [number, new Date(at).toISOString(), 'texted', words])],
  );
  return new Map(stops.map(({ number, at }) => [number, at]));
}

function stored(p: DemoPerson): StoredPerson {
  const read = p.number ? readPhone(p.number) : undefined;
  const known = read?.ok ? read : undefined;
  const guess = known ? guessZone(known.number) : undefined;
  // regulars have told us their zone at the desk; for others it is guessed from the number
  const told = p.lists.includes('Morning boat regulars') && guess !== undefined;
  return {
    id: p.id,
    given_name: p.given,
    family_name: p.family,
    reference: p.reference,
    number: p.number,
    number_country: known?.country ?? null,
    number_kind: known?.kind ?? null,
    kind_source: null,
    language: p.language,
    zone: guess ?? null,
    zone_guessed: guess !== undefined && !told,
    // a few of the crew are juniors themselves
    born:
      p.lists.includes('Crew and staff') && p.id % 7 === 0
        ? `20${10 + (p.id % 3)}-0${1 + (p.id % 9)}-14`
        : // a berth is let to a person of age, whose age is known
          p.lists.includes('Berth holders')
          ? `19${44 + ((p.id * 7) % 52)}-0${1 + (p.id % 9)}-${10 + (p.id % 19)}`
          : null,
    quiet: null,
    fields: Object.fromEntries(
      Object.entries({ home_landing: p.landing, pass_ends: p.passEnds, berth: p.berth }).flatMap(([slug, value]) =>
        value === null ? [] : [[slug, value]],
      ),
    ),
  };
}

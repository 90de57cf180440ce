import { BUILT_IN, type FieldType } from '../../core/merge/compile';
import { DEFAULT_PATTERN, formatDay } from '../../core/merge/date-pattern';
import type { Queryable } from '../db/db';
import type { AudiencePerson } from './audience';

/** Everything that can be merged, with its type: built-in, custom, and the dependants' fields as `dependants.…`. */
export async function fieldsOf(db: Queryable): Promise<Map<string, FieldType>> {
  const { rows } = await db.query<{ slug: string; type: FieldType; about: string }>(`SELECT slug, type, about FROM field_def`);
  return new Map<string, FieldType>([
    ...BUILT_IN.map((field): [string, FieldType] => [field.slug, field.type]),
    ['ready_text', 'text'],
    ['dependants.given_name', 'text'],
    ['dependants.family_name', 'text'],
    ...rows.map((row): [string, FieldType] =>
      // of several dependants the values are joined, so whatever they are, together they are words
      row.about === 'dependant' ? [`dependants.${row.slug}`, 'text'] : [row.slug, row.type],
    ),
  ]);
}

const joiners = new Map<string, Intl.ListFormat>();
/** "Ana, Leo and Mika" in the recipient's language; making a formatter costs more than using one. */
function joined(values: readonly string[], language: string): string | undefined {
  const distinct = [...new Set(values.filter((value) => value.trim() !== ''))];
  if (distinct.length < 2) return distinct[0];
  let joiner = joiners.get(language);
  // American English would put a comma before "and"; in a text every character counts
  if (!joiner)
    joiners.set(language, (joiner = new Intl.ListFormat(language === 'en' ? 'en-GB' : language, { type: 'conjunction' })));
  return joiner.format(distinct);
}

/** One recipient's values, by name. */
export function valuesOf(
  person: AudiencePerson,
  all: {
    sender: string;
    workspace: string;
    link: string;
    sendDay: string;
    language: string;
    types: ReadonlyMap<string, FieldType>;
  },
): (name: string) => string | undefined {
  return (name) => {
    switch (name) {
      case 'given_name':
        return person.given_name;
      case 'family_name':
        return person.family_name;
      case 'reference':
        return person.reference ?? undefined;
      case 'ready_text':
        return person.ready;
      case 'send_date':
        return all.sendDay;
      case 'sender_name':
        return all.sender;
      case 'workspace_name':
        return all.workspace;
    }
    if (name.startsWith('link ')) return all.link;
    if (name.startsWith('dependants.')) {
      const slug = name.slice('dependants.'.length);
      return joined(
        person.dependants.map((each) =>
          slug === 'given_name' || slug === 'family_name' ? each[slug] : shown(each.fields[slug] ?? '', all.language),
        ),
        all.language,
      );
    }
    return person.fields[name];
  };
}

function shown(value: string, language: string): string {
  return /^\d{4}-\d{2}-\d{2}$/.test(value) ? formatDay(value, DEFAULT_PATTERN, language) : value;
}

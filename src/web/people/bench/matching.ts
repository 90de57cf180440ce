import type { ImportSettings } from '../../../core/api/people/import-settings';
import { slugOf, TARGET_WORDS } from '../../../core/people/targets';
import type { Sources } from '../sources';

/** What several columns may feed. */
const SEVERAL = new Set(['skip', 'tags', 'consent', 'refusal', 'second_phone']);

/** What a column of the file can feed, each with its words; a heading nothing here is called like may make a field of its own. */
export function targetsFor(
  heading: string,
  settings: ImportSettings,
  sources: Sources | undefined,
): (readonly [string, string])[] {
  const slug = slugOf(heading);
  const fields = (about: 'person' | 'dependant') =>
    (sources?.fields ?? [])
      // it is a field like any other, and fed by what is called so already
      .filter((field) => field.about === about && !(about === 'person' && field.slug === 'second_phone'))
      .map((field) => [field.slug, field.label] as const);
  const person = fields('person');
  const dependant = fields('dependant');
  const added = Object.entries(settings.new_fields).map(([target, field]) => [target, `${field.label}, new`] as const);
  const has = (target: string) => added.some(([key]) => key === target);
  return [
    ...Object.entries(TARGET_WORDS),
    ...person.map(([key, label]) => [`field:${key}`, label] as const),
    ...dependant.map(([key, label]) => [`dependant:field:${key}`, `dependant’s ${label}`] as const),
    ...added,
    ...(person.some(([key]) => key === slug) || has(`field:${slug}`)
      ? []
      : (['text', 'number', 'date', 'choice', 'yes_no'] as const).map(
          (type) => [`new:field:${slug}:${type}`, `new ${type.replace('_', '/')} field “${heading}”`] as const,
        )),
    ...(dependant.some(([key]) => key === slug) || has(`dependant:field:${slug}`)
      ? []
      : [[`new:dependant:field:${slug}:text`, `new dependant’s field “${heading}”`] as const]),
  ];
}

/** The settings with a column fed to what was chosen; what can be fed only once is taken from the column that fed it. */
export function matched(
  column: number,
  chosen: string,
  headings: readonly string[],
  settings: ImportSettings,
): Pick<ImportSettings, 'match' | 'new_fields'> {
  const made = /^new:((?:dependant:)?field:[a-z0-9_]+):(\w+)$/.exec(chosen);
  const target = made ? made[1] : chosen;
  const next = headings.map((_, at) => {
    const each = settings.match[at] ?? 'skip';
    return at === column ? target : each === target && !SEVERAL.has(target) ? 'skip' : each;
  });
  return {
    match: next,
    new_fields: made
      ? {
          ...settings.new_fields,
          [target]: { label: headings[column], type: made[2] as ImportSettings['new_fields'][string]['type'] },
        }
      : settings.new_fields,
  };
}

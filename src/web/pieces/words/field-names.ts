import { useMemo } from 'react';
import { people, type Sources } from '../../../core/api/people/people';
import { BUILT_IN, type FieldType } from '../../../core/merge/compile';
import { WRITER_FIELDS } from '../../../core/merge/writer-fields';
import { useGet } from '../../api/client';

/** Fields that can be merged into a text, of people and of those they are written to about. */
export function mergeFields(
  sources: Sources | undefined,
  withDependants: boolean,
): { slug: string; label: string; type: FieldType; about: 'person' | 'dependant' }[] {
  const all = sources?.fields ?? [];
  return [
    ...all.filter((field) => field.about === 'person'),
    ...(withDependants
      ? [
          { slug: 'dependants.given_name', label: 'dependants’ given names', type: 'text' as const, about: 'dependant' as const },
          ...all
            .filter((field) => field.about === 'dependant')
            .map((field) => ({
              slug: `dependants.${field.slug}`,
              label: `dependants’ ${field.label}`,
              type: 'text' as const,
              about: 'dependant' as const,
            })),
        ]
      : []),
  ];
}

/** What every field is called by whoever reads words, by its slug. */
export function useFieldNames(): ReadonlyMap<string, string> {
  const sources = useGet(people.sources, {}, { keep: true }).data;
  return useMemo(
    () =>
      new Map<string, string>([
        ...[...BUILT_IN, ...WRITER_FIELDS, ...mergeFields(sources, true)].map((field) => [field.slug, field.label] as const),
        ['ready_text', 'ready-made text'],
        ['dependants.family_name', 'dependants’ family names'],
      ]),
    [sources],
  );
}

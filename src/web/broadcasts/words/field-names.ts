import { useMemo } from 'react';
import { people } from '../../../core/api/people/people';
import { BUILT_IN } from '../../../core/merge/compile';
import { WRITER_FIELDS } from '../../../core/merge/writer-fields';
import { useGet } from '../../api/client';
import { mergeFields } from './put-in';

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

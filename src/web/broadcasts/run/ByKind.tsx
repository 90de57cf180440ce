import { recipients } from '../../../core/api/sending/recipients';
import { useGet } from '../../api/client';
import { Choose } from '../../pieces/form/choices';
import { count, languageName, zoneName } from '../../pieces/format';
import { Trouble } from '../../pieces/small';
import type { RunFilter } from './run-words';

/** Narrows the recipients of a run by their language and zone, as they are known now. */
export function ByKind({ id, filter, setFilter }: { id: number; filter: RunFilter; setFilter: (filter: RunFilter) => void }) {
  const answer = useGet(recipients.kinds, { params: { id } }, { keep: true });
  if (!answer.data) return <Trouble error={answer.error} />;
  const { languages, zones } = answer.data;
  return (
    <>
      <Choose
        label="Language of the recipients"
        value={filter.language ?? ''}
        options={[
          ['', 'every language'],
          ...languages.map(
            ({ language, n }) =>
              [language ?? 'none', `${language === null ? 'none known' : languageName(language)}, ${count(n)}`] as const,
          ),
        ]}
        onChange={(language) => setFilter({ ...filter, language: language || undefined })}
      />
      <Choose
        label="Zone of the recipients"
        value={filter.zone ?? ''}
        options={[
          ['', 'every zone'],
          ...zones.map(
            ({ zone, n }) => [zone ?? 'none', `${zone === null ? 'none known' : zoneName(zone)}, ${count(n)}`] as const,
          ),
        ]}
        onChange={(zone) => setFilter({ ...filter, zone: zone || undefined })}
      />
    </>
  );
}

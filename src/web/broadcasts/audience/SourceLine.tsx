import { imports } from '../../../core/api/people/imports';
import { people as peopleApi } from '../../../core/api/people/people';
import type { Source } from '../../../core/plan/draft/draft';
import { useGet } from '../../api/client';
import { nameOf, type Sources } from '../../people/for-others';
import { count } from '../../pieces/format';
import { Bit, Row } from '../../pieces/layout';
import { TakeAway, Way } from '../../pieces/ways';
import { sourceWords } from './audience-words';

/** One source: what it is, its name as a way to its people, how many, and a way to take it away. */
export function SourceLine({
  source,
  sources,
  people: known,
  leaving,
  remove,
}: {
  source: Source;
  sources: Sources | undefined;
  people: number | undefined;
  leaving: boolean;
  /** Left out where it is only read. */
  remove?: () => void;
}) {
  const person = useGet(peopleApi.get, source.kind === 'person' ? { params: { id: source.id } } : undefined).data?.person;
  const file = useGet(imports.get, source.kind === 'file' ? { params: { id: source.id } } : undefined).data;
  const said = sourceWords(source, sources);
  const name = person ? nameOf(person) : file ? `${file.file_name}, used once` : said.name;
  const n = known ?? said.people;
  const to =
    source.kind === 'list' || source.kind === 'tag' || source.kind === 'segment'
      ? `/people?${source.kind}=${source.id}`
      : source.kind === 'file'
        ? `/people/bring-in/${source.id}`
        : source.kind === 'run'
          ? `/runs/${source.id}`
          : source.kind === 'person'
            ? `/people/${source.id}`
            : source.kind === 'dependants'
              ? source.ids.length === 1
                ? `/people/dependants?open=${source.ids[0]}`
                : '/people/dependants'
              : undefined;
  return (
    <Row as="li" nowrap under pad="6px 0" base>
      <Bit small brick={leaving} soft={!leaving} width={56} fixed>
        {leaving ? 'leave out' : said.kind}
      </Bit>
      <Bit grow>{to ? <Way to={to}>{name}</Way> : name}</Bit>
      <Bit soft={n === undefined}>{n !== undefined ? count(n) : source.kind === 'segment' ? '…' : ''}</Bit>
      {remove && <TakeAway label={`Take ${name} away`} onClick={remove} />}
    </Row>
  );
}

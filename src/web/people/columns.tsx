import type { Column } from '../pieces/table/DataTable';
import { fieldText, languageName, zoneName } from '../pieces/format';
import { Bit } from '../pieces/layout';
import { showPhone } from '../pieces/phone';
import { State } from '../pieces/chart/Ring';
import { Way } from '../pieces/ways';
import { heading, nameOf, type FieldDef, type PersonRow } from './sources';

const words = (key: string, label: string, text: (person: PersonRow) => string, sorts = true): Column<PersonRow> => ({
  key,
  heading: label,
  folds: true,
  sorts,
  cell: (person) => (
    <Bit cut title={text(person)} as="div">
      {text(person)}
    </Bit>
  ),
});

/** Every column there may be: name and number, the custom fields, what is built in, and whether they can be texted. */
export function columnsOf(fields: readonly FieldDef[], linkTo: (id: number) => string): Column<PersonRow>[] {
  return [
    {
      key: 'name',
      heading: 'Name',
      sorts: true,
      stays: true,
      cell: (person) => (
        <Bit cut as="div">
          <Way to={linkTo(person.id)}>{nameOf(person)}</Way>
        </Bit>
      ),
    },
    {
      key: 'number',
      folds: true,
      heading: 'Text number',
      sorts: true,
      cell: (person) => (
        <Bit nobreak soft={person.number === null}>
          {showPhone(person.number)}
        </Bit>
      ),
    },
    ...fields
      .filter((field) => field.about === 'person')
      .map((field) => words(field.slug, heading(field.label), (p) => fieldText(p.fields[field.slug] ?? ''))),
    words('language', 'Language', (p) => (p.language ? languageName(p.language) : '')),
    words('reference', 'Reference', (p) => p.reference ?? ''),
    words('zone', 'Time zone', (p) => (p.zone ? `${zoneName(p.zone)}${p.zone_guessed ? ' ?' : ''}` : '')),
    words('tags', 'Tags', (p) => p.tags.join(', '), false),
    words('dependants', 'Contact of', (p) => p.dependants.join(', '), false),
    words('kind', 'Kind of line', (p) => p.number_kind ?? ''),
    words('country', 'Country', (p) => p.number_country ?? ''),
    words('born', 'Born', (p) => fieldText(p.born ?? '')),
    words('added', 'Added', (p) => fieldText(p.created_at.slice(0, 10))),
    {
      key: 'reach',
      heading: 'Can be texted',
      stays: true,
      cell: (person) => <State state={person.reach === 'yes' ? 'yes' : 'no'} words={person.reach} />,
    },
  ];
}

/** Columns that are put away to begin with: all but two fields and the language. */
export function hiddenAtFirst(fields: readonly FieldDef[]): string[] {
  return [
    ...fields
      .filter((field) => field.about === 'person')
      .slice(2)
      .map((field) => field.slug),
    'reference',
    'zone',
    'tags',
    'dependants',
    'kind',
    'country',
    'born',
    'added',
  ];
}

import { styled } from '@mui/material/styles';
import type { ImportSettings } from '../../../core/api/people/import-settings';
import type { PreparedRow } from '../../../core/people/prepare';
import { fieldText, languageName, zoneName } from '../../pieces/format';
import { showPhone } from '../../pieces/phone';
import type { Sources } from '../sources';
import { Bit } from '../../pieces/layout';

const Slip = styled('div')(({ theme }) => ({
  border: `1px solid ${theme.bell.hairline}`,
  padding: '8px 10px',
  overflowWrap: 'anywhere',
  fontSize: 13.5,
}));

/** One person as they will be stored. */
export function Stored({
  shown,
  sources,
  settings,
}: {
  shown: { no: number; stored: PreparedRow; known: boolean };
  sources: Sources | undefined;
  settings: ImportSettings;
}) {
  const { person, second, dependant } = shown.stored;
  const label = (slug: string) =>
    sources?.fields.find((field) => field.slug === slug)?.label ??
    settings.new_fields[`field:${slug}`]?.label ??
    slug.replaceAll('_', ' ');
  const name = (p: { given_name: string; family_name: string }) => `${p.given_name} ${p.family_name}`.trim();
  return (
    <Slip role="group" aria-label="As they will be stored">
      <div>
        <b>{name(person) || 'no name'}</b>{' '}
        <Bit soft>
          row {shown.no + 1}
          {shown.known ? ', here already' : ', new'}
        </Bit>
      </div>
      <div>
        {person.number ? showPhone(person.number) : 'no number'}
        {person.number_kind === 'fixed' ? ', fixed line' : ''}
      </div>
      {person.zone && (
        <div>
          {zoneName(person.zone)} time {person.zone_guessed && <Bit soft>(guessed from the number)</Bit>}
          {person.language ? `, ${languageName(person.language)}` : ''}
        </div>
      )}
      {Object.entries(person.fields).map(([slug, value]) => (
        <div key={slug}>
          <Bit soft>{label(slug)}</Bit> {fieldText(value)}
        </div>
      ))}
      {person.tags.length + settings.tags.length > 0 && (
        <div>
          <Bit soft>tags</Bit> {[...new Set([...person.tags, ...settings.tags])].join(', ')}
        </div>
      )}
      {(person.lists.length > 0 || settings.list !== '') && (
        <div>
          <Bit soft>lists</Bit> {[...new Set([...person.lists, ...(settings.list === '' ? [] : [settings.list])])].join(', ')}
        </div>
      )}
      {person.consent && (
        <div>
          {settings.consent_purpose === 'service' ? 'service notices' : 'marketing'} {person.consent}
        </div>
      )}
      {dependant && (
        <div>
          first contact of <b>{name(dependant) || dependant.reference}</b>
          {Object.keys(dependant.fields).length > 0 ? ` (${Object.values(dependant.fields).join(', ')})` : ''}
        </div>
      )}
      {second && (
        <div>
          second contact: {name(second) || 'no name'} {second.number && <Bit nobreak>{showPhone(second.number)}</Bit>}
        </div>
      )}
    </Slip>
  );
}

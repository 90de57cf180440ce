import type { DependantRow } from '../../../core/api/people/people';
import { Bit, Column, Row, Words } from '../../pieces/layout';
import { Way } from '../../pieces/ways';
import { nameOf } from '../sources';
import { CONTACT_WORDS } from './DependantForm';

/** For whom they are a contact. */
export function ContactOf({
  person,
  dependants,
  may,
  open,
}: {
  /** Whose page it is. */
  person: { given_name: string; family_name: string };
  dependants: readonly DependantRow[];
  may: boolean;
  open: (dependant: DependantRow | 'new') => void;
}) {
  if (dependants.length === 0 && !may) return null;
  return (
    <>
      <Row between base line above={9}>
        <h2>Contact of</h2>
        {may && (
          <Way small onClick={() => open('new')}>
            add someone
          </Way>
        )}
      </Row>
      {dependants.length === 0 && (
        <Words as="p" soft small>
          Nobody.
        </Words>
      )}
      <Column as="ul" small gap={5}>
        {dependants.map((each) => (
          <li key={each.id}>
            <Way strong onClick={() => open(each)}>
              {nameOf(each)}
            </Way>{' '}
            {Object.values(each.fields).filter(Boolean).join(', ')}{' '}
            <Bit soft>
              {CONTACT_WORDS[each.contact] ?? `contact ${each.contact}`}
              {(each.others ?? []).length > 0 ? ', also ' : ''}
            </Bit>
            {(each.others ?? []).map((other, i) => (
              <span key={other.id}>
                {i > 0 ? ', ' : ''}
                <Way to={`/people/${other.id}`}>{other.name || 'no name'}</Way>
              </span>
            ))}
            {each.must_not_receive && (
              <Words small brick>
                {nameOf(person)} must not get texts about {nameOf(each)}
              </Words>
            )}
          </li>
        ))}
      </Column>
    </>
  );
}

import { people } from '../../../core/api/people/people';
import { useGet } from '../../api/client';
import { Column } from '../../pieces/layout';
import { showPhone } from '../../pieces/phone';
import { Nothing } from '../../pieces/small';
import { Way } from '../../pieces/ways';
import { nameOf } from '../sources';

/** Someone looked for who is not in what is shown: found among everyone, with why not one press away. */
export function NotInIt({ search, linkTo }: { search: string; linkTo: (id: number) => string }) {
  const answer = useGet(people.list, { query: { search } });
  const found = answer.data?.people ?? [];
  if (found.length === 0)
    return (
      <Nothing title="Nobody in this">
        Nobody here matches “{search}”{answer.data ? ', and nobody elsewhere' : ''}.
      </Nothing>
    );
  return (
    <Nothing title="Nobody in this">
      Nobody in this matches “{search}”. Among everyone:
      <Column as="ul" gap={4} above={6}>
        {found.slice(0, 8).map((person) => (
          <li key={person.id}>
            {nameOf(person)} {showPhone(person.number)}, <Way to={linkTo(person.id)}>why not in this</Way>
          </li>
        ))}
      </Column>
    </Nothing>
  );
}

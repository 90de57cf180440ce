import { Link } from 'react-router';
import { useGet } from '../api/client';
import { showPhone } from '../pieces/phone';
import { nameOf, type PersonRow } from './sources';

/** Someone looked for who is not in what is shown: found among everyone, with why not one press away. */
export function NotInIt({ search, linkTo }: { search: string; linkTo: (id: number) => string }) {
  const found = useGet<{ people: PersonRow[] }>(`/api/people?search=${encodeURIComponent(search)}`).data?.people ?? [];
  if (found.length === 0) return <>Nobody here matches “{search}”, and nobody elsewhere.</>;
  return (
    <>
      Nobody in this matches “{search}”. Among everyone:
      <ul className="stack" style={{ gap: 4, paddingTop: 6 }}>
        {found.slice(0, 8).map((person) => (
          <li key={person.id}>
            {nameOf(person)} {showPhone(person.number)}, <Link to={linkTo(person.id)}>why not in this</Link>
          </li>
        ))}
      </ul>
    </>
  );
}

import { Button } from '@mui/material';
import { useState } from 'react';
import { send, useGet } from '../api/client';
import { showPhone } from '../pieces/phone';
import { nameOf } from './sources';

interface Twin {
  id: number;
  given_name: string;
  family_name: string;
  number: string | null;
  reference: string | null;
}

/** People who may be the same, to be made one with this person. */
export function Merge({
  id,
  name,
  done,
  act,
}: {
  id: number;
  name: string;
  done: () => void;
  act: (work: () => Promise<unknown>) => Promise<void>;
}) {
  const [search, setSearch] = useState('');
  const twins = useGet<{ people: Twin[] }>(`/api/people/${id}/twins`).data?.people ?? [];
  const found = useGet<{ people: Twin[] }>(
    search.trim().length > 2 ? `/api/people?search=${encodeURIComponent(search)}` : undefined,
  ).data?.people;
  const offered = (found ?? twins).filter((each) => each.id !== id).slice(0, 8);
  return (
    <div className="stack small" style={{ gap: 6 }}>
      <span className="soft">
        The other’s blanks, lists, tags, contacts and texts come to {name}; a word against being texted holds for both.
      </span>
      <input
        className="field"
        type="search"
        aria-label="Find the other"
        placeholder="Name, number, reference of the other"
        value={search}
        onChange={(event) => setSearch(event.target.value)}
      />
      <ul className="stack" style={{ gap: 4 }}>
        {offered.map((each) => (
          <li key={each.id} className="row between nowrap">
            <span>
              {nameOf(each)} <span className="soft">{showPhone(each.number)}</span>
            </span>
            <Button onClick={() => void act(() => send('POST', `/api/people/${id}/merge`, { other_id: each.id }).then(done))}>
              Merge this one
            </Button>
          </li>
        ))}
      </ul>
      {offered.length === 0 && <span className="soft">Nobody with the same number, reference or name.</span>}
    </div>
  );
}

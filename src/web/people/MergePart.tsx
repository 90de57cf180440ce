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
  const [chosen, setChosen] = useState<Twin>();
  // it cannot be taken back, so whom it is about is said once more, where nothing moves under the pointer
  if (chosen)
    return (
      <div className="stack small" style={{ gap: 6 }}>
        <span>
          {nameOf(chosen)} {showPhone(chosen.number)} becomes part of {name}, and is no longer a person of their own. This cannot
          be undone.
        </span>
        <span className="row">
          <Button onClick={() => void act(() => send('POST', `/api/people/${id}/merge`, { other_id: chosen.id }).then(done))}>
            Merge {nameOf(chosen)} into {name}
          </Button>
          <Button onClick={() => setChosen(undefined)}>Leave it</Button>
        </span>
      </div>
    );
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
            <Button aria-label={`Merge ${nameOf(each)} ${showPhone(each.number)}`} onClick={() => setChosen(each)}>
              Merge…
            </Button>
          </li>
        ))}
      </ul>
      {offered.length === 0 && <span className="soft">Nobody with the same number, reference or name.</span>}
    </div>
  );
}

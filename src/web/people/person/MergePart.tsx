import { Button } from '@mui/material';
import { useState } from 'react';
import type { Answer } from '../../../core/api/endpoint';
import { people } from '../../../core/api/people/people';
import { useAct, useGet } from '../../api/client';
import { Field } from '../../pieces/form/Field';
import { showPhone } from '../../pieces/phone';
import { nameOf } from '../sources';
import { Bit, Column, Row } from '../../pieces/layout';

type Twin = Answer<typeof people.twins>['people'][number];

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
  const twins = useGet(people.twins, { params: { id } }).data?.people ?? [];
  const merge = useAct(people.merge);
  const found = useGet(people.list, search.trim().length > 2 ? { query: { search } } : undefined).data?.people;
  const offered: Twin[] = (found ?? twins).filter((each) => each.id !== id).slice(0, 8);
  const [chosen, setChosen] = useState<Twin>();
  // it cannot be taken back, so whom it is about is said once more, where nothing moves under the pointer
  if (chosen)
    return (
      <Column small gap={6}>
        <span>
          {nameOf(chosen)} {showPhone(chosen.number)} becomes part of {name}, and is no longer a person of their own. This cannot
          be undone.
        </span>
        <Row as="span">
          <Button onClick={() => void act(() => merge({ params: { id }, body: { other_id: chosen.id } }).then(done))}>
            Merge {nameOf(chosen)} into {name}
          </Button>
          <Button onClick={() => setChosen(undefined)}>Leave it</Button>
        </Row>
      </Column>
    );
  return (
    <Column small gap={6}>
      <Bit soft>
        The other’s blanks, lists, tags, contacts and texts come to {name}; a word against being texted holds for both.
      </Bit>
      <Field
        type="search"
        label="Find the other"
        placeholder="Name, number, reference of the other"
        value={search}
        onChange={setSearch}
      />
      <Column as="ul" gap={4}>
        {offered.map((each) => (
          <Row as="li" between nowrap key={each.id}>
            <span>
              {nameOf(each)} <Bit soft>{showPhone(each.number)}</Bit>
            </span>
            <Button aria-label={`Merge ${nameOf(each)} ${showPhone(each.number)}`} onClick={() => setChosen(each)}>
              Merge…
            </Button>
          </Row>
        ))}
      </Column>
      {offered.length === 0 && <Bit soft>Nobody with the same number, reference or name.</Bit>}
    </Column>
  );
}

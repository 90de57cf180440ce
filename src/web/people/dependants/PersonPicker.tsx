import { Autocomplete, TextField } from '@mui/material';
import { useState } from 'react';
import { people } from '../../../core/api/people/people';
import { useGet } from '../../api/client';
import { Bit } from '../../pieces/layout';
import { showPhone } from '../../pieces/phone';
import { useSettled } from '../../pieces/small';
import { nameOf, type PersonRow } from '../sources';

/** Somebody of the address book, found by name, number or reference. */
export function PersonPicker({
  label,
  value,
  onChange,
}: {
  label: string;
  value: PersonRow | null;
  onChange: (person: PersonRow | null) => void;
}) {
  const [typed, setTyped] = useState('');
  const search = useSettled(typed.trim(), 200);
  const found = useGet(people.list, search.length > 1 ? { query: { search } } : undefined, { keep: true });
  return (
    <Autocomplete<PersonRow>
      value={value}
      options={search.length > 1 ? (found.data?.people ?? []).slice(0, 20) : []}
      // the server has found them, also by what is not in their name
      filterOptions={(all) => all}
      getOptionLabel={nameOf}
      getOptionKey={({ id }) => id}
      isOptionEqualToValue={(a, b) => a.id === b.id}
      onInputChange={(_event, words) => setTyped(words)}
      onChange={(_event, person) => onChange(person)}
      noOptionsText={
        search.length < 2 ? 'Type a name, a number or a reference.' : found.isFetching ? 'Looking…' : 'Nobody is found.'
      }
      renderOption={({ key, ...props }, person) => (
        <li key={key} {...props}>
          <span>
            {nameOf(person)} <Bit soft>{showPhone(person.number)}</Bit>
          </span>
        </li>
      )}
      renderInput={(params) => <TextField {...params} label={label} />}
    />
  );
}

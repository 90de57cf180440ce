import { Autocomplete, TextField } from '@mui/material';
import { useState, type ReactNode } from 'react';
import { foundByWords } from '../found-by-words';
import { InFlow } from '../InFlow';
import { SmallWindow } from '../SmallWindow';
import { Value } from '../ways';

type Option = readonly [key: string, words: string];

/** One of many, found by typing: what is chosen stands as a value, and a press opens the list with the caret in its search. */
export function FoundChoice({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: string;
  options: readonly Option[];
  onChange: (value: string) => void;
}): ReactNode {
  const [anchor, setAnchor] = useState<HTMLElement>();
  const [typed, setTyped] = useState('');
  const close = () => {
    setAnchor(undefined);
    setTyped('');
  };
  const chosen = options.find(([key]) => key === value);
  return (
    <>
      <Value
        role="combobox"
        aria-haspopup="dialog"
        aria-expanded={anchor !== undefined}
        aria-label={label}
        aria-description={chosen?.[1]}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        {chosen?.[1] ?? value}
      </Value>
      {anchor && (
        <SmallWindow label={label} at={anchor} close={close} width={300} pad={10}>
          <Autocomplete<Option, false, true>
            open
            disablePortal
            disableClearable
            autoHighlight
            clearOnBlur={false}
            options={[...options]}
            value={chosen}
            inputValue={typed}
            onInputChange={(_event, words, reason) => reason === 'input' && setTyped(words)}
            getOptionLabel={([, words]) => words}
            getOptionKey={([key]) => key}
            isOptionEqualToValue={([a], [b]) => a === b}
            filterOptions={(all) => [...foundByWords(all, ([, words]) => [words], typed)]}
            onChange={(_event, [key]) => onChange(key)}
            // also where what is chosen is what it was
            onClose={(_event, reason) => reason === 'selectOption' && close()}
            onKeyDown={(event) => event.key === 'Escape' && close()}
            noOptionsText="Nothing of that name."
            renderInput={(params) => <TextField {...params} autoFocus label="Find" />}
            slots={{ popper: InFlow }}
          />
        </SmallWindow>
      )}
    </>
  );
}

import { Autocomplete, TextField } from '@mui/material';
import { styled } from '@mui/material/styles';
import type { ReactNode } from 'react';
import { ON_A_PHONE } from '../../theme/touch';
import { drawn, notALook, type Looks } from '../looks';

const Suggesting = styled('span', { shouldForwardProp: notALook })<Looks>((looks) => ({
  display: 'inline-flex',
  verticalAlign: 'baseline',
  maxWidth: '100%',
  '& .MuiInputBase-root.MuiInputBase-root': { font: 'inherit', padding: 0, flexWrap: 'nowrap' },
  // in the line of the words around it, also where it is as high as a thumb
  '& .MuiTextField-root': { verticalAlign: 'baseline' },
  '& .MuiInput-root::before': { borderBottom: `1px dotted ${looks.theme.bell.soft}` },
  '& .MuiAutocomplete-root .MuiInputBase-root input.MuiInputBase-input': {
    width: 'auto',
    flexGrow: 1,
    textOverflow: 'clip',
    padding: '0 0 1px',
    height: 'auto',
    fieldSizing: 'content',
    minWidth: '3ch',
    maxWidth: '100%',
    [ON_A_PHONE]: { textDecoration: 'underline dotted', textUnderlineOffset: 4 },
  },
  // the box is higher than its line there: the words themselves are underlined
  [ON_A_PHONE]: { '& .MuiInput-root.MuiInput-root::before': { borderBottom: 0 } },
  ...drawn(looks),
}));

/** A value that is typed where it stands, with what there is offered for it. */
export function TypedChoice({
  label,
  value,
  options,
  words,
  onChange,
  left,
  ...looks
}: {
  label: string;
  value: string;
  options: readonly string[];
  /** An option as it is shown. */
  words: (option: string) => string;
  onChange: (value: string) => void;
  /** The field was left. */
  left?: () => void;
} & Looks): ReactNode {
  return (
    <Suggesting {...looks}>
      <Autocomplete
        freeSolo
        disableClearable
        options={options}
        inputValue={value}
        onInputChange={(_event, typed, reason) => {
          // what is chosen is told below, as it is and not as it is shown
          if (reason === 'input') onChange(typed);
        }}
        onChange={(_event, chosen) => onChange(chosen)}
        onBlur={left}
        renderOption={({ key, ...props }, option) => (
          <li key={key} {...props}>
            {words(option)}
          </li>
        )}
        renderInput={(params) => (
          <TextField
            {...params}
            variant="standard"
            placeholder="…"
            slotProps={{ ...params.slotProps, htmlInput: { ...params.slotProps.htmlInput, 'aria-label': label } }}
          />
        )}
        slotProps={{ popper: { style: { minWidth: 200 } } }}
      />
    </Suggesting>
  );
}

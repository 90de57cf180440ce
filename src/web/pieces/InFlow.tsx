import type { PopperProps } from '@mui/material';
import { styled } from '@mui/material/styles';
import type { ReactNode } from 'react';

const Flow = styled('div')({
  '& .MuiAutocomplete-paper': { border: 0, margin: '6px 0 0', background: 'none' },
  '& .MuiAutocomplete-listbox': { padding: 0, maxHeight: 'min(340px, 45vh)' },
  '& .MuiAutocomplete-option.MuiAutocomplete-option': { paddingLeft: 8, paddingRight: 8 },
});

/** What a search offers stands under its line, where it is part of the window instead of floating over it. */
export function InFlow({ children }: PopperProps): ReactNode {
  return <Flow>{typeof children === 'function' ? null : children}</Flow>;
}

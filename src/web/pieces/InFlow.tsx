import type { PopperProps } from '@mui/material';
import { styled } from '@mui/material/styles';
import type { ReactNode } from 'react';

const MOST = 'min(340px, 45vh)';
/** Of a list that is a short one. */
const LOW = '136px';
/** The line of what is typed, above the list, px. */
const SEARCH = 50;

const Flow = styled('div')({
  '& .MuiAutocomplete-paper': { border: 0, margin: '6px 0 0', background: 'none' },
  '& .MuiAutocomplete-listbox': { padding: 0, maxHeight: MOST },
  '& .MuiAutocomplete-option.MuiAutocomplete-option': { paddingLeft: 8, paddingRight: 8 },
});

/** What a search offers stands under its line, where it is part of the window instead of floating over it. */
export function InFlow({ children }: PopperProps): ReactNode {
  return <Flow>{typeof children === 'function' ? null : children}</Flow>;
}

/**
 * A search with what it offers in flow, as high from its opening on as it will be: what comes late or is narrowed by typing moves nothing
 * that stands beneath it, and no press meets something else.
 */
export const Steady = styled('div', { shouldForwardProp: (name) => name !== 'low' })<{ low?: boolean }>(({ low }) => {
  const most = low ? LOW : MOST;
  return { minHeight: `calc(${most} + ${SEARCH}px)`, '&& .MuiAutocomplete-listbox': { maxHeight: most } };
});

import type { AutocompleteRenderGroupParams } from '@mui/material';
import { styled } from '@mui/material/styles';
import type { ReactNode } from 'react';

const Options = styled('ul')({ padding: 0, margin: 0 });
const Name = styled('div')(({ theme }) => ({
  padding: '0 8px',
  lineHeight: '28px',
  fontSize: 13,
  color: theme.bell.soft,
  background: theme.bell.card,
}));

/** A group of what is offered, as a listbox may have one (WAI-ARIA 1.2, listbox): a group with its name, and options in it. */
export function optionGroup({ key, group, children }: AutocompleteRenderGroupParams): ReactNode {
  return (
    <li key={key} role="presentation">
      <Name aria-hidden="true">{group}</Name>
      <Options role="group" aria-label={group}>
        {children}
      </Options>
    </li>
  );
}

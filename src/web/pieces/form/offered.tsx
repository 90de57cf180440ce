import { Checkbox, type AutocompleteRenderGroupParams } from '@mui/material';
import { styled } from '@mui/material/styles';
import type { HTMLAttributes, Key, KeyboardEvent, ReactNode } from 'react';
import { Bit, Row } from '../layout';

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

/** One of several that are chosen in one go: ticked or not, with what is known of it at its end. */
export function tickedOption(
  { key, ...props }: HTMLAttributes<HTMLLIElement> & { key?: Key },
  { words, more, said, ticked }: { words: string; more: string; said: string; ticked: boolean },
): ReactNode {
  return (
    <li key={key} {...props} aria-label={said}>
      <Checkbox checked={ticked} tabIndex={-1} slotProps={{ input: { 'aria-hidden': true } }} />
      <Row between nowrap grow pad="0 0 0 8px">
        <Bit cut>{words}</Bit>
        <Bit soft small nobreak>
          {more}
        </Bit>
      </Row>
    </li>
  );
}

/** What is chosen stands elsewhere: erasing what is typed takes nothing of it away. Escape shuts the list. */
export const keepsChosen = (close: () => void) => (event: KeyboardEvent & { defaultMuiPrevented?: boolean }) => {
  if (event.key === 'Backspace') event.defaultMuiPrevented = true;
  if (event.key === 'Escape') close();
};

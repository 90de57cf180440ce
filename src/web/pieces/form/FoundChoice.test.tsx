import { ThemeProvider } from '@mui/material/styles';
import { render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, test, vi } from 'vitest';
import { themeOf } from '../../theme/theme';
import { FoundChoice } from './FoundChoice';

const OPTIONS = [
  ['number', 'text number'],
  ['second', 'second contact’s number'],
  ['born', 'born'],
] as const;

test('found by typing, whole words first; what it was already may be chosen again; Escape leaves it', async () => {
  const user = userEvent.setup();
  const onChange = vi.fn();
  render(
    <ThemeProvider theme={themeOf('light')}>
      <FoundChoice label="Mobile feeds" value="number" options={OPTIONS} onChange={onChange} />
    </ThemeProvider>,
  );
  const open = async () => user.click(screen.getByRole('combobox', { name: 'Mobile feeds' }));
  const shut = () => waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
  await open();
  expect(screen.getAllByRole('option').map((each) => each.textContent)).toEqual(OPTIONS.map(([, words]) => words));
  await user.keyboard('numb');
  expect(screen.getAllByRole('option')).toHaveLength(2);
  await user.keyboard('{Escape}');
  await shut();
  expect(onChange).not.toHaveBeenCalled();
  await open();
  await user.click(screen.getByRole('option', { name: 'text number' }));
  await shut();
  await open();
  await user.keyboard('contact{Enter}');
  await shut();
  expect(onChange.mock.calls.at(-1)).toEqual(['second']);
});

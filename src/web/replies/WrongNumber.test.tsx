import { fireEvent, screen, waitFor } from '@testing-library/react';
import { expect, test, vi } from 'vitest';
import { show } from '../testing';
import { WrongNumber } from './WrongNumber';

test('a wrong number is asked about once more, with what will become of it', async () => {
  const confirm = vi.fn();
  show(<WrongNumber number="+1 207 555 0142" whose="Ana Reyes" confirm={confirm} />);
  fireEvent.click(screen.getByRole('button', { name: 'Wrong number' }));
  expect(screen.getByRole('dialog').textContent).toContain('It is taken off Ana Reyes, goes on the do-not-text register');
  // what does nothing has the focus: a second Enter changes nothing
  expect(document.activeElement?.textContent).toBe('Leave it');
  fireEvent.click(screen.getByRole('button', { name: 'Leave it' }));
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
  expect(confirm).not.toHaveBeenCalled();
  fireEvent.click(screen.getByRole('button', { name: 'Wrong number' }));
  fireEvent.click(screen.getByRole('button', { name: 'It is a wrong number' }));
  expect(confirm).toHaveBeenCalledTimes(1);
});

import { act, fireEvent, screen, waitFor } from '@testing-library/react';
import { afterEach, expect, test, vi } from 'vitest';
import { show } from '../../testing';
import { useUnsaved } from './unsaved';

afterEach(() => {
  vi.restoreAllMocks();
});

function Form({ unsaved }: { unsaved: boolean }) {
  useUnsaved(unsaved);
  return <p>{unsaved ? 'not saved' : 'saved'}</p>;
}

test('of several forms on a page any that is not saved asks, once, quietly, and in our own window', async () => {
  const said = vi.spyOn(console, 'warn').mockImplementation(() => undefined);
  const { router } = show(
    <>
      <Form unsaved={false} />
      <Form unsaved />
      <Form unsaved />
    </>,
  );
  await act(() => router.navigate('/elsewhere'));
  expect(screen.getAllByRole('dialog')).toHaveLength(1);
  // staying is what Enter does
  expect(document.activeElement?.textContent).toBe('Stay here');
  fireEvent.click(screen.getByRole('button', { name: 'Stay here' }));
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
  expect(router.state.location.pathname).toBe('/');
  await act(() => router.navigate('/elsewhere'));
  fireEvent.click(screen.getByRole('button', { name: 'Leave without it' }));
  await screen.findByText('Elsewhere');
  expect(said).not.toHaveBeenCalled();
});

test('where everything is saved nobody is asked', async () => {
  const { router } = show(<Form unsaved={false} />);
  await act(() => router.navigate('/elsewhere'));
  await screen.findByText('Elsewhere');
  expect(screen.queryByRole('dialog')).toBeNull();
});

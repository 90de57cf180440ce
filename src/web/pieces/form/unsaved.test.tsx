import { act, screen, waitFor } from '@testing-library/react';
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

test('of several forms on a page any that is not saved asks, once, and quietly', async () => {
  const ask = vi.spyOn(window, 'confirm').mockReturnValue(false);
  const said = vi.spyOn(console, 'warn').mockImplementation(() => undefined);
  const { router } = show(
    <>
      <Form unsaved={false} />
      <Form unsaved />
      <Form unsaved />
    </>,
  );
  await act(() => router.navigate('/elsewhere'));
  await waitFor(() => expect(ask).toHaveBeenCalledTimes(1));
  expect(router.state.location.pathname).toBe('/');
  ask.mockReturnValue(true);
  await act(() => router.navigate('/elsewhere'));
  await screen.findByText('Elsewhere');
  expect(said).not.toHaveBeenCalled();
});

test('where everything is saved nobody is asked', async () => {
  const ask = vi.spyOn(window, 'confirm');
  const { router } = show(<Form unsaved={false} />);
  await act(() => router.navigate('/elsewhere'));
  await screen.findByText('Elsewhere');
  expect(ask).not.toHaveBeenCalled();
});

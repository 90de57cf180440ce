import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { afterEach, expect, test } from 'vitest';
import { serve, show } from '../testing';
import { Shortcuts } from './Shortcuts';

afterEach(() => {
  localStorage.clear();
});

function Desk() {
  const [palette, setPalette] = useState(false);
  const [help, setHelp] = useState(false);
  return (
    <>
      <label>
        Words <textarea />
      </label>
      <button onClick={() => setHelp(true)}>keys</button>
      <Shortcuts palette={palette} setPalette={setPalette} help={help} setHelp={setHelp} />
    </>
  );
}

test('a letter goes to its area, but not while words are typed', async () => {
  serve({});
  const user = userEvent.setup();
  const { router } = show(<Desk />);
  await user.type(screen.getByLabelText('Words'), 'please');
  expect(router.state.location.pathname).toBe('/');
  await user.click(document.body);
  await user.keyboard('p');
  await waitFor(() => expect(router.state.location.pathname).toBe('/people'));
});

test('single keys can be turned off, and on again from where there is no key (WCAG 2.2, 2.1.4)', async () => {
  serve({});
  const user = userEvent.setup();
  const { router } = show(<Desk />);
  await user.keyboard('?');
  const work = await screen.findByRole('switch', { name: 'Single keys work in this browser' });
  await user.click(work);
  await user.keyboard('{Escape}');
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
  await user.keyboard('p?');
  expect(router.state.location.pathname).toBe('/');
  expect(screen.queryByRole('dialog')).toBeNull();
  await user.click(screen.getByRole('button', { name: 'keys' }));
  await user.click(await screen.findByRole('switch', { name: 'Single keys work in this browser' }));
  await user.keyboard('{Escape}');
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
  await user.keyboard('p');
  await waitFor(() => expect(router.state.location.pathname).toBe('/people'));
});

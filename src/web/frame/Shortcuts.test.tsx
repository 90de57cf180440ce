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

test.each([
  [
    'a value that is chosen by letters',
    <div key="a" role="combobox" tabIndex={0} aria-expanded="false" aria-controls="x" data-testid="at" />,
  ],
  [
    'words with placeholders',
    <div key="b" className="cm-editor">
      <div tabIndex={-1} data-testid="at" />
    </div>,
  ],
])('a letter at %s is not for the page', async (_, place) => {
  serve({});
  const user = userEvent.setup();
  const { router } = show(
    <>
      {place}
      <Desk />
    </>,
  );
  screen.getByTestId('at').focus();
  await user.keyboard('pn');
  expect(router.state.location.pathname).toBe('/');
});

test.each(['dialog', 'menu', 'listbox'])(
  'while a %s is open no letter is for the page; once it is gone they are',
  async (role) => {
    serve({});
    const user = userEvent.setup();
    function Over() {
      const [open, setOpen] = useState(true);
      return open ? (
        <div role={role}>
          <button onClick={() => setOpen(false)}>shut</button>
        </div>
      ) : null;
    }
    const { router } = show(
      <>
        <Over />
        <Desk />
      </>,
    );
    await user.click(document.body);
    await user.keyboard('p');
    expect(router.state.location.pathname).toBe('/');
    await user.click(screen.getByRole('button', { name: 'shut' }));
    await user.click(document.body);
    await user.keyboard('p');
    await waitFor(() => expect(router.state.location.pathname).toBe('/people'));
  },
);

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

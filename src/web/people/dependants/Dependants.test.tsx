import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { choose, serve, show } from '../../testing';
import Dependants from './Dependants';

// rows are drawn where there is room for them
beforeEach(() => {
  vi.spyOn(Element.prototype, 'clientHeight', 'get').mockReturnValue(700);
  vi.spyOn(HTMLElement.prototype, 'offsetHeight', 'get').mockReturnValue(700);
  vi.spyOn(HTMLElement.prototype, 'offsetWidth', 'get').mockReturnValue(900);
});
afterEach(() => vi.restoreAllMocks());

const ana = {
  ...{ id: 7, given_name: 'Ana', family_name: 'Aalto', reference: null, born: '2015-04-01', sort_name: 'aalto ana' },
  fields: { class: 'Pike' },
  contacts: [
    { id: 1, name: 'Henrik Aalto', number: '+15185550121', contact: 1, must_not_receive: true },
    { id: 2, name: 'Mabel Aalto', number: '+15185550122', contact: 2, must_not_receive: false },
  ],
};
const field = { about: 'dependant', slug: 'class', label: 'class', type: 'choice', choices: ['Otters', 'Pike'] };
const answers = (more: Record<string, unknown> = {}) => ({
  'GET /api/people/sources': { everyone: 2, cannot: 0, lists: [], tags: [], segments: [], fields: [field] },
  'GET /api/segments': { segments: [] },
  'GET /api/session/layouts': {},
  'GET /api/dependants': { dependants: [ana], total: 2 },
  'GET /api/dependants/7': ana,
  'POST /api/broadcasts': { id: 40 },
  ...more,
});

test('opened, they show who is written to in order; whoever must not is said by name', async () => {
  serve(answers());
  show(<Dependants />);
  fireEvent.click(await screen.findByRole('button', { name: 'Ana Aalto' }));
  const panel = await screen.findByRole('complementary', { name: 'Ana Aalto' });
  expect(within(panel).getByText('Henrik Aalto must not get texts about Ana Aalto')).toBeTruthy();
  expect(within(panel).getByText('second contact')).toBeTruthy();
});

test('chosen, a broadcast begins to their contacts', async () => {
  const server = serve(answers());
  const { router } = show(<Dependants />);
  fireEvent.click(await screen.findByRole('checkbox', { name: 'Choose Ana Aalto' }));
  fireEvent.click(screen.getByRole('button', { name: 'Write to their contacts' }));
  await waitFor(() => expect(router.state.location.pathname).toBe('/broadcasts/40'));
  expect(server.acts()).toEqual([['POST /api/broadcasts', { name: '', dependants: [7] }]]);
});

test('all of a class are asked for by the class, those taken out again stay out', async () => {
  const asked: string[] = [];
  const server = serve(
    answers({
      'GET /api/dependants/ids': (address: string) => {
        asked.push(address);
        return { ids: [7, 8] };
      },
    }),
  );
  const { router } = show(<Dependants />);
  await screen.findByRole('checkbox', { name: 'Choose Ana Aalto' });
  await waitFor(() => expect(screen.getByLabelText('Which')).toBeTruthy());
  choose('Which', 'class Pike');
  fireEvent.click(await screen.findByRole('checkbox', { name: 'All of them' }));
  fireEvent.click(await screen.findByRole('checkbox', { name: 'Choose Ana Aalto' }));
  fireEvent.click(screen.getByRole('button', { name: 'Write to their contacts' }));
  await waitFor(() => expect(router.state.location.pathname).toBe('/broadcasts/40'));
  expect(asked[0]).toContain('field=class&value=Pike');
  expect(server.acts()).toEqual([['POST /api/broadcasts', { name: '', dependants: [8] }]]);
});

test('one is added with whoever is written to about them; without a contact it says so', async () => {
  const server = serve(
    answers({
      'GET /api/people': { people: [{ id: 2, given_name: 'Mabel', family_name: 'Aalto', number: '+15185550122' }] },
      'POST /api/people/2/dependants': { id: 9 },
    }),
  );
  show(<Dependants />);
  fireEvent.click(await screen.findByRole('button', { name: 'Add a dependant' }));
  fireEvent.change(await screen.findByLabelText('Given name'), { target: { value: 'Leo' } });
  fireEvent.click(screen.getByRole('button', { name: 'Add' }));
  await screen.findByText(/Choose who is written to about them/);
  const user = userEvent.setup();
  await user.type(screen.getByRole('combobox', { name: 'First contact' }), 'mabel');
  await user.click(await screen.findByRole('option', { name: /Mabel Aalto/ }));
  fireEvent.click(screen.getByRole('button', { name: 'Add' }));
  await waitFor(() => expect(server.acts()).toHaveLength(1));
  expect(server.acts()[0]).toMatchObject([
    'POST /api/people/2/dependants',
    { dependant: { given_name: 'Leo' }, guard: { contact: 1 } },
  ]);
});

import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { beforeAll, expect, test, vi } from 'vitest';
import type { PreparedText } from '../../core/api/sending/templates';
import type { Draft } from '../../core/plan/draft/draft';
import { draftOf } from '../broadcasts/testing';
import { refusal, serve, show } from '../testing';
import TakeUp from './TakeUp';
import Templates from './Templates';

beforeAll(() => {
  Range.prototype.getClientRects = () => [] as unknown as DOMRectList;
});

const LATE: PreparedText = {
  id: 3,
  kind: 'template',
  folder: 'Ferry',
  name: 'Late',
  words: { en: 'Late. {writer_name}, {writer_number or "the desk"}', fr: 'En retard. {writer_name}' },
  links: [{ name: 'map', address: 'https://example.org/m' }],
  version: 4,
  updated_at: '2026-11-02T20:40:00.000Z',
  by: 'Ben Holm',
};
const LISTS = {
  'GET /api/prepared-texts': { texts: [LATE], total: 1 },
  'GET /api/prepared-texts/folders': { folders: ['Ferry'] },
  'GET /api/people/sources': { lists: [], tags: [], segments: [], fields: [] },
  'GET /api/prepared-texts/earlier': {
    texts: [
      {
        run_id: 9,
        name: 'Fog',
        at: '2026-11-01T12:00:00.000Z',
        people: 12,
        words: { en: 'Fog.' },
        links: [],
        opt_out: 'none',
      },
    ],
    total: 1,
  },
};
const button = (name: string | RegExp) => screen.findByRole('button', { name });

function open(draft: Partial<Draft> = {}) {
  const change = vi.fn();
  const putIn = vi.fn();
  function Sheet() {
    const [taking, setTaking] = useState(true);
    if (!taking) return <p>the sheet</p>;
    return <TakeUp draft={draftOf(draft)} change={change} putIn={putIn} language="en" close={() => setTaking(false)} />;
  }
  show(<Sheet />);
  return { change, putIn };
}

test('a template is taken up with whoever writes in it, its links, and a way back to the words before', async () => {
  const user = userEvent.setup();
  serve(LISTS);
  const { change } = open({ words: 'Old words', dismissed: ['who it is from'] });
  await user.click(await button('Take it up in place of the words there'));
  expect(change).toHaveBeenLastCalledWith({
    words: 'Late. Ana Reyes, the desk',
    translations: { fr: 'En retard. Ana Reyes' },
    link: null,
    links: LATE.links,
    dismissed: undefined,
  });
  expect(await screen.findByText('the sheet')).toBeDefined();
  await user.click(await button('Undo'));
  expect(change).toHaveBeenLastCalledWith(expect.objectContaining({ words: 'Old words', dismissed: ['who it is from'] }));
});

test('what was sent before brings its opt-out wording; on an empty sheet nothing is said to be replaced', async () => {
  const user = userEvent.setup();
  serve(LISTS);
  const { change } = open({ words: '' });
  await user.click(await button('Sent before'));
  await screen.findByText(/12 people/);
  await user.click(await button('Take it up'));
  expect(change).toHaveBeenLastCalledWith(expect.objectContaining({ words: 'Fog.', opt_out: 'none' }));
});

test('a piece is put in at the cursor and changes nothing else', async () => {
  const user = userEvent.setup();
  const piece: PreparedText = {
    ...LATE,
    id: 5,
    kind: 'piece',
    folder: '',
    name: 'Hours',
    words: { en: 'Open 7 AM.' },
    links: [],
  };
  serve({ ...LISTS, 'GET /api/prepared-texts': { texts: [piece], total: 1 } });
  const { change, putIn } = open();
  await user.click(await button('Saved pieces'));
  await user.click(await button('Put it in at the cursor'));
  expect(putIn).toHaveBeenCalledWith('Open 7 AM.');
  expect(change).not.toHaveBeenCalled();
});

test('the words on the sheet are kept as a template; a name that is taken is said, and nothing typed is lost', async () => {
  const user = userEvent.setup();
  const made = vi.fn().mockReturnValueOnce(refusal(409, 'There is a template “Late” in this folder already.', { place: 'name' }));
  made.mockReturnValue({ id: 8 });
  const { asked } = serve({ ...LISTS, 'POST /api/prepared-texts': made });
  open({ words: 'New words', translations: { fr: ' ' } });
  await user.click(await button('Save these words…'));
  await user.type(screen.getByLabelText('Name'), 'Late');
  await user.type(screen.getByLabelText('Folder'), 'Ferry');
  await user.click(await button('Keep them'));
  expect((await screen.findByRole('alert')).textContent).toContain('There is a template “Late” in this folder already.');
  await user.type(screen.getByLabelText('Name'), ' boat');
  await user.click(await button('Keep them'));
  await waitFor(() => expect(made).toHaveBeenCalledTimes(2));
  expect(asked.filter(({ call }) => call === 'POST /api/prepared-texts')[1].body).toEqual({
    kind: 'template',
    name: 'Late boat',
    folder: 'Ferry',
    words: { en: 'New words' },
    links: [],
  });
});

test('a template is changed under its version, and deleted with a way back', async () => {
  const user = userEvent.setup();
  const { asked } = serve({
    ...LISTS,
    'PUT /api/prepared-texts/3': { version: 5 },
    'DELETE /api/prepared-texts/3': {},
    'POST /api/prepared-texts': { id: 11 },
    'POST /api/links/check': { links: [] },
  });
  show(<Templates />, '/?kind=template&open=3', '/');
  const part = await screen.findByRole('region', { name: 'Late' });
  await user.type(within(part).getByLabelText('Name'), ' boat');
  await user.click(within(part).getByRole('button', { name: 'Save' }));
  await screen.findByText('“Late boat” is kept.');
  expect(asked.find(({ call }) => call.startsWith('PUT'))?.body).toMatchObject({
    name: 'Late boat',
    version: 4,
    words: LATE.words,
  });
  await user.click(within(part).getByRole('button', { name: 'delete…' }));
  await user.click(await button('Delete the template'));
  await user.click(await button('Undo'));
  await waitFor(() =>
    expect(asked.filter(({ call }) => call === 'POST /api/prepared-texts').map(({ body }) => body)).toEqual([
      { kind: 'template', folder: 'Ferry', name: 'Late', words: LATE.words, links: LATE.links },
    ]),
  );
});

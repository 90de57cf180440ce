import { fireEvent, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { expect, test, vi } from 'vitest';
import type { Draft } from '../../../core/plan/draft/draft';
import { refusal, serve, show } from '../../testing';
import { Languages } from './Languages';
import { draftOf, planOf } from '../testing';

const write = vi.fn();
const flush = () => Promise.resolve();

function Words({ draft }: { draft: Draft }) {
  const [language, setLanguage] = useState('en');
  return (
    <Languages id={32} flush={flush} draft={draft} plan={planOf()} language={language} setLanguage={setLanguage} write={write} />
  );
}
const tab = (name: RegExp) => screen.getByRole('button', { name });

test('who gets which stands beside the languages; a missing one says what those people get, and begins with it', async () => {
  const user = userEvent.setup();
  show(<Words draft={draftOf({ words: '{given_name or "you"}: off' })} />);
  expect(tab(/^English 38/).textContent).toBe('English 38');
  expect(tab(/^French/).textContent).toBe('French 3, no words');
  await user.click(tab(/^French/));
  expect(screen.getByText('given name').parentElement?.textContent).toBe('given name or you: off');
  await user.click(screen.getByRole('button', { name: 'begin with them' }));
  expect(write).toHaveBeenCalledWith('{given_name or "you"}: off');
});

test('words of one’s own are said to be there by nothing missing', async () => {
  const user = userEvent.setup();
  show(<Words draft={draftOf({ translations: { fr: 'Le Heron ne part pas.' } })} />);
  await user.click(tab(/^French/));
  expect(tab(/^French/).textContent).toBe('French 3');
  expect(screen.queryByRole('button', { name: 'begin with them' })).toBeNull();
});

test('a translator’s file is brought in as the words of that language; a refused one changes nothing and says where', async () => {
  const read = vi
    .fn()
    .mockReturnValueOnce(refusal(422, '{given_name} is missing in the translation.', { place: 'unit words, target, d1' }));
  read.mockReturnValue({ words: 'Bonjour {given_name}' });
  serve({ 'POST /api/broadcasts/32/xliff': read });
  const user = userEvent.setup();
  show(<Words draft={draftOf({ words: 'Hello {given_name}' })} />);
  await user.click(tab(/^French/));
  write.mockClear();
  const bring = () =>
    fireEvent.change(screen.getByLabelText('Translation into French'), { target: { files: [new File(['<xliff/>'], 'fr.xlf')] } });
  bring();
  expect((await screen.findByRole('alert')).textContent).toContain('{given_name} is missing in the translation.');
  expect(write).not.toHaveBeenCalled();
  bring();
  await waitFor(() => expect(write).toHaveBeenCalledWith('Bonjour {given_name}'));
});

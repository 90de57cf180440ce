import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { expect, test } from 'vitest';
import { serve, show } from '../../testing';
import { Shorter } from './Shorter';
import { draftOf } from '../testing';

const WORDS = 'Please note that it is late.';
const proposal = (words: string, was: string, becomes: string, saves_parts: number, why = 'filler') => ({
  ...{ words, why, was, becomes, saves_parts, saves_micro: saves_parts * 7500 },
});

function Pane() {
  const [words, write] = useState(WORDS);
  return (
    <>
      <p data-testid="words">{words}</p>
      <Shorter id={32} draft={draftOf({ words })} language="en" words={words} write={write} />
    </>
  );
}

test('each stands beside what it is instead of, with what it saves; taken singly, and taken back', async () => {
  const proposals = [
    proposal('It is late.', 'Please note that', '', 41),
    proposal("Please note that it's late.", 'it is', "it's", 0, 'shorter'),
  ];
  const { asked } = serve({ 'POST /api/broadcasts/32/shorter': { proposals } });
  const user = userEvent.setup();
  show(<Pane />);
  expect((await screen.findByText('41 parts, $0.31 less')).parentElement?.textContent).toContain('Please note that → nothing');
  expect(screen.getByText('no part less')).toBeDefined();
  await user.click(screen.getByRole('button', { name: 'Take it: nothing instead of Please note that' }));
  expect(screen.getByTestId('words').textContent).toBe('It is late.');
  // what was proposed for other words is not offered for these
  expect(screen.queryByText('41 parts, $0.31 less')).toBeNull();
  await user.click(await screen.findByRole('button', { name: 'Undo' }));
  expect(screen.getByTestId('words').textContent).toBe(WORDS);
  expect(asked[0].body).toMatchObject({ language: 'en', draft: { words: WORDS } });
});

test('nothing to be said shorter is said', async () => {
  serve({ 'POST /api/broadcasts/32/shorter': { proposals: [] } });
  show(<Pane />);
  expect(await screen.findByText('Nothing here could be said shorter by rule.')).toBeDefined();
});

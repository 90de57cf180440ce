import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { expect, test } from 'vitest';
import { EMPTY_DRAFT, type Draft } from '../../../core/plan/draft/draft';
import { serve, show } from '../../testing';
import { planOf } from '../testing';
import { Remarks } from '../sheet/Remarks';
import { AboutLine } from './AboutLine';

const hint = { place: 'words' as const, check: 'dependants named', message: 'The texts name 4 dependants.', step: 'names_all' };

/** The sheet's part: its hint goes with the first choice, as it does once it is counted anew. */
function Part() {
  const [draft, setDraft] = useState<Draft>({ ...EMPTY_DRAFT, words: 'Off.' });
  const change = (part: Partial<Draft>) => setDraft((known) => ({ ...known, ...part }));
  return (
    <>
      <Remarks id={3} draft={draft} plan={planOf({ hints: draft.about ? [] : [hint] })} hasSenders change={change} />
      <ul>
        <AboutLine id={3} draft={draft} change={change} />
      </ul>
      <output>{JSON.stringify(draft.about ?? null)}</output>
    </>
  );
}

test('name only some: chosen by a press, several of one field, shown, and named all again', async () => {
  serve({
    'POST /api/broadcasts/3/about': {
      choices: [
        { field: 'boat', label: 'boat', value: 'Heron', people: 3 },
        { field: 'class', label: 'class', value: 'Otters', people: 12 },
        { field: 'class', label: 'class', value: 'Pike', people: 1 },
      ],
    },
    'POST /api/links/check': { links: [] },
    'GET /api/people/sources': {
      lists: [],
      tags: [],
      segments: [],
      everyone: 0,
      fields: [{ about: 'dependant', slug: 'class', label: 'class', type: 'choice', choices: [] }],
    },
  });
  const user = userEvent.setup();
  show(<Part />);
  const chosen = () => screen.getByText(/^(null|\{.*\})$/).textContent;
  await user.click(await screen.findByText('name only some'));
  await user.click(await screen.findByRole('option', { name: 'boat Heron, of 3 people' }));
  expect(chosen()).toBe('{"field":"boat","values":["Heron"]}');
  // of another field: those instead; the hint has gone, the choice has not
  await user.click(screen.getByRole('option', { name: 'class Pike, of 1 person' }));
  await user.click(screen.getByRole('option', { name: 'class Otters, of 12 people' }));
  expect(chosen()).toBe('{"field":"class","values":["Pike","Otters"]}');
  await user.click(screen.getByRole('option', { name: 'class Pike, of 1 person' }));
  await user.click(screen.getByRole('button', { name: 'Done' }));
  await screen.findByRole('button', { name: 'class Otters' });
  await user.click(screen.getByRole('button', { name: 'Name all dependants again, not only class Otters' }));
  expect(chosen()).toBe('null');
});

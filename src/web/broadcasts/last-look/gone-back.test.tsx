import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, test, vi } from 'vitest';
import { serve, show } from '../../testing';
import { broadcastOf, planOf } from '../testing';
import LastLook from './LastLook';

// whoever goes back before the run's view has loaded never left this one
vi.mock('react-router', async (actual) => ({ ...(await actual()), useNavigate: () => () => Promise.resolve() }));

test('gone back to before the run was there, it does not ask for ever: what was pressed stands there to read', async () => {
  const answers: Record<string, unknown> = {
    'GET /api/broadcasts/32': broadcastOf({ name: 'Heron' }),
    'POST /api/broadcasts/32/plan': { plan: planOf(), digest: 'first' },
    'POST /api/links/check': { links: [] },
    'GET /api/people/sources': { lists: [], tags: [], segments: [], fields: [] },
    'POST /api/broadcasts/32/press': () => {
      answers['GET /api/broadcasts/32'] = broadcastOf({
        name: 'Heron',
        state: 'scheduled',
        run: { id: 4, state: 'waiting', people: 41, due_at: '2026-12-02T22:30:00.000Z' },
      });
      return { run_id: 4 };
    },
  };
  serve(answers);
  show(<LastLook />, '/broadcasts/32/last-look', '/broadcasts/:id/last-look');
  await userEvent.click(await screen.findByRole('button', { name: /^Send to/ }));
  await screen.findByRole('link', { name: 'Open its run' });
  expect(screen.queryByText('Asking once more…')).toBeNull();
});

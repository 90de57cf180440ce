import { cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, test } from 'vitest';
import { broadcasts } from '../../core/api/sending/broadcasts';
import { useGet } from '../api/client';
import { refusal, serve, show } from '../testing';
import { Trouble } from './small';

function Labels() {
  const answer = useGet(broadcasts.labels, {});
  return answer.data ? <p>{answer.data.labels.length} labels</p> : <Trouble error={answer.error} />;
}

test('what could not be loaded is asked again by a press', async () => {
  const user = userEvent.setup();
  const answers: Record<string, unknown> = { 'GET /api/labels': refusal(500, 'Something went wrong here.') };
  const { asked } = serve(answers);
  show(<Labels />);
  const button = await screen.findByRole('button', { name: 'Load it again' });
  answers['GET /api/labels'] = new TypeError('broken line');
  await user.click(button);
  await screen.findByText(/The server cannot be reached just now/);
  answers['GET /api/labels'] = { labels: [] };
  await user.click(screen.getByRole('button', { name: 'Load it again' }));
  await screen.findByText('0 labels');
  await waitFor(() => expect(asked).toHaveLength(3));
});

test('what was refused, or is no question, is not asked again', async () => {
  serve({ 'GET /api/labels': refusal(403, 'Your role does not let you see this.') });
  show(<Labels />);
  await screen.findByText('Your role does not let you see this.');
  expect(screen.queryByRole('button')).toBeNull();
  cleanup();
  show(<Trouble error={new Error('It could not be copied.')} />);
  expect(screen.queryByRole('button')).toBeNull();
});

import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, test } from 'vitest';
import { serve, show } from '../testing';
import { inHeldOrder } from './held-order';
import { AnotherPhone } from './AnotherPhone';
import { WithLinks } from './WithLinks';

test('links on a phone are pressed: with a scheme, or our own short ones; what ends a sentence is no part of them', () => {
  show(
    <p>
      <WithLinks text="See localhost:4180/l/k7w2m4nq9cxy. More at https://example.org/a?b=1, and 3/4 of it." />
    </p>,
  );
  expect(screen.getAllByRole('link').map((link) => [link.textContent, link.getAttribute('href')])).toEqual([
    ['localhost:4180/l/k7w2m4nq9cxy', 'http://localhost:4180/l/k7w2m4nq9cxy'],
    ['https://example.org/a?b=1', 'https://example.org/a?b=1'],
  ]);
});

test('while they are held nothing moves, and what is new comes last', () => {
  const all = (ids: string) => [...ids];
  const itself = (id: string) => id;
  expect(inHeldOrder(all('cab'), itself, undefined)).toEqual(all('cab'));
  expect(inHeldOrder(all('xcab'), itself, ['a', 'b', 'c'])).toEqual(['a', 'b', 'c', 'x']);
});

test('somebody who writes first: any number, to a sender that takes replies', async () => {
  const server = serve({
    'GET /api/setup': {
      senders: [
        { id: 1, name: 'OttermereFB', kind: 'name', address: 'OttermereFB' },
        { id: 2, name: 'Ferry desk', kind: 'short', address: '72345' },
      ],
    },
    'POST /api/phones/%2B1%20207%20555%200166/text': {},
  });
  const user = userEvent.setup();
  show(<AnotherPhone />);
  await user.click(screen.getByRole('button', { name: 'Text as another phone' }));
  await user.type(await screen.findByLabelText('Its number'), '+1 207 555 0166');
  await user.type(screen.getByLabelText('What it says'), 'FERRY');
  await user.click(screen.getByRole('button', { name: 'Text the desk' }));
  expect(server.acts()).toEqual([['POST /api/phones/%2B1%20207%20555%200166/text', { to: '72345', text: 'FERRY' }]]);
});

import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, test } from 'vitest';
import { serve, show } from '../testing';
import { CarrierWays } from './CarrierWays';

const TESTS = { tests_a_day: 100, tests_a_day_micro: 10_000_000 };

test('what strangers may cost is an amount, and how the carrier writes is chosen; both are saved together', async () => {
  const server = serve({ 'PUT /api/setup/carrier': {} });
  show(
    <CarrierWays
      ways={{ alphabet: 'gsm7', receipt_ids: 'same', at_once: 'any', strangers_a_day_micro: 2_000_000, ...TESTS }}
      currency="USD"
      manage
    />,
  );
  const user = userEvent.setup();
  const amount = screen.getByLabelText(/Answers to numbers nobody knows, USD a day at most/);
  await user.clear(amount);
  await user.type(amount, 'a lot');
  await user.click(screen.getByRole('button', { name: 'Save' }));
  expect(document.body.textContent).toContain('An amount such as 2 or 1.50.');
  expect(server.acts()).toEqual([]);
  await user.clear(amount);
  await user.type(amount, '1,50');
  await user.click(screen.getByRole('button', { name: 'Save' }));
  expect(server.acts()).toEqual([
    [
      'PUT /api/setup/carrier',
      { alphabet: 'gsm7', receipt_ids: 'same', at_once: 'any', strangers_a_day_micro: 1_500_000, ...TESTS },
    ],
  ]);
});

test('whoever does not manage sees it, and cannot change it', () => {
  serve({});
  show(
    <CarrierWays
      ways={{ alphabet: 'latin1', receipt_ids: 'same', at_once: 'any', strangers_a_day_micro: 0, ...TESTS }}
      currency="USD"
      manage={false}
    />,
  );
  expect(screen.queryByRole('button', { name: 'Save' })).toBeNull();
  expect(screen.getByText('Western European (Latin-1)')).toBeTruthy();
});

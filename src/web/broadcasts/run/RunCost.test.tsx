import { screen } from '@testing-library/react';
import { expect, test } from 'vitest';
import { show } from '../../testing';
import { RunCost } from './RunCost';

const shown = { cost_micro: 2_670_000, parts: 356 };

test.each([
  ['while it goes', { spent: 1_000_000, parts: 133 }, false, 'so far, 133 parts; $2.67 and 356 parts were shown before'],
  ['ended as shown', { spent: 2_670_000, parts: 356 }, true, 'for 356 parts, as shown before'],
  [
    'ended with less',
    { spent: 750_000, parts: 100 },
    true,
    'for 100 parts; $2.67 and 356 parts were shown before, and what was not taken is given back',
  ],
])('%s', (_when, spent, ended, says) => {
  show(<RunCost spent={spent} shown={shown} ended={ended} currency="USD" />);
  expect(screen.getByText(says)).toBeTruthy();
});

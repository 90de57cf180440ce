import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { show } from '../../testing';
import { DateField, TimeField } from './dates';
import { clockTime, tellHours } from '../format';

beforeEach(() =>
  vi.stubGlobal('matchMedia', (media: string) => ({
    matches: true,
    media,
    addEventListener: () => undefined,
    removeEventListener: () => undefined,
    addListener: () => undefined,
    removeListener: () => undefined,
  })),
);
afterEach(() => {
  tellHours('12');
});
let now = '';

function Held({ kind, start }: { kind: 'date' | 'time'; start: string }) {
  const [value, setValue] = useState(start);
  now = value;
  return kind === 'date' ? (
    <DateField label="Day" value={value} onChange={setValue} />
  ) : (
    <TimeField label="Time" value={value} onChange={setValue} />
  );
}
const part = (name: string) => screen.getByRole('spinbutton', { name });

describe('typed', () => {
  test('a day by its parts', async () => {
    show(<Held kind="date" start="2026-12-02" />);
    const user = userEvent.setup();
    await user.click(part('Month'));
    await user.keyboard('03092027');
    expect(now).toBe('2027-03-09');
  });

  test('a time in the custom of the workspace, with AM and PM', async () => {
    show(<Held kind="time" start="16:30" />);
    expect(part('Hours').textContent).toBe('4');
    const user = userEvent.setup();
    await user.click(part('Hours'));
    await user.keyboard('0715a');
    expect(now).toBe('07:15');
  });

  test('and in the custom of 24 hours without', async () => {
    tellHours('24');
    show(<Held kind="time" start="16:30" />);
    expect(part('Hours').textContent).toBe('16');
    expect(screen.queryByRole('spinbutton', { name: 'Meridiem' })).toBeNull();
    const user = userEvent.setup();
    await user.click(part('Hours'));
    await user.keyboard('2145');
    expect(now).toBe('21:45');
  });

  test('a time that a zone does not have, or has twice, is told as it is typed: what it means is decided elsewhere', async () => {
    // 2:30 on the night of a change: the picker must not turn it into another
    show(<Held kind="time" start="01:00" />);
    const user = userEvent.setup();
    await user.click(part('Hours'));
    await user.keyboard('0230a');
    expect(now).toBe('02:30');
  });
});

test('times are written in the custom that was told', () => {
  const at = '2026-12-02T21:30:00Z';
  expect(clockTime(at, 'America/New_York')).toBe('4:30 PM');
  tellHours('24');
  expect(clockTime(at, 'America/New_York')).toBe('16:30');
  expect(clockTime('2026-12-02T05:00:00Z', 'America/New_York')).toBe('00:00');
});

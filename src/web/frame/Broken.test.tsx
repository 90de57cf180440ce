import { act, fireEvent, screen } from '@testing-library/react';
import { useLocation } from 'react-router';
import { afterEach, expect, test, vi } from 'vitest';
import { show } from '../testing';
import { Broken } from './Broken';

afterEach(() => {
  vi.restoreAllMocks();
});

let faulty = true;
function View(): string {
  if (faulty) throw new Error('a fault');
  return 'the view';
}
function Framed() {
  const { pathname, search } = useLocation();
  return (
    <>
      <p>the frame</p>
      <Broken at={pathname + search}>
        <View />
      </Broken>
    </>
  );
}

test('a view that cannot be drawn says so and takes nothing else with it; it is tried again, and another view begins anew', async () => {
  vi.spyOn(console, 'error').mockImplementation(() => undefined);
  faulty = true;
  const { router } = show(<Framed />);
  expect(screen.getByText('the frame')).toBeTruthy();
  expect(screen.getByRole('alert').textContent).toContain('This view could not be shown');
  fireEvent.click(screen.getByRole('button', { name: 'Try it again' }));
  expect(screen.getByRole('alert')).toBeTruthy();
  faulty = false;
  await act(() => router.navigate('/?other'));
  expect(await screen.findByText('the view')).toBeTruthy();
});

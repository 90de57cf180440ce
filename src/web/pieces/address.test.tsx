import { act, screen } from '@testing-library/react';
import { Link } from 'react-router';
import { expect, test } from 'vitest';
import { show } from '../testing';
import { useInAddress } from './address';
import { Field } from './form/Field';

const KEYS = ['search', 'label'];
function Narrowing() {
  const [values, change, address] = useInAddress(KEYS);
  return (
    <>
      <Field label="Find" value={values.search ?? ''} onChange={(search) => change({ search })} />
      <button onClick={() => change({ label: 'ferry' })}>ferry</button>
      <Link to="/?search=heron">herons</Link>
      <output>{address}</output>
    </>
  );
}

const typed = (what: string) => {
  const field = screen.getByRole<HTMLInputElement>('textbox', { name: 'Find' });
  Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')?.set?.call(field, field.value + what);
  field.dispatchEvent(new Event('input', { bubbles: true }));
};

test('letters typed faster than the address follows are all there, and what was chosen beside them', async () => {
  const { router } = show(<Narrowing />);
  await act(async () => {
    for (const letter of 'slip as') typed(letter);
    screen.getByRole('button', { name: 'ferry' }).click();
    typed(' always');
    await Promise.resolve();
  });
  expect(screen.getByRole<HTMLInputElement>('textbox').value).toBe('slip as always');
  expect(router.state.location.search).toBe('?search=slip+as+always&label=ferry');
  expect(screen.getByRole('status').textContent).toBe('search=slip+as+always&label=ferry');
});

test('an address that somebody else opens is what stands there then', async () => {
  const { router } = show(<Narrowing />, '/?label=ferry');
  await act(async () => {
    typed('x');
    await Promise.resolve();
  });
  expect(router.state.location.search).toBe('?search=x&label=ferry');
  await act(async () => {
    screen.getByRole('link', { name: 'herons' }).click();
    await Promise.resolve();
  });
  expect(screen.getByRole<HTMLInputElement>('textbox').value).toBe('heron');
  expect(screen.getByRole('status').textContent).toBe('search=heron');
});

import { Button } from '@mui/material';
import { act, fireEvent, screen, waitFor } from '@testing-library/react';
import { useState } from 'react';
import { beforeEach, expect, test, vi } from 'vitest';
import { SenderBody } from '../../../core/api/setup';
import { Refused } from '../../api/client';
import { show } from '../../testing';
import { bySchema, FormText, useContractForm, useSubmit } from './form';
const save = vi.fn<(body: SenderBody) => Promise<void>>();
beforeEach(() => {
  save.mockReset().mockResolvedValue(undefined);
});

function Sender() {
  const [error, setError] = useState<unknown>();
  const form = useContractForm(SenderBody, { name: '', kind: 'long' as const, address: '', parts_per_second: 1 });
  const submit = useSubmit(form, save, setError);
  return (
    <form noValidate onSubmit={(event) => void submit(event)}>
      <FormText control={form.control} name="name" label="Name" />
      <FormText control={form.control} name="address" label="Address" />
      <FormText
        control={form.control}
        name="parts_per_second"
        label="Pace"
        read={(typed) => (/^\d+$/.test(typed) ? Number(typed) : typed)}
      />
      <p>{error instanceof Error ? error.message : ''}</p>
      <Button type="submit">Save</Button>
    </form>
  );
}
const type = (label: string, value: string) => fireEvent.change(screen.getByLabelText(label), { target: { value } });
const wrongAt = (label: string) => {
  const id = screen.getByLabelText(label).getAttribute('aria-describedby');
  return id === null ? undefined : document.getElementById(id)?.textContent;
};

test('what is wrong stands at its field, by the schema of the contract, and nothing is sent', async () => {
  show(<Sender />);
  type('Pace', '2000');
  fireEvent.click(screen.getByText('Save'));
  await waitFor(() => expect(wrongAt('Name')).toBe('Fill this in.'));
  expect(wrongAt('Address')).toBe('Fill this in.');
  expect(wrongAt('Pace')).toBe('At most 1,000.');
  expect(save).not.toHaveBeenCalled();
});

test('what the server refuses with a place stands at that field; anything else stands with the form', async () => {
  show(<Sender />);
  type('Name', 'Ferry desk');
  type('Address', '72345');
  save.mockRejectedValueOnce(new Refused(409, { title: 'There is a sender 72345 already.', place: 'address' }));
  fireEvent.click(screen.getByText('Save'));
  await waitFor(() => expect(wrongAt('Address')).toBe('There is a sender 72345 already.'));
  save.mockRejectedValueOnce(new Refused(0, { title: 'The server cannot be reached just now.' }));
  type('Address', '72346');
  fireEvent.click(screen.getByText('Save'));
  await screen.findByText('The server cannot be reached just now.');
  // and what was typed is still there
  expect((screen.getByLabelText('Address') as HTMLInputElement).value).toBe('72346');
});

test('leaving what is not saved asks first; what is saved is left without a word', async () => {
  const { router } = show(<Sender />);
  type('Name', 'Ferry desk');
  await act(() => router.navigate('/elsewhere'));
  fireEvent.click(screen.getByRole('button', { name: 'Stay here' }));
  expect(router.state.location.pathname).toBe('/');
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
  type('Address', '72345');
  fireEvent.click(screen.getByText('Save'));
  await waitFor(() => expect(save).toHaveBeenCalled());
  await act(() => router.navigate('/elsewhere'));
  await screen.findByText('Elsewhere');
  expect(screen.queryByRole('dialog')).toBeNull();
});

test.each([
  ['name', { name: '', kind: 'long', address: '1', parts_per_second: 1 }, 'Fill this in.'],
  ['name', { name: 'n'.repeat(41), kind: 'long', address: '1', parts_per_second: 1 }, 'At most 40 characters.'],
  ['parts_per_second', { name: 'n', kind: 'long', address: '1', parts_per_second: 0 }, 'At least 1.'],
  ['parts_per_second', { name: 'n', kind: 'long', address: '1', parts_per_second: 'many' }, 'That is not a number.'],
  ['kind', { name: 'n', kind: 'pigeon', address: '1', parts_per_second: 1 }, 'That cannot be read as what it is to be.'],
])('a sentence for %s', async (field, values, says) => {
  const { errors } = await bySchema(SenderBody)(values as SenderBody, undefined, {
    fields: {},
    shouldUseNativeValidation: false,
  });
  expect((errors as Record<string, { message: string }>)[field].message).toBe(says);
});

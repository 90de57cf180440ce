import { fireEvent, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { expect, test, vi } from 'vitest';
import type { Draft } from '../../../core/plan/draft/draft';
import { linksOf } from '../../../core/plan/draft/links';
import { show } from '../../testing';
import { Links } from './Links';
import { draftOf } from '../testing';

const putIn = vi.fn();
let kept: Draft;

function Pane({ from }: { from: Partial<Draft> }) {
  const [draft, setDraft] = useState(draftOf(from));
  kept = draft;
  return <Links draft={draft} change={(part) => setDraft({ ...draft, ...part })} putIn={putIn} />;
}

test('a first link is kept once something is typed, and put in by its name', async () => {
  const user = userEvent.setup();
  show(<Pane from={{}} />);
  expect(screen.getByRole('button', { name: 'Put it in' })).toHaveProperty('disabled', true);
  fireEvent.change(screen.getByLabelText('Address of link 1'), { target: { value: ' https://example.org/t ' } });
  fireEvent.change(screen.getByLabelText('Name of link 1'), { target: { value: '2 Time table!' } });
  await user.click(screen.getByRole('button', { name: 'Put it in' }));
  expect(putIn).toHaveBeenCalledWith('{link timetable}');
  expect(linksOf(kept)).toEqual([{ name: 'timetable', address: 'https://example.org/t' }]);
});

test('the single link of an older draft becomes one of several; names do not repeat', async () => {
  const user = userEvent.setup();
  show(<Pane from={{ link: { name: 'link2', address: 'https://example.org/a' } }} />);
  await user.click(screen.getByRole('button', { name: 'another link' }));
  expect(kept.link).toBeNull();
  expect(linksOf(kept).map(({ name }) => name)).toEqual(['link2', 'link3']);
  await user.click(screen.getByRole('button', { name: 'take it away: the link “link2”' }));
  expect(linksOf(kept).map(({ name }) => name)).toEqual(['link3']);
});

test('how long it works', async () => {
  const user = userEvent.setup();
  show(<Pane from={{ links: [{ name: 'a', address: 'https://example.org/a' }] }} />);
  await user.click(screen.getByRole('button', { name: '“a” never stops working' }));
  const days = screen.getByLabelText('Days for which “a” works');
  fireEvent.change(days, { target: { value: '7' } });
  fireEvent.change(days, { target: { value: '0' } });
  expect(linksOf(kept)[0].days).toBe(7);
  await user.click(screen.getByRole('button', { name: 'without an end' }));
  expect(linksOf(kept)[0].days).toBeUndefined();
});

import { cleanup, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { Source } from '../../../core/plan/draft/draft';
import type { Sources } from '../../people/sources';
import { serve, show } from '../../testing';
import { AudiencePicker } from './AudiencePicker';

const SOURCES = {
  everyone: 2400,
  cannot: 2,
  lists: [
    { id: 3, name: 'Berth holders', people: 9, filling_import: null, leave_after: null },
    { id: 4, name: 'Équipage', people: 12, filling_import: null, leave_after: null },
  ],
  tags: [{ id: 3, name: 'bicycle', people: 4 }],
  segments: [{ id: 9, name: 'Pass ends soon' }],
  fields: [],
} as unknown as Sources;

const changed = vi.fn();
const close = vi.fn();
beforeEach(() => {
  serve({
    'GET /api/outcomes': { runs: [], total: 0 },
    'GET /api/people': { people: [{ id: 23, given_name: 'Dao', family_name: 'Vance', number: null, key: 'dao' }] },
  });
});
afterEach(() => {
  changed.mockReset();
  close.mockReset();
});

function Picking({
  side,
  from,
  counted,
}: {
  side: 'to' | 'leave_out';
  from: Source[];
  counted?: { id: number; people: number }[];
}) {
  const [chosen, setChosen] = useState(from);
  return (
    <AudiencePicker
      anchor={document.body}
      side={side}
      chosen={chosen}
      sources={SOURCES}
      counted={counted}
      change={(next) => {
        changed(next);
        setChosen(next);
      }}
      paste={() => undefined}
      close={close}
    />
  );
}
const option = (name: RegExp) => screen.getByRole('option', { name });

test('several are chosen in one go; pressed again they go; what has the same number elsewhere stays', async () => {
  const user = userEvent.setup();
  show(<Picking side="to" from={[]} />);
  await screen.findAllByRole('option');
  await user.click(option(/^Berth holders, 9/));
  await user.click(option(/^bicycle, 4/));
  expect(changed).toHaveBeenLastCalledWith([
    { kind: 'list', id: 3 },
    { kind: 'tag', id: 3 },
  ]);
  expect(option(/^Berth holders/).getAttribute('aria-selected')).toBe('true');
  await user.click(option(/^Berth holders/));
  expect(changed).toHaveBeenLastCalledWith([{ kind: 'tag', id: 3 }]);
});

test('a segment that is not counted yet says so, and is no zero', async () => {
  show(<Picking side="to" from={[]} />);
  await screen.findAllByRole('option');
  expect(option(/^Pass ends soon/).textContent).toContain('counting…');
  cleanup();
  show(<Picking side="to" from={[]} counted={[{ id: 9, people: 0 }]} />);
  await screen.findAllByRole('option');
  expect(option(/^Pass ends soon/).textContent).toContain('0');
});

test('accents and case do not matter; erasing what is typed takes nothing of what is chosen', async () => {
  const user = userEvent.setup();
  show(<Picking side="to" from={[{ kind: 'list', id: 3 }]} />);
  await user.keyboard('equip');
  expect(screen.getAllByRole('option').map((each) => each.getAttribute('aria-label'))).toEqual(['Équipage, 12']);
  await user.keyboard('{Backspace}{Backspace}{Backspace}{Backspace}{Backspace}{Backspace}{Backspace}');
  expect(changed).not.toHaveBeenCalled();
  expect(option(/^Berth holders/).getAttribute('aria-selected')).toBe('true');
});

test('a person is found by name and says when they have no number', async () => {
  const user = userEvent.setup();
  show(<Picking side="to" from={[]} />);
  await user.keyboard('dao');
  await user.click(await screen.findByRole('option', { name: 'Dao Vance, no text number' }));
  expect(changed).toHaveBeenLastCalledWith([{ kind: 'person', id: 23 }]);
});

test('everyone can be written to and not left out; numbers that did not exist only left out', async () => {
  show(<Picking side="to" from={[]} />);
  await screen.findAllByRole('option');
  expect(option(/^Everyone, 2,400/)).toBeTruthy();
  cleanup();
  show(<Picking side="leave_out" from={[]} />);
  await screen.findAllByRole('option');
  expect(screen.queryByRole('option', { name: /^Everyone/ })).toBeNull();
  expect(option(/^Numbers that did not exist before/)).toBeTruthy();
});

test('Escape ends it', async () => {
  const user = userEvent.setup();
  show(<Picking side="to" from={[]} />);
  await user.keyboard('{Escape}');
  expect(close).toHaveBeenCalled();
});

test('the outcomes of what went last are there to be seen, others are found by typing', async () => {
  const run = (id: number, name: string) => ({ id, name, due_at: '2026-12-01T15:00:00.000Z' });
  const runs = [run(9, 'Fog'), run(8, 'Winter timetable'), run(7, 'Berth renewals')];
  serve({ 'GET /api/outcomes': { runs, total: 3 }, 'GET /api/people': { people: [] } });
  const user = userEvent.setup();
  show(<Picking side="to" from={[]} />);
  await user.click(await screen.findByRole('option', { name: 'Winter timetable, Tue, Dec 1: not clicked' }));
  expect(changed).toHaveBeenCalledWith([{ kind: 'run', id: 8, outcome: 'not_clicked', name: 'Winter timetable, Tue, Dec 1' }]);
  expect(screen.queryByRole('option', { name: /^Berth renewals/ })).toBeNull();
  await user.keyboard('berth r');
  await screen.findByRole('option', { name: 'Berth renewals, Tue, Dec 1: answered' });
});

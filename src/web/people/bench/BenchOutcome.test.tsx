import { act, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { serve, show } from '../../testing';
import { BenchOutcome } from './BenchOutcome';
import type { Sources } from '../sources';
import type { Staged } from './staged';

const SOURCES = { everyone: 0, cannot: 0, lists: [], tags: [], segments: [], fields: [] } as unknown as Sources;
const COUNTS = {
  new: 12,
  changed: 3,
  unchanged: 5,
  twice: 1,
  rejected: 2,
  set_aside: 0,
  waiting: 1,
  dependants: 0,
  second_contacts: 0,
};
const staged = (
  part: {
    counts?: object;
    settings?: object;
    facts?: object;
    state?: string;
    at_row?: number;
    written_row?: number;
    decided_at?: string;
  } = {},
) =>
  ({
    id: 7,
    file_name: 'passes.csv',
    version: 4,
    row_count: 23,
    at_row: part.at_row ?? 0,
    written_row: part.written_row ?? -1,
    state: part.state ?? 'open',
    // lately, whatever day it is
    decided_at: part.decided_at ?? '2999-01-01T00:00:00Z',
    counts: { ...COUNTS, ...part.counts },
    facts: { headings: ['Cell', 'Name'], last: 22, notes: [], ...part.facts },
    settings: {
      ...{ match: ['number', 'full_name'], list: '', already: 'fill_blanks', shared_number: 'one_person', landlines: 'keep' },
      ...{ missing: 'keep', tags: [], consent_purpose: 'marketing', consent_all: null, new_fields: {} },
      ...part.settings,
    },
  }) as unknown as Staged;

let server: ReturnType<typeof serve>;
let prepared: Record<string, unknown>;
const see = vi.fn();
beforeEach(() => {
  prepared = {
    'POST /api/imports/7/decide': {},
    'POST /api/imports/7/undo': {},
    'GET /api/imports/7/kept': { people: [] },
  };
  server = serve(prepared);
});
afterEach(() => {
  see.mockReset();
});
const bench = (of: Staged, change = vi.fn(() => Promise.resolve())) => show(outcome(of, change));
const outcome = (of: Staged, change: () => Promise<void>) => (
  <BenchOutcome
    staged={of}
    open={of.state === 'open'}
    busy={false}
    error={undefined}
    shown={undefined}
    sources={SOURCES}
    change={change}
    see={see}
    work={async (task) => void (await task())}
  />
);
const acts = () => server.asked.filter(({ call }) => !call.startsWith('GET')).map(({ call, body }) => [call, body]);

test('what will happen adds up, each count leads to its rows, and the press brings in what is new or changed', async () => {
  const user = userEvent.setup();
  bench(staged());
  await user.click(screen.getByRole('button', { name: '2' }));
  expect(see).toHaveBeenCalledWith({ verdict: 'rejected' });
  expect(screen.getByText('1 of the rejected waits for your fix.')).toBeTruthy();
  expect(screen.queryByText(/No column is the text number/)).toBeNull();
  await user.click(screen.getByRole('button', { name: 'Bring in 15 people' }));
  expect(acts()).toEqual([['POST /api/imports/7/decide', { version: 4 }]]);
});

test('a file that a sheet asked for goes to that broadcast with one press, and bringing in is the other choice', async () => {
  Object.assign(prepared, {
    'GET /api/broadcasts/31': { name: 'Fog', draft: { words: '' } },
    'POST /api/imports/7/use-once': { broadcast_id: 31 },
  });
  const user = userEvent.setup();
  const { router } = show(
    outcome(staged(), () => Promise.resolve()),
    '/people/bring-in/7?for=31',
  );
  expect(screen.getByRole('button', { name: 'Bring in 15 people' })).toBeTruthy();
  await user.click(screen.getByRole('button', { name: 'Use it for this broadcast only' }));
  expect(acts()).toEqual([['POST /api/imports/7/use-once', { broadcast_id: 31 }]]);
  await waitFor(() => expect(router.state.location.pathname).toBe('/broadcasts/31'));
});

test('without a column of text numbers it is said before anyone comes in who cannot be texted', () => {
  bench(staged({ settings: { match: ['skip', 'full_name'] } }));
  expect(screen.getByText(/No column is the text number, so nobody new can be texted/)).toBeTruthy();
});

/** A bench whose counts come when they are told to. */
function Counted({ first }: { first: Staged }) {
  const [now, set] = useState(first);
  counted = set;
  return outcome(now, change);
}
let counted: (now: Staged) => void;
const change = vi.fn(() => Promise.resolve());

test('a press while rows are checked is kept, and brings them in when it comes to what stood there', async () => {
  const user = userEvent.setup();
  show(<Counted first={staged({ at_row: 9 })} />);
  expect(screen.getByText('Checking row 9 of 23')).toBeTruthy();
  await user.click(screen.getByRole('button', { name: 'Bring in 15 people' }));
  expect(screen.getByRole('button', { name: 'When the rows are checked…' })).toBeTruthy();
  expect(acts()).toEqual([]);
  act(() => counted(staged()));
  await waitFor(() => expect(acts()).toEqual([['POST /api/imports/7/decide', { version: 4 }]]));
});

test('pressed twice in a row it is one decision', async () => {
  const user = userEvent.setup();
  bench(staged());
  await user.dblClick(screen.getByRole('button', { name: 'Bring in 15 people' }));
  await waitFor(() => expect(acts()).toEqual([['POST /api/imports/7/decide', { version: 4 }]]));
  expect(acts()).toHaveLength(1);
});

test('where it comes to something else, nobody comes in by a press of before', async () => {
  const user = userEvent.setup();
  show(<Counted first={staged({ at_row: 9 })} />);
  await user.click(screen.getByRole('button', { name: 'Bring in 15 people' }));
  act(() => counted(staged({ counts: { new: 30 } })));
  expect((await screen.findByRole('alert')).textContent).toMatch(/^Now it is 33 people\. Nobody was brought in yet/);
  expect(acts()).toEqual([]);
  await user.click(screen.getByRole('button', { name: 'Bring in 33 people' }));
  expect(acts()).toEqual([['POST /api/imports/7/decide', { version: 4 }]]);
});

test('a list that was only just typed is counted for first, and then it is done by the one press', async () => {
  const user = userEvent.setup();
  show(<Counted first={staged()} />);
  await user.type(screen.getByRole('combobox', { name: 'Add to list' }), 'Winter');
  await user.click(screen.getByRole('button', { name: 'Bring in 15 people' }));
  expect(change).toHaveBeenCalledWith({ list: 'Winter' });
  expect(acts()).toEqual([]);
  act(() => counted(staged({ settings: { list: 'Winter' } })));
  await waitFor(() => expect(acts()).toEqual([['POST /api/imports/7/decide', { version: 4 }]]));
});

test('nothing to bring in is no act', () => {
  bench(staged({ counts: { new: 0, changed: 0, unchanged: 0 } }));
  expect(screen.getByRole('button', { name: 'Bring in 0 people' })).toHaveProperty('disabled', true);
});

test('one of long ago says that it cannot be undone any more, and offers nothing that would be refused', () => {
  bench(staged({ state: 'done', decided_at: '2020-01-01T00:00:00Z' }));
  expect(screen.queryByRole('button', { name: 'Undo this import…' })).toBeNull();
  expect(screen.getByText(/more than 30 days ago/)).toBeTruthy();
});

test('an import is undone after being asked once more; leaving it is what Enter does', async () => {
  const user = userEvent.setup();
  bench(staged({ state: 'done' }));
  await user.click(screen.getByRole('button', { name: 'Undo this import…' }));
  expect(document.activeElement?.textContent).toBe('Leave it');
  await user.keyboard('{Enter}');
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
  expect(acts()).toEqual([]);
  await user.click(screen.getByRole('button', { name: 'Undo this import…' }));
  await user.click(screen.getByRole('button', { name: 'Undo the import' }));
  await waitFor(() => expect(acts()).toEqual([['POST /api/imports/7/undo', {}]]));
});

test.each([
  [{ kept: { texted: 2, changed: 1, people: [] } }, 'Taken back. 3 people stayed as they are: 2 texted since, 1 changed since.'],
  [{ kept: { texted: 0, changed: 0, people: [] } }, 'Taken back. Everything is as it was before.'],
])('what an undo left: %j', (facts, says) => {
  bench(staged({ state: 'undone', facts }));
  expect(screen.getByRole('status').textContent).toContain(says);
  expect(screen.getByRole('status').textContent).toContain('Numbers that opted out stay out.');
});

test('more or fewer rows than were said is an alarm', () => {
  bench(staged({ state: 'done', facts: { differs: { said: 15, wrote: 14 } } }));
  expect(screen.getByRole('alert').textContent).toBe('15 rows were to come in, and 14 did. Undo it and bring the file in again.');
});

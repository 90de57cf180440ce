import { cleanup, fireEvent, screen, within } from '@testing-library/react';
import { useState } from 'react';
import { describe, expect, test, vi } from 'vitest';
import { show } from '../../testing';
import { inOrder } from './table-column';
import { DataTable, type Chosen, type Column, type Sorting } from './DataTable';

interface Boat {
  id: number;
  name: string;
  berth: string;
}
const boats: Boat[] = ['Heron', 'Kittiwake', 'Grebe', 'Otter', 'Pike'].map((name, i) => ({ id: i + 1, name, berth: `B-${i}` }));
const columns: Column<Boat>[] = [
  { key: 'name', heading: 'Name', sorts: true, stays: true, cell: (boat) => boat.name },
  { key: 'berth', heading: 'Berth', num: true, cell: (boat) => boat.berth },
];
let chosen: Chosen = { all: false, ids: new Set() };

function Held({ open, sort }: { open?: (boat: Boat) => void; sort?: (sorting: Sorting) => void }) {
  const [held, setHeld] = useState<Chosen>({ all: false, ids: new Set() });
  chosen = held;
  return (
    <DataTable
      label="Boats"
      columns={columns}
      rows={boats}
      idOf={(boat) => boat.id}
      nameOf={(boat) => `Choose ${boat.name}`}
      chosen={held}
      choose={setHeld}
      open={open}
      sorting={{ by: 'name', down: false }}
      sort={sort}
      instead={<b>acts</b>}
    />
  );
}
const box = (name: string) => screen.getByRole('checkbox', { name });
const row = (at: number) => {
  const found = document.querySelector<HTMLElement>(`tr[data-at="${at}"]`);
  if (!found) throw new Error(`There is no row ${at}.`);
  return found;
};

/** A heading that has something open. */
function Opens() {
  const [open, setOpen] = useState(false);
  return <button onClick={() => setOpen(true)}>{open ? 'it is open' : 'open it'}</button>;
}

test('what is open in a heading stays open while the table is drawn anew around it', () => {
  const table = (n: number) => (
    <DataTable
      label="Boats"
      // made anew each time, as where a heading shows what is chosen
      columns={[{ key: 'name', heading: <Opens />, said: 'Name', cell: (boat: Boat) => `${boat.name} ${n}` }]}
      rows={boats}
      idOf={(boat) => boat.id}
    />
  );
  function Counted() {
    const [n, setN] = useState(1);
    return (
      <>
        <button onClick={() => setN(n + 1)}>anew</button>
        {table(n)}
      </>
    );
  }
  show(<Counted />);
  fireEvent.click(screen.getByRole('button', { name: 'open it' }));
  fireEvent.click(screen.getByRole('button', { name: 'anew' }));
  expect(screen.getByText('Heron 2')).toBeTruthy();
  expect(screen.getByRole('button', { name: 'it is open' })).toBeTruthy();
});

describe('choosing', () => {
  test('one, then with shift all from it to another; acts stand where the headings stood', () => {
    show(<Held />);
    fireEvent.click(box('Choose Kittiwake'));
    expect(screen.getByText('acts')).toBeTruthy();
    fireEvent.click(box('Choose Otter'), { shiftKey: true });
    expect([...chosen.ids]).toEqual([2, 3, 4]);
    // and the same way back
    fireEvent.click(box('Choose Grebe'));
    expect([...chosen.ids]).toEqual([2, 4]);
  });

  test('all of them are all that fit, also those that are not here yet; one less is all but one', () => {
    show(<Held />);
    fireEvent.click(box('All of them'));
    expect(chosen).toEqual({ all: true, ids: new Set() });
    expect((box('Choose Pike') as HTMLInputElement).checked).toBe(true);
    fireEvent.click(box('Choose Pike'));
    expect(chosen).toEqual({ all: true, ids: new Set([5]) });
    expect((box('Choose Pike') as HTMLInputElement).checked).toBe(false);
  });

  test('with the keyboard: arrows go from row to row, the space bar chooses, Enter opens', () => {
    const open = vi.fn();
    vi.stubGlobal('requestAnimationFrame', (then: () => void) => (then(), 0));
    show(<Held open={open} />);
    row(0).focus();
    fireEvent.keyDown(row(0), { key: 'ArrowDown' });
    expect(document.activeElement).toBe(row(1));
    fireEvent.keyDown(row(1), { key: ' ' });
    expect([...chosen.ids]).toEqual([2]);
    fireEvent.keyDown(row(3), { key: ' ', shiftKey: true });
    expect([...chosen.ids]).toEqual([2, 3, 4]);
    fireEvent.keyDown(row(1), { key: 'Enter' });
    expect(open).toHaveBeenCalledWith(boats[1]);
    vi.unstubAllGlobals();
  });

  test('a press on a row opens it; a press on its box does not', () => {
    const open = vi.fn();
    show(<Held open={open} />);
    fireEvent.click(box('Choose Heron'));
    expect(open).not.toHaveBeenCalled();
    fireEvent.click(screen.getByText('Grebe'));
    expect(open).toHaveBeenCalledWith(boats[2]);
  });
});

test('sorting is asked of whoever has the rows, and turned round by a second press', () => {
  const sort = vi.fn();
  show(<Held sort={sort} />);
  const heading = screen.getByRole('columnheader', { name: /Name/ });
  expect(heading.getAttribute('aria-sort')).toBe('ascending');
  fireEvent.click(within(heading).getByRole('button'));
  expect(sort).toHaveBeenCalledWith({ by: 'name', down: true });
});

test('empty, failing and loading are three things', () => {
  const table = (more: Partial<Parameters<typeof DataTable<Boat>>[0]>) => (
    <DataTable label="Boats" columns={columns} rows={[]} idOf={(boat) => boat.id} empty={<p>No boats.</p>} {...more} />
  );
  show(table({}));
  expect(screen.getByText('No boats.')).toBeTruthy();
  cleanup();
  show(table({ loading: true }));
  expect(screen.queryByText('No boats.')).toBeNull();
  cleanup();
  show(table({ error: new Error('The server cannot be reached.') }));
  expect(screen.queryByText('No boats.')).toBeNull();
  expect(screen.getByRole('alert').textContent).toContain('cannot be reached');
});

test('columns are put away, put in order and widened, with the keyboard too', () => {
  const widen = vi.fn();
  const layout = {
    hidden: ['berth'],
    order: ['berth', 'name'],
    widths: {},
    widen,
    show: vi.fn(),
    arrange: vi.fn(),
    reset: vi.fn(),
  };
  show(<DataTable label="Boats" columns={columns} rows={boats} idOf={(boat) => boat.id} layout={layout} />);
  expect(screen.queryByText('B-0')).toBeNull();
  fireEvent.keyDown(screen.getByRole('separator', { name: 'Width of Name' }), { key: 'ArrowRight' });
  expect(widen).toHaveBeenCalledWith('name', 16);
});

test.each([
  [[], ['a', 'b', 'c']],
  [
    ['c', 'a', 'b'],
    ['c', 'a', 'b'],
  ],
  // a column that is new since stands where it was declared
  [
    ['c', 'a'],
    ['c', 'a', 'b'],
  ],
])('columns in the order somebody put them: %j', (order, keys) => {
  const all = ['a', 'b', 'c'].map((key): Column<Boat> => ({ key, heading: key, cell: () => '' }));
  expect(inOrder(all, order).map((column) => column.key)).toEqual(keys);
});

describe('on a small screen', () => {
  test('what has no room stands beneath its row with its heading, what says nothing is left out, and acts can be pressed', () => {
    vi.stubGlobal('matchMedia', () => ({
      matches: true,
      addEventListener: () => undefined,
      removeEventListener: () => undefined,
    }));
    const pressed: string[] = [];
    const columns: Column<{ id: number; name: string; why: string }>[] = [
      { key: 'name', heading: 'Name', cell: (each) => each.name },
      { key: 'why', heading: 'Why', folds: true, cell: (each) => each.why },
      { key: 'picture', heading: 'Picture', folds: 'away', cell: () => 'drawn' },
      { key: 'acts', heading: '', folds: true, cell: (each) => <button onClick={() => pressed.push(each.name)}>end it</button> },
    ];
    const rows = [
      { id: 1, name: 'Pier', why: 'no answer' },
      { id: 2, name: 'Quay', why: '' },
    ];
    show(<DataTable label="Rules" columns={columns} rows={rows} idOf={(each) => each.id} />);
    expect(screen.getAllByRole('columnheader').map(({ textContent }) => textContent)).toEqual(['Name']);
    expect(screen.getAllByRole('row').map(({ textContent }) => textContent)).toEqual([
      'Name',
      'Pier',
      'Whyno answerend it',
      'Quay',
      'end it',
    ]);
    fireEvent.click(screen.getAllByRole('button', { name: 'end it' })[1]);
    expect(pressed).toEqual(['Quay']);
  });
});

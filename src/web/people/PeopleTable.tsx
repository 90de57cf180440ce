import { useVirtualizer } from '@tanstack/react-virtual';
import { useInfiniteQuery } from '@tanstack/react-query';
import { useEffect, useRef, type ReactNode } from 'react';
import { Link, useNavigate } from 'react-router';
import { get } from '../api/client';
import { showPhone } from '../pieces/phone';
import { State } from '../pieces/Ring';
import { Trouble } from '../pieces/small';
import type { Column } from './columns';
import { nameOf, type PersonRow } from './sources';

const ROW = 36;

/** One hairline table of everyone there is: the page that is looked at is fetched, what is out of sight is not drawn. */
export function PeopleTable({
  asked,
  columns,
  openId,
  empty,
  order,
  setOrder,
  picked,
  pick,
  linkTo,
}: {
  /** The filter, as the server is asked. */
  asked: string;
  columns: readonly Column[];
  openId: string | undefined;
  empty: ReactNode;
  order: { by: string; down: boolean };
  setOrder: (order: { by: string; down: boolean }) => void;
  picked: ReadonlySet<number> | 'all';
  pick: (id: number, on: boolean) => void;
  linkTo: (id: number) => string;
}) {
  const navigate = useNavigate();
  const scroller = useRef<HTMLDivElement>(null);
  const address = `${asked}&sort=${order.by}${order.down ? '&down=1' : ''}`;
  const query = useInfiniteQuery({
    queryKey: ['/api/people', address],
    initialPageParam: '',
    queryFn: ({ pageParam }) => get<{ people: PersonRow[] }>(`/api/people?${address}${pageParam}`),
    getNextPageParam: (last) => {
      const end = last.people[last.people.length - 1];
      return last.people.length < 100 || !end ? undefined : `&after_key=${encodeURIComponent(end.key)}&after_id=${end.id}`;
    },
    placeholderData: (before) => before,
  });
  const people = query.data?.pages.flatMap((page) => page.people) ?? [];
  const virtual = useVirtualizer({
    count: people.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 12,
  });
  const rows = virtual.getVirtualItems();
  const last = rows[rows.length - 1]?.index ?? 0;
  const { hasNextPage, isFetchingNextPage, fetchNextPage } = query;
  useEffect(() => {
    if (last >= people.length - 30 && hasNextPage && !isFetchingNextPage) void fetchNextPage();
  }, [last, people.length, hasNextPage, isFetchingNextPage, fetchNextPage]);
  useEffect(() => {
    if (scroller.current) scroller.current.scrollTop = 0;
  }, [address]);
  const top = rows[0]?.start ?? 0;
  const bottom = virtual.getTotalSize() - (rows[rows.length - 1]?.end ?? 0);
  const span = columns.length + 4;
  const sorter = (by: string | undefined, label: string) => {
    if (by === undefined) return <th scope="col">{label}</th>;
    const on = order.by === by;
    return (
      <th scope="col" aria-sort={on ? (order.down ? 'descending' : 'ascending') : 'none'}>
        <button type="button" className="sorter" onClick={() => setOrder({ by, down: on && !order.down })}>
          {label}
          {on ? (order.down ? ' ↓' : ' ↑') : ''}
        </button>
      </th>
    );
  };
  return (
    <div
      ref={scroller}
      className="table-wrap grow"
      style={{ overflow: 'auto', padding: '0 18px' }}
      tabIndex={0}
      role="region"
      aria-label="Table of people"
    >
      <Trouble error={query.error} />
      <table className="people-table">
        <thead>
          <tr>
            <th scope="col" style={{ width: 26 }}>
              <span className="visually-hidden">Chosen</span>
            </th>
            {sorter('name', 'Name')}
            {sorter('number', 'Text number')}
            {columns.map((column) => (
              <Sorted key={column.id}>{sorter(column.sort, column.label)}</Sorted>
            ))}
            <th scope="col">Can be texted</th>
          </tr>
        </thead>
        <tbody>
          {top > 0 && (
            <tr aria-hidden>
              <td colSpan={span} style={{ height: top, padding: 0, border: 0 }} />
            </tr>
          )}
          {rows.map(({ index }) => {
            const person = people[index];
            return (
              <tr
                key={person.id}
                className={`pick ${String(person.id) === openId ? 'on' : ''}`}
                onClick={() => void navigate(linkTo(person.id))}
              >
                <td>
                  <input
                    type="checkbox"
                    aria-label={`Choose ${nameOf(person)}`}
                    checked={picked === 'all' || picked.has(person.id)}
                    onClick={(event) => event.stopPropagation()}
                    onChange={(event) => pick(person.id, event.target.checked)}
                  />
                </td>
                <td className="cut">
                  <Link
                    to={linkTo(person.id)}
                    style={{ color: 'inherit', textDecoration: 'none' }}
                    onClick={(event) => event.stopPropagation()}
                  >
                    {nameOf(person)}
                  </Link>
                </td>
                <td className={`cut ${person.number ? '' : 'soft'}`}>{showPhone(person.number)}</td>
                {columns.map((column) => (
                  <td key={column.id} className="cut" title={column.text(person)}>
                    {column.text(person)}
                  </td>
                ))}
                <td className="cut">
                  <State state={person.reach === 'yes' ? 'yes' : 'no'} words={person.reach} />
                </td>
              </tr>
            );
          })}
          {bottom > 0 && (
            <tr aria-hidden>
              <td colSpan={span} style={{ height: bottom, padding: 0, border: 0 }} />
            </tr>
          )}
        </tbody>
      </table>
      {!query.isPending && !query.error && people.length === 0 && (
        <div className="soft" style={{ padding: '18px 0' }}>
          {empty}
        </div>
      )}
    </div>
  );
}

function Sorted({ children }: { children: ReactNode }) {
  return children;
}

import { useMemo, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { people as peopleApi, type PeopleQuery } from '../../core/api/people/people';
import { usePages } from '../api/client';
import { DataTable, type Chosen, type Column, type Sorting } from '../pieces/table/DataTable';
import type { TableLayout } from '../pieces/table/table-layout';
import { nameOf, type PersonRow } from './sources';

const ROW = 36;
const PAGE = 100;

/** One hairline table of everyone there is: the page that is looked at is fetched, what is out of sight is not drawn. */
export function PeopleTable({
  filter,
  columns,
  layout,
  openId,
  empty,
  sorting,
  sort,
  chosen,
  choose,
  instead,
  linkTo,
}: {
  filter: PeopleQuery;
  columns: readonly Column<PersonRow>[];
  layout: TableLayout;
  openId: string | undefined;
  empty: ReactNode;
  sorting: Sorting;
  sort: (sorting: Sorting) => void;
  chosen: Chosen;
  choose: (chosen: Chosen) => void;
  /** Acts on those who are chosen; they replace the headings. */
  instead: ReactNode;
  linkTo: (id: number) => string;
}) {
  const navigate = useNavigate();
  const query = usePages(
    peopleApi.list,
    (after: { key: string; id: number } | undefined) => ({
      query: {
        ...filter,
        sort: sorting.by,
        down: sorting.down ? '1' : undefined,
        after_key: after?.key,
        after_id: after && String(after.id),
      },
    }),
    (last) => {
      const end = last.people[last.people.length - 1] as PersonRow | undefined;
      return last.people.length < PAGE || !end ? undefined : { key: end.key, id: end.id };
    },
  );
  const rows = useMemo(() => query.data?.pages.flatMap((page) => page.people) ?? [], [query.data]);
  const { hasNextPage, isFetchingNextPage, fetchNextPage } = query;
  // another filter or order begins at the top
  const from = JSON.stringify([filter, sorting]);
  return (
    <DataTable
      key={from}
      label="Table of people"
      columns={columns}
      rows={rows}
      idOf={(person) => person.id}
      nameOf={(person) => `Choose ${nameOf(person)}`}
      rowHeight={ROW}
      loading={query.isPending}
      error={query.error}
      empty={empty}
      more={() => {
        if (hasNextPage && !isFetchingNextPage) void fetchNextPage();
      }}
      hasMore={hasNextPage}
      sorting={sorting}
      sort={sort}
      chosen={chosen}
      choose={choose}
      instead={instead}
      layout={layout}
      open={(person) => void navigate(linkTo(person.id))}
      isOpen={(person) => String(person.id) === openId}
    />
  );
}

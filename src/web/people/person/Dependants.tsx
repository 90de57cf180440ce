import { useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { dependants, type DependantListed } from '../../../core/api/people/dependants';
import { people } from '../../../core/api/people/people';
import { useGet, usePages } from '../../api/client';
import { ColumnsMenu } from '../../pieces/table/ColumnsMenu';
import { DataTable, type Column } from '../../pieces/table/DataTable';
import { count, fieldText } from '../../pieces/format';
import { Field } from '../../pieces/form/Field';
import { Bit, Column as Stacked, Pane, Panes, Row } from '../../pieces/layout';
import { showPhone } from '../../pieces/phone';
import { Nothing, useSettled, useTitle } from '../../pieces/small';
import { useTableLayout } from '../../pieces/table/table-layout';
import { Way } from '../../pieces/ways';
import { SourceList } from '../SourceList';
import { heading, nameOf } from '../sources';

const PAGE = 100;

/** Children, boats, accounts: whom people are written to about, with their contacts in order. */
export default function Dependants() {
  useTitle('Dependants');
  const navigate = useNavigate();
  const [params] = useSearchParams();
  const [typed, setTyped] = useState('');
  const search = useSettled(typed, 200);
  const sources = useGet(people.sources, {}, { keep: true }).data;
  const layout = useTableLayout('dependants');
  const query = usePages(
    dependants.list,
    (after: { sort: string; id: number } | undefined) => ({
      query: { search, after_sort: after?.sort, after_id: after?.id },
    }),
    (last) => {
      const end = last.dependants[last.dependants.length - 1] as DependantListed | undefined;
      return last.dependants.length < PAGE || !end ? undefined : { sort: end.sort_name, id: end.id };
    },
  );
  const contacts = (row: DependantListed, first: boolean) =>
    row.contacts
      .filter((each) => (each.contact === 1) === first)
      .map((each) => (
        <div key={each.id}>
          <Way to={`/people/${each.id}`}>{each.name || 'no name'}</Way> <Bit soft>{showPhone(each.number)}</Bit>
          {each.must_not_receive && <Bit brick> must not receive</Bit>}
        </div>
      ));
  const columns: Column<DependantListed>[] = [
    { key: 'name', heading: 'Name', stays: true, cell: (row) => nameOf(row) },
    ...(sources?.fields ?? [])
      .filter((field) => field.about === 'dependant')
      .map((field): Column<DependantListed> => ({
        key: field.slug,
        heading: heading(field.label),
        cell: (row) => fieldText(row.fields[field.slug] ?? ''),
      })),
    { key: 'born', heading: 'Born', nobreak: true, cell: (row) => fieldText(row.born ?? '') },
    { key: 'first', heading: 'First contact', cell: (row) => contacts(row, true) },
    { key: 'others', heading: 'Other contacts', cell: (row) => contacts(row, false) },
  ];
  const { hasNextPage, isFetchingNextPage, fetchNextPage } = query;
  const total = query.data?.pages[0]?.total;
  return (
    <Panes columns="214px minmax(0, 1fr)">
      <SourceList
        sources={sources}
        params={params}
        dependants
        go={(next) => void navigate(`/people?${new URLSearchParams(next).toString()}`)}
      />
      <Pane as="section" fill aria-label="Dependants">
        <Row between pad="12px 18px 6px" gap={12}>
          <h1>
            Dependants <Bit soft>{total === undefined ? 'counting…' : count(total)}</Bit>
          </h1>
          <Row nowrap>
            <Row width={200}>
              <Field type="search" label="Find by name" placeholder="Name" value={typed} onChange={setTyped} />
            </Row>
            <ColumnsMenu columns={columns} layout={layout} />
          </Row>
        </Row>
        <Stacked grow pad="0 18px" gap={0}>
          <DataTable
            key={search}
            label="Table of dependants"
            columns={columns}
            rows={query.data?.pages.flatMap((page) => page.dependants) ?? []}
            idOf={(row) => row.id}
            layout={layout}
            rowHeight={36}
            loading={query.isPending}
            error={query.error}
            more={() => {
              if (hasNextPage && !isFetchingNextPage) void fetchNextPage();
            }}
            hasMore={hasNextPage}
            empty={
              <Nothing title={search ? 'Nobody of that name' : 'None yet'}>
                {search
                  ? `No dependant matches “${search}”.`
                  : 'Children, boats, accounts: whom somebody is written to about. They come in with a file, or by hand from a person.'}
              </Nothing>
            }
          />
        </Stacked>
      </Pane>
    </Panes>
  );
}

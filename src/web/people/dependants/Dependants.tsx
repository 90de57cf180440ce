import { Button } from '@mui/material';
import { useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { dependants, type DependantListed, type WhichDependants } from '../../../core/api/people/dependants';
import { people } from '../../../core/api/people/people';
import { mayDo } from '../../../core/api/roles';
import { useGet, usePages } from '../../api/client';
import { useDesk } from '../../api/session';
import { Choose } from '../../pieces/form/choices';
import { ColumnsMenu } from '../../pieces/table/ColumnsMenu';
import { DataTable, type Chosen, type Column } from '../../pieces/table/DataTable';
import { count, fieldText } from '../../pieces/format';
import { Search } from '../../pieces/form/Search';
import { Bit, End, Head, Column as Stacked, Pane, Panes, Row } from '../../pieces/layout';
import { showPhone } from '../../pieces/phone';
import { Nothing, Trouble, useSettled, useTitle } from '../../pieces/small';
import { useTableLayout } from '../../pieces/table/table-layout';
import { Way } from '../../pieces/ways';
import { SourceList } from '../SourceList';
import { heading, nameOf, type Sources } from '../sources';
import { NOBODY } from '../use-people';
import { DependantForm } from './DependantForm';
import { DependantPanel } from './DependantPanel';
import { useWriteAbout } from './write-about';

const PAGE = 100;
/** In a value of the filter, between the field and what it is. */
const BETWEEN = ':';

/** Children, boats, accounts: whom people are written to about, with their contacts in order. */
export default function Dependants() {
  useTitle('Dependants');
  const navigate = useNavigate();
  const { account } = useDesk();
  const [params, setParams] = useSearchParams();
  const [adding, setAdding] = useState(false);
  const [chosen, setChosen] = useState<Chosen>(NOBODY);
  const { data: sources, error: unlooked } = useGet(people.sources, {}, { keep: true });
  const which = useWhich(() => setChosen(NOBODY));
  const layout = useTableLayout('dependants');
  const { query, rows, total } = usePageful(which.asked);
  const open = params.get('open');
  const show = (id: number | undefined) => setParams(id === undefined ? {} : { open: String(id) });
  const { write, busy, error } = useWriteAbout(which.asked);
  const may = mayDo(account.role, 'write');
  const columns = columnsOf(sources, show).filter(({ key }) => open === null || ['name', 'first'].includes(key));
  const { hasNextPage, isFetchingNextPage, fetchNextPage } = query;
  const narrowed = which.asked.search !== '' || which.asked.field !== undefined;
  const n = chosen.all ? (total ?? 0) - chosen.ids.size : chosen.ids.size;
  return (
    <Panes opened={open !== null} columns={open === null ? '214px minmax(0, 1fr)' : '214px minmax(0, 1fr) 380px'}>
      <SourceList
        sources={sources}
        error={unlooked}
        params={params}
        dependants
        go={(next) => void navigate(`/people?${new URLSearchParams(next).toString()}`)}
      />
      <Pane as="section" fill aria-label="Dependants">
        <Head within>
          <h1>
            Dependants <Bit soft>{total === undefined ? 'counting…' : count(total)}</Bit>
          </h1>
          <End>
            <Search width={170} label="Find by name" placeholder="Name" value={which.typed} onChange={which.type} />
            <Choose label="Which" value={which.value} options={filtersOf(sources)} onChange={which.choose} />
            {may && open === null && <Button onClick={() => setAdding(true)}>Add a dependant</Button>}
            <ColumnsMenu columns={columns} layout={layout} />
          </End>
        </Head>
        <Trouble error={error} />
        <Stacked grow pad="0 18px" gap={0}>
          <DataTable
            key={JSON.stringify(which.asked)}
            label="Table of dependants"
            columns={columns}
            rows={rows}
            idOf={(row) => row.id}
            nameOf={(row) => `Choose ${nameOf(row)}`}
            layout={layout}
            rowHeight={36}
            loading={query.isPending}
            error={query.error}
            more={() => {
              if (hasNextPage && !isFetchingNextPage) void fetchNextPage();
            }}
            hasMore={hasNextPage}
            {...(may ? { chosen, choose: setChosen } : {})}
            instead={
              <Row role="group" aria-label="Write about those chosen" gap={12}>
                <b>{n === 1 ? '1 dependant chosen' : `${count(n)} dependants chosen`}</b>
                <Button variant="contained" disabled={busy || n === 0} onClick={() => write(chosen)}>
                  Write to their contacts
                </Button>
                <Way onClick={() => setChosen(NOBODY)}>choose none</Way>
              </Row>
            }
            open={(row) => show(row.id)}
            isOpen={(row) => String(row.id) === open}
            empty={
              <Nothing title={narrowed ? 'There is none such' : 'None yet'}>
                {narrowed
                  ? 'No dependant has this name and this value.'
                  : 'Children, boats, accounts: whom somebody is written to about. They come in with a file, or by hand.'}
              </Nothing>
            }
          />
        </Stacked>
      </Pane>
      {open !== null && (
        <DependantPanel
          key={open}
          id={Number(open)}
          sources={sources}
          write={(ids) => write({ all: false, ids: new Set(ids) })}
          close={() => show(undefined)}
        />
      )}
      {adding && <DependantForm dependant={undefined} sources={sources} close={() => setAdding(false)} />}
    </Panes>
  );
}

/** Which are looked for: by a name as it is typed, and by a value of a field. */
function useWhich(changed: () => void) {
  const [typed, setTyped] = useState('');
  const [value, setValue] = useState('');
  const search = useSettled(typed, 200);
  const at = value.indexOf(BETWEEN);
  const asked: WhichDependants & { search: string } = {
    search,
    ...(at < 0 ? {} : { field: value.slice(0, at), value: value.slice(at + 1) }),
  };
  return {
    typed,
    value,
    asked,
    type: (words: string) => {
      setTyped(words);
      changed();
    },
    choose: (next: string) => {
      setValue(next);
      changed();
    },
  };
}

/** What dependants can be narrowed to: each choice of each field that has some. */
const filtersOf = (sources: Sources | undefined): (readonly [string, string])[] => [
  ['', 'all of them'],
  ...(sources?.fields ?? [])
    .filter(({ about }) => about === 'dependant')
    .flatMap(({ slug, label, choices }) =>
      choices.map((choice) => [`${slug}${BETWEEN}${choice}`, `${label} ${choice}`] as const),
    ),
];

function usePageful(asked: WhichDependants) {
  const query = usePages(
    dependants.list,
    (after: { sort: string; id: number } | undefined) => ({ query: { ...asked, after_sort: after?.sort, after_id: after?.id } }),
    (last) => {
      const end = last.dependants[last.dependants.length - 1] as DependantListed | undefined;
      return last.dependants.length < PAGE || !end ? undefined : { sort: end.sort_name, id: end.id };
    },
  );
  const pages = query.data?.pages;
  return { query, rows: pages?.flatMap((page) => page.dependants) ?? [], total: pages?.[0]?.total };
}

function columnsOf(sources: Sources | undefined, show: (id: number) => void): Column<DependantListed>[] {
  const contacts = (row: DependantListed, first: boolean) =>
    row.contacts
      .filter((each) => (each.contact === 1) === first)
      .map((each) => (
        <div key={each.id}>
          <Way to={`/people/${each.id}`}>{each.name || 'no name'}</Way> <Bit soft>{showPhone(each.number)}</Bit>
          {each.must_not_receive && (
            <Bit brick small>
              {' '}
              (not to {each.name || 'this person'})
            </Bit>
          )}
        </div>
      ));
  return [
    { key: 'name', heading: 'Name', stays: true, cell: (row) => <Way onClick={() => show(row.id)}>{nameOf(row)}</Way> },
    ...(sources?.fields ?? [])
      .filter((field) => field.about === 'dependant')
      .map((field): Column<DependantListed> => ({
        key: field.slug,
        heading: heading(field.label),
        cell: (row) => fieldText(row.fields[field.slug] ?? ''),
      })),
    { key: 'born', folds: true, heading: 'Born', nobreak: true, cell: (row) => fieldText(row.born ?? '') },
    { key: 'first', folds: true, heading: 'First contact', cell: (row) => contacts(row, true) },
    { key: 'others', folds: true, heading: 'Other contacts', cell: (row) => contacts(row, false) },
  ];
}

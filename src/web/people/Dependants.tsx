import { Button } from '@mui/material';
import { useInfiniteQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { get, useGet } from '../api/client';
import { count, fieldText } from '../pieces/format';
import { showPhone } from '../pieces/phone';
import { Trouble, useSettled, useTitle } from '../pieces/small';
import { SourceList } from './SourceList';
import { heading, nameOf, type Sources } from './sources';

interface Row {
  id: number;
  given_name: string;
  family_name: string;
  reference: string | null;
  born: string | null;
  fields: Record<string, string>;
  sort_name: string;
  contacts: { id: number; name: string; number: string | null; contact: number; must_not_receive: boolean }[];
}

/** Children, boats, accounts: whom people are written to about, with their contacts in order. */
export default function Dependants() {
  useTitle('Dependants');
  const navigate = useNavigate();
  const [params] = useSearchParams();
  const [typed, setTyped] = useState('');
  const search = useSettled(typed, 200);
  const sources = useGet<Sources>('/api/people/sources', { keep: true }).data;
  const fields = (sources?.fields ?? []).filter((field) => field.about === 'dependant');
  const query = useInfiniteQuery({
    queryKey: ['/api/people/dependants', search],
    initialPageParam: '',
    queryFn: ({ pageParam }) =>
      get<{ dependants: Row[]; total: number }>(`/api/dependants?search=${encodeURIComponent(search)}${pageParam}`),
    getNextPageParam: (last) => {
      const end = last.dependants[last.dependants.length - 1];
      return last.dependants.length < 100 || !end
        ? undefined
        : `&after_sort=${encodeURIComponent(end.sort_name)}&after_id=${end.id}`;
    },
    placeholderData: (before) => before,
  });
  const rows = query.data?.pages.flatMap((page) => page.dependants) ?? [];
  const contact = (row: Row, order: number) =>
    row.contacts
      .filter((each) => (order === 1 ? each.contact === 1 : each.contact > 1))
      .map((each) => (
        <div key={each.id}>
          <Link to={`/people/${each.id}`}>{each.name || 'no name'}</Link> <span className="soft">{showPhone(each.number)}</span>
          {each.must_not_receive && <span className="brick"> must not receive</span>}
        </div>
      ));
  return (
    <div className="people">
      <SourceList
        sources={sources}
        params={params}
        dependants
        go={(next) => void navigate(`/people?${new URLSearchParams(next).toString()}`)}
      />
      <section className="pane" style={{ padding: 0, display: 'flex', flexDirection: 'column' }} aria-label="Dependants">
        <div className="row between" style={{ padding: '12px 18px 6px', gap: 12 }}>
          <h1>
            Dependants <span className="soft">{count(query.data?.pages[0]?.total ?? 0)}</span>
          </h1>
          <input
            className="field"
            type="search"
            aria-label="Find by name"
            placeholder="Name"
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
          />
        </div>
        <Trouble error={query.error} />
        <div
          className="table-wrap grow"
          style={{ overflow: 'auto', padding: '0 18px' }}
          tabIndex={0}
          role="region"
          aria-label="Table of dependants"
        >
          <table>
            <thead>
              <tr>
                <th scope="col">Name</th>
                {fields.map((field) => (
                  <th key={field.slug} scope="col">
                    {heading(field.label)}
                  </th>
                ))}
                <th scope="col">Born</th>
                <th scope="col">First contact</th>
                <th scope="col">Other contacts</th>
              </tr>
            </thead>
            <tbody>
              {rows.map((row) => (
                <tr key={row.id}>
                  <td>{nameOf(row)}</td>
                  {fields.map((field) => (
                    <td key={field.slug}>{fieldText(row.fields[field.slug] ?? '')}</td>
                  ))}
                  <td>{fieldText(row.born ?? '')}</td>
                  <td>{contact(row, 1)}</td>
                  <td>{contact(row, 2)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {!query.isPending && rows.length === 0 && (
            <p className="soft" style={{ padding: '18px 0' }}>
              {search ? `No dependant matches “${search}”.` : 'None yet. They come in with a file, or by hand from a person.'}
            </p>
          )}
          {query.hasNextPage && (
            <div style={{ padding: '12px 0' }}>
              <Button onClick={() => void query.fetchNextPage()}>Show more</Button>
            </div>
          )}
        </div>
      </section>
    </div>
  );
}

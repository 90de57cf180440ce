import { Button } from '@mui/material';
import { useInfiniteQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { get, send, useGet } from '../api/client';
import { count, fieldText } from '../pieces/format';
import { showPhone } from '../pieces/phone';
import { State } from '../pieces/Ring';
import { Trouble, useSettled, useTitle } from '../pieces/small';
import { PersonForm } from './PersonForm';
import { PersonPanel } from './PersonPanel';

export interface PersonRow {
  id: number;
  given_name: string;
  family_name: string;
  number: string | null;
  language: string | null;
  reach: string;
  sort_name: string;
  fields: Record<string, string>;
}
export interface Sources {
  everyone: number;
  cannot: number;
  lists: { id: number; name: string; people: number; filling_import: number | null }[];
  tags: { id: number; name: string; people: number }[];
  fields: { slug: string; label: string; type: string }[];
}

export function nameOf(person: { given_name: string; family_name: string }): string {
  return `${person.given_name} ${person.family_name}`.trim() || 'no name';
}

/** Sources left with their counts, one hairline table, a person beside it. */
export default function People() {
  useTitle('People');
  const navigate = useNavigate();
  const { id } = useParams();
  const [params, setParams] = useSearchParams();
  const [typed, setTyped] = useState(params.get('search') ?? '');
  const [adding, setAdding] = useState(false);
  const [newList, setNewList] = useState<string>();
  const [error, setError] = useState<unknown>();
  const search = useSettled(typed, 200);
  const sources = useGet<Sources>('/api/people/sources', { keep: true });
  const list = params.get('list') ?? '';
  const tag = params.get('tag') ?? '';
  const cannot = params.get('cannot') ?? '';
  const filter = new URLSearchParams(
    Object.entries({ search, list, tag, cannot }).filter(([, value]) => value !== ''),
  ).toString();
  const query = useInfiniteQuery({
    queryKey: ['/api/people', filter],
    initialPageParam: '',
    queryFn: ({ pageParam }) => get<{ people: PersonRow[]; total?: number }>(`/api/people?${filter}${pageParam}`),
    getNextPageParam: (last) => {
      const end = last.people[last.people.length - 1];
      return last.people.length < 100 || !end ? undefined : `&after_sort=${encodeURIComponent(end.sort_name)}&after_id=${end.id}`;
    },
    placeholderData: (before) => before,
  });
  const people = query.data?.pages.flatMap((page) => page.people) ?? [];
  const total = query.data?.pages[0]?.total ?? 0;
  const data = sources.data;
  const chosen = list
    ? data?.lists.find((each) => String(each.id) === list)?.name
    : tag
      ? data?.tags.find((each) => String(each.id) === tag)?.name
      : cannot
        ? 'Cannot be texted'
        : 'Everyone';
  const go = (next: Record<string, string>) => void navigate(`/people?${new URLSearchParams(next).toString()}`);
  const source = (words: string, n: number, next: Record<string, string>, on: boolean, extra = '') => (
    <button key={words} type="button" className={`source ${on ? 'on' : ''} ${extra}`} aria-pressed={on} onClick={() => go(next)}>
      <span className="cut">{words}</span>
      <span className="n">{count(n)}</span>
    </button>
  );
  const open = id !== undefined;
  const columns = open ? [] : (data?.fields ?? []).slice(0, 2);
  const write = async () => {
    try {
      const made = await send<{ id: number }>('POST', '/api/broadcasts', {
        name: '',
        ...(list ? { list_id: Number(list) } : {}),
      });
      await navigate(`/broadcasts/${made.id}`);
    } catch (refused) {
      setError(refused);
    }
  };
  const addList = async () => {
    try {
      const made = await send<{ id: number }>('POST', '/api/lists', { name: newList });
      setNewList(undefined);
      await sources.refetch();
      go({ list: String(made.id) });
    } catch (refused) {
      setError(refused);
    }
  };
  return (
    <div className={`people ${open ? 'open' : ''}`}>
      <aside className="pane" style={{ padding: '14px 8px' }} aria-label="Sources">
        <div className="row between" style={{ padding: '0 8px 6px' }}>
          <h2>People</h2>
          <span className="fig">{count(data?.everyone ?? 0)}</span>
        </div>
        {source('Everyone', data?.everyone ?? 0, {}, !list && !tag && !cannot)}
        {source('Cannot be texted', data?.cannot ?? 0, { cannot: '1' }, cannot === '1', cannot ? '' : 'brick')}
        <div className="row between" style={{ padding: '14px 8px 4px' }}>
          <h3>Lists</h3>
          <Button onClick={() => setNewList('')}>New</Button>
        </div>
        {newList !== undefined && (
          <form
            className="row nowrap"
            style={{ padding: '2px 8px' }}
            onSubmit={(event) => (event.preventDefault(), void addList())}
          >
            <input
              className="field grow"
              aria-label="Name of the new list"
              autoFocus
              value={newList}
              onChange={(event) => setNewList(event.target.value)}
            />
            <Button type="submit" disabled={newList.trim() === ''}>
              Add
            </Button>
          </form>
        )}
        {(data?.lists ?? []).map((each) => source(each.name, each.people, { list: String(each.id) }, list === String(each.id)))}
        <h3 style={{ padding: '14px 8px 4px' }}>Tags</h3>
        {(data?.tags ?? []).map((each) => source(each.name, each.people, { tag: String(each.id) }, tag === String(each.id)))}
        <div style={{ padding: '16px 8px 0' }}>
          <Button fullWidth component={Link} to="/people/bring-in" size="medium">
            Bring in people
          </Button>
        </div>
      </aside>
      <section className="pane" style={{ padding: 0, display: 'flex', flexDirection: 'column' }} aria-label="People">
        <div className="row between" style={{ padding: '14px 18px 8px', gap: 12 }}>
          <h1 className="cut">{chosen}</h1>
          <div className="row">
            <input
              className="field"
              type="search"
              aria-label="Find by name, number or reference"
              placeholder="Name, number, reference"
              value={typed}
              onChange={(event) => (setTyped(event.target.value), setParams((before) => before, { replace: true }))}
            />
            {list && (
              <Button variant="contained" onClick={() => void write()}>
                Write to {count(total)}
              </Button>
            )}
            <Button onClick={() => setAdding(true)}>Add a person</Button>
            <Button component="a" href={`/api/people/export.csv?${filter}`} download>
              Export {count(total)}
            </Button>
          </div>
        </div>
        <Trouble error={error ?? query.error} />
        <div
          className="table-wrap grow"
          style={{ overflow: 'auto', padding: '0 18px' }}
          tabIndex={0}
          role="region"
          aria-label="Table of people"
        >
          <table>
            <thead>
              <tr>
                <th scope="col">Name</th>
                <th scope="col">Text number</th>
                {columns.map((field) => (
                  <th key={field.slug} scope="col">
                    {field.label.charAt(0).toUpperCase() + field.label.slice(1)}
                  </th>
                ))}
                {!open && <th scope="col">Language</th>}
                <th scope="col">Can be texted</th>
              </tr>
            </thead>
            <tbody>
              {people.map((person) => (
                <tr
                  key={person.id}
                  className={`pick ${String(person.id) === id ? 'on' : ''}`}
                  onClick={() => void navigate(`/people/${person.id}?${filter}`)}
                >
                  <td>
                    <Link
                      to={`/people/${person.id}?${filter}`}
                      style={{ color: 'inherit', textDecoration: 'none' }}
                      onClick={(event) => event.stopPropagation()}
                    >
                      {nameOf(person)}
                    </Link>
                  </td>
                  <td style={{ whiteSpace: 'nowrap' }} className={person.number ? '' : 'soft'}>
                    {showPhone(person.number)}
                  </td>
                  {columns.map((field) => (
                    <td key={field.slug}>{fieldText(person.fields[field.slug] ?? '')}</td>
                  ))}
                  {!open && <td>{person.language ?? ''}</td>}
                  <td>
                    <State state={person.reach === 'yes' ? 'yes' : 'no'} words={person.reach} />
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          {!query.isPending && people.length === 0 && (
            <p className="soft" style={{ padding: '18px 0' }}>
              {search
                ? `Nobody here matches “${search}”.`
                : list
                  ? 'Nobody is on this list yet.'
                  : 'Nobody yet. Bring in a file, or add a person.'}
            </p>
          )}
          {query.hasNextPage && (
            <div style={{ padding: '12px 0' }}>
              <Button onClick={() => void query.fetchNextPage()}>Show more of {count(total)}</Button>
            </div>
          )}
        </div>
      </section>
      {open && <PersonPanel id={Number(id)} sources={data} close={() => void navigate(`/people?${filter}`)} />}
      {adding && <PersonForm sources={data} close={() => setAdding(false)} />}
    </div>
  );
}

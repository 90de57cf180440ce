import { Button } from '@mui/material';
import { useInfiniteQuery } from '@tanstack/react-query';
import type { Change as ValueChange } from '../../core/api/imports';
import type { PreparedRow } from '../../core/people/prepare';
import { get } from '../api/client';
import { count } from '../pieces/format';
import { showPhone } from '../pieces/phone';
import { Choose } from '../pieces/small';
import type { Change, RowFilter, Staged } from './staged';
import { COUNTRIES } from './countries';

interface Row {
  row_no: number;
  cells: string[];
  verdict: string;
  reason: string | null;
  fix: string | null;
  after: string | null;
  changes: ValueChange[] | null;
  blanks: string[];
  person_id: number | null;
  stored: PreparedRow | null;
}

const FILTER_WORDS: Record<string, string> = {
  new: 'new people',
  changed: 'changed',
  unchanged: 'unchanged',
  twice: 'named twice',
  rejected: 'rejected',
  set_aside: 'left out by you',
};

/** The file's own rows under headings that are the match controls. */
export function BenchRows({
  staged,
  filter,
  setFilter,
  options,
  match,
  open,
  change,
  shown,
  show,
}: {
  staged: Staged;
  filter: RowFilter;
  setFilter: (filter: RowFilter) => void;
  options: (column: number) => (readonly [string, string])[];
  match: (column: number, target: string) => void;
  open: boolean;
  change: Change;
  shown: number | undefined;
  show: (row: { no: number; stored: PreparedRow; known: boolean } | undefined) => void;
}) {
  const { settings, counts, facts } = staged;
  const asked = new URLSearchParams({
    ...(filter.verdict ? { verdict: filter.verdict } : {}),
    ...(filter.fix ? { fix: filter.fix } : {}),
    ...(filter.waiting ? { waiting: '1' } : {}),
    ...(filter.blank ? { blank: filter.blank } : {}),
  }).toString();
  const query = useInfiniteQuery({
    queryKey: [`/api/imports/${staged.id}/rows`, asked, settings, counts],
    initialPageParam: -1,
    queryFn: ({ pageParam }) =>
      get<{ rows: Row[]; next: number | null }>(`/api/imports/${staged.id}/rows?after=${pageParam}&${asked}`),
    getNextPageParam: (last) => last.next ?? undefined,
    placeholderData: (before) => before,
  });
  const rows = query.data?.pages.flatMap((page) => page.rows) ?? [];
  const number = settings.match.indexOf('number');
  const skipped = facts.headings.filter((_, column) => (settings.match[column] ?? 'skip') === 'skip').length;
  const all =
    (counts.new ?? 0) +
    (counts.changed ?? 0) +
    (counts.unchanged ?? 0) +
    (counts.twice ?? 0) +
    (counts.rejected ?? 0) +
    (counts.set_aside ?? 0);
  const fixOne = (row: Row) => void change({ fixed_rows: [...settings.fixed_rows, row.row_no] });
  const showing = filter.verdict
    ? FILTER_WORDS[filter.verdict]
    : filter.waiting
      ? 'waiting for a fix'
      : filter.fix
        ? 'one kind of fix'
        : filter.blank;
  return (
    <>
      <div className="table-wrap grow" style={{ overflow: 'auto' }} tabIndex={0} role="region" aria-label="Rows of the file">
        <table>
          <thead>
            <tr>
              <th scope="col">
                <span className="visually-hidden">Row</span>
              </th>
              {facts.headings.map((heading, column) => (
                <th key={column} scope="col" style={{ padding: '8px 12px 6px 0' }}>
                  <div className="cut" style={{ maxWidth: 180 }}>
                    {heading}
                  </div>
                  <div className={`matcher ${(settings.match[column] ?? 'skip') === 'skip' ? 'unused' : ''}`}>
                    {open ? (
                      <Choose
                        label={`${heading} feeds`}
                        value={settings.match[column] ?? 'skip'}
                        options={options(column)}
                        onChange={(target) => match(column, target)}
                      />
                    ) : (
                      (options(column).find(([key]) => key === settings.match[column])?.[1] ?? '')
                    )}
                  </div>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr
                key={row.row_no}
                className={`pick ${shown === row.row_no ? 'on' : ''}`}
                onClick={() =>
                  show(row.stored ? { no: row.row_no, stored: row.stored, known: row.person_id !== null } : undefined)
                }
              >
                <td className="soft small" style={{ paddingLeft: 12, width: 44 }}>
                  <button
                    type="button"
                    className="row-number"
                    aria-label={`Row ${row.row_no + 1}, as it will be stored`}
                    onClick={(event) => {
                      event.stopPropagation();
                      show(row.stored ? { no: row.row_no, stored: row.stored, known: row.person_id !== null } : undefined);
                    }}
                  >
                    {row.row_no + 1}
                  </button>
                </td>
                {facts.headings.map((_, column) => (
                  <td
                    key={column}
                    style={{
                      maxWidth: 220,
                      ...(column === number && (row.fix || row.reason)
                        ? {
                            boxShadow: `inset 3px 0 0 ${row.verdict === 'rejected' ? 'var(--brick)' : 'var(--lake)'}`,
                            paddingLeft: 9,
                          }
                        : {}),
                    }}
                  >
                    <div
                      className={`cut ${(settings.match[column] ?? 'skip') === 'skip' ? 'soft' : ''}`}
                      title={row.cells[column]}
                    >
                      {row.cells[column] ?? ''}
                    </div>
                    {column === number && row.reason && (
                      <div className={`small ${row.verdict === 'rejected' ? 'brick' : 'lake'}`}>
                        {row.reason}
                        {row.after && row.verdict === 'rejected' && open && (
                          <>
                            {' '}
                            <button type="button" className="way" onClick={(event) => (event.stopPropagation(), fixOne(row))}>
                              take {showPhone(row.after)}
                            </button>
                          </>
                        )}
                      </div>
                    )}
                    {column === number && !row.reason && row.fix && row.stored && (
                      <div className="small lake">{showPhone(row.stored.person.number)}</div>
                    )}
                    {column === number && row.changes && filter.verdict === 'changed' && (
                      <div className="small" style={{ whiteSpace: 'normal' }}>
                        {row.changes.map((each) => (
                          <div key={each.field}>
                            {each.field.replaceAll('_', ' ')}:{' '}
                            {each.before ? <s className="soft">{each.before}</s> : <span className="soft">empty</span>} →{' '}
                            <b>{each.after}</b>
                          </div>
                        ))}
                      </div>
                    )}
                    {column === number && filter.blank && row.blanks.length > 0 && (
                      <div className="small brick">{row.blanks.join('; ')}</div>
                    )}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
        {rows.length === 0 && !query.isPending && (
          <p className="soft" style={{ padding: 16 }}>
            No such rows.
          </p>
        )}
        {query.hasNextPage && (
          <div style={{ padding: 12 }}>
            <Button onClick={() => void query.fetchNextPage()}>Show more rows</Button>
          </div>
        )}
      </div>
      <div className="row between line" style={{ padding: '8px 16px', gap: 16 }}>
        <span className="row" style={{ gap: 16 }}>
          <button type="button" className="way small" onClick={() => setFilter({})}>
            all {count(all)}
          </button>
          {(counts.waiting ?? 0) > 0 && (
            <button type="button" className="way small" onClick={() => setFilter({ waiting: true })}>
              to fix {count(counts.waiting)}
            </button>
          )}
          <button type="button" className="way small" onClick={() => setFilter({ verdict: 'rejected' })}>
            rejected {count(counts.rejected ?? 0)}
          </button>
          <span className="soft small">
            {skipped === 0 ? 'every column comes in' : `${skipped} ${skipped === 1 ? 'column' : 'columns'} not brought in`}
            {showing ? ` · showing ${showing}` : ''}
          </span>
        </span>
        <span className="soft small">
          numbers without a country are from{' '}
          {open ? (
            <Choose
              label="Country of local numbers"
              value={settings.country}
              options={COUNTRIES}
              onChange={(country) => void change({ country })}
            />
          ) : (
            settings.country
          )}
        </span>
      </div>
    </>
  );
}

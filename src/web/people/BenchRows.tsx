import { Button } from '@mui/material';
import { useInfiniteQuery } from '@tanstack/react-query';
import type { ImportSettings } from '../../core/api/imports';
import type { Prepared } from '../../core/people/prepare';
import { get } from '../api/client';
import { count } from '../pieces/format';
import { showPhone } from '../pieces/phone';
import { Choose } from '../pieces/small';
import type { RowFilter, Staged } from './Bench';

interface Row {
  row_no: number;
  cells: string[];
  verdict: string;
  reason: string | null;
  fix: string | null;
  prepared: Prepared | null;
}

/** The file's own rows under headings that are the match controls. */
export function BenchRows({
  staged,
  filter,
  setFilter,
  options,
  match,
  open,
  change,
}: {
  staged: Staged;
  filter: RowFilter;
  setFilter: (filter: RowFilter) => void;
  options: (column: number) => (readonly [string, string])[];
  match: (column: number, target: string) => void;
  open: boolean;
  change: (part: Partial<ImportSettings>) => Promise<void>;
}) {
  const { settings, counts, facts } = staged;
  const query = useInfiniteQuery({
    queryKey: [`/api/imports/${staged.id}/rows`, filter, settings, counts],
    initialPageParam: -1,
    queryFn: ({ pageParam }) =>
      get<{ rows: Row[] }>(
        `/api/imports/${staged.id}/rows?after=${pageParam}${filter.verdict ? `&verdict=${filter.verdict}` : ''}${filter.fix ? `&fix=${filter.fix}` : ''}`,
      ),
    getNextPageParam: (last) => (last.rows.length < 100 ? undefined : last.rows[last.rows.length - 1].row_no),
    placeholderData: (before) => before,
  });
  const rows = query.data?.pages.flatMap((page) => page.rows) ?? [];
  const number = settings.match.indexOf('number');
  const skipped = settings.match.filter((target) => target === 'skip').length;
  const all = counts.new + counts.changed + counts.unchanged + counts.twice + counts.rejected;
  return (
    <>
      <div className="table-wrap grow" style={{ overflow: 'auto' }} tabIndex={0} role="region" aria-label="Rows of the file">
        <table>
          <thead>
            <tr>
              <th aria-label="Row" />
              {facts.headings.map((heading, column) => (
                <th key={column} scope="col" style={{ padding: '8px 12px 6px 0' }}>
                  <div className="cut" style={{ maxWidth: 180 }}>
                    {heading}
                  </div>
                  <div
                    style={{
                      border: '1px solid var(--edge)',
                      borderRadius: 4,
                      padding: '2px 8px',
                      background: settings.match[column] === 'skip' ? 'transparent' : 'var(--card)',
                      display: 'inline-block',
                      color: 'var(--lake)',
                    }}
                  >
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
              <tr key={row.row_no}>
                <td className="soft small" style={{ paddingLeft: 12, width: 44 }}>
                  {row.row_no + 1}
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
                    <div className={`cut ${settings.match[column] === 'skip' ? 'soft' : ''}`} title={row.cells[column]}>
                      {row.cells[column] ?? ''}
                    </div>
                    {column === number && row.reason && (
                      <div
                        className={`small ${row.verdict === 'rejected' ? 'brick' : ''}`}
                        style={row.verdict === 'rejected' ? {} : { color: 'var(--lake)' }}
                      >
                        {row.reason}
                      </div>
                    )}
                    {column === number && !row.reason && row.fix && row.prepared && (
                      <div className="small" style={{ color: 'var(--lake)' }}>
                        {showPhone(row.prepared.number)}
                      </div>
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
          <button type="button" className="way small" onClick={() => setFilter({ verdict: 'rejected' })}>
            rejected {count(counts.rejected)}
          </button>
          <span className="soft small">
            {skipped === 0 ? 'every column comes in' : `${skipped} ${skipped === 1 ? 'column' : 'columns'} not brought in`}
            {filter.verdict || filter.fix ? ` · showing ${filter.verdict ?? 'one kind of fix'}` : ''}
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

const COUNTRIES = [
  ['US', 'United States, Canada'],
  ['GB', 'United Kingdom'],
  ['FR', 'France'],
  ['ES', 'Spain'],
  ['DE', 'Germany'],
  ['IE', 'Ireland'],
  ['MX', 'Mexico'],
  ['IN', 'India'],
  ['AU', 'Australia'],
  ['NZ', 'New Zealand'],
] as const;

import type { ImportCounts } from '../../../core/api/people/imports';
import type { ImportSettings } from '../../../core/api/people/import-settings';
import { Button } from '@mui/material';
import { styled } from '@mui/material/styles';
import { imports, type BenchRow } from '../../../core/api/people/imports';
import type { PreparedRow } from '../../../core/people/prepare';
import { usePages } from '../../api/client';
import { FoundChoice } from '../../pieces/form/FoundChoice';
import { Choose } from '../../pieces/form/choices';
import { DataTable, type Column } from '../../pieces/table/DataTable';
import { count } from '../../pieces/format';
import { Bit, Row, Words } from '../../pieces/layout';
import { Nothing } from '../../pieces/small';
import { Way } from '../../pieces/ways';
import { COUNTRIES } from '../../pieces/form/countries';
import { CellEdit, type Correct } from './CellEdit';
import { NumberCell } from './NumberCell';
import { OtherName } from './OtherNames';
import type { Change, RowFilter, Staged } from './staged';

const FILTER_WORDS: Record<string, string> = {
  new: 'new people',
  changed: 'changed',
  unchanged: 'unchanged',
  twice: 'named twice',
  rejected: 'rejected',
  set_aside: 'left out by you',
};

/** Without any of these nor a number a row is nobody. */
const NAMES = new Set(['given_name', 'family_name', 'full_name']);

/** A heading's match control: what the column feeds. */
const Matcher = styled('div', { shouldForwardProp: (name) => name !== 'unused' })<{ unused: boolean }>(({ theme, unused }) => ({
  display: 'inline-block',
  border: `1px solid ${theme.bell.edge}`,
  borderRadius: 4,
  padding: '2px 8px',
  background: unused ? 'transparent' : theme.bell.card,
  color: unused ? theme.bell.soft : theme.bell.lake,
  maxWidth: 220,
  fontSize: 14,
}));
const Scrolls = styled('div')({ flex: 1, minHeight: 0, overflow: 'auto', display: 'flex', paddingLeft: 12 });

/** The file's own rows under headings that are the match controls. */
export function BenchRows({
  staged,
  filter,
  setFilter,
  options,
  match,
  open,
  change,
  correct,
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
  correct: Correct;
  shown: number | undefined;
  show: (row: { no: number; stored: PreparedRow; known: boolean } | undefined) => void;
}) {
  const { settings, counts, facts } = staged;
  const query = usePages(
    imports.rows,
    (after: number | undefined) => ({
      params: { id: staged.id },
      query: {
        after: after ?? -1,
        verdict: filter.verdict,
        fix: filter.fix,
        waiting: filter.waiting ? ('1' as const) : undefined,
        other_name: filter.otherName ? ('1' as const) : undefined,
        blank: filter.blank,
      },
    }),
    (last) => last.next ?? undefined,
    [settings, counts],
  );
  const rows = query.data?.pages.flatMap((page) => page.rows) ?? [];
  const fed = (column: number) => settings.match[column] ?? 'skip';
  const skipped = facts.headings.filter((_, column) => fed(column) === 'skip').length;
  const all =
    (counts.new ?? 0) +
    (counts.changed ?? 0) +
    (counts.unchanged ?? 0) +
    (counts.twice ?? 0) +
    (counts.rejected ?? 0) +
    (counts.set_aside ?? 0);
  const fixOne = (row: BenchRow) => void change({ fixed_rows: [...settings.fixed_rows, row.row_no] });
  const look = (row: BenchRow) =>
    show(row.stored ? { no: row.row_no, stored: row.stored, known: row.person_id !== null } : undefined);
  const showing = filter.verdict
    ? FILTER_WORDS[filter.verdict]
    : filter.waiting
      ? 'waiting for a fix'
      : filter.otherName
        ? 'numbers under another name'
        : filter.fix
          ? 'one kind of fix'
          : filter.blank;
  const columns = rowColumns({ staged, filter, options, match, open, change, fixOne, correct, look });
  return (
    <>
      <Scrolls>
        <DataTable
          label="Rows of the file"
          columns={columns}
          rows={rows}
          idOf={(row) => row.row_no}
          loading={query.isPending}
          error={query.error}
          open={look}
          isOpen={(row) => row.row_no === shown}
          empty={
            open ? (
              <Nothing title="No such rows">Nothing of the file is like that.</Nothing>
            ) : (
              <Nothing title="No rows are kept">
                The rows of a file go when their days are over, and those that came in as they were are not among them. What was
                done stands on the right.
              </Nothing>
            )
          }
        />
      </Scrolls>
      {query.hasNextPage && (
        <Words pad="8px 16px">
          <Button disabled={query.isFetchingNextPage} onClick={() => void query.fetchNextPage()}>
            Show more rows
          </Button>
        </Words>
      )}
      <Under
        setFilter={setFilter}
        all={all}
        counts={counts}
        skipped={skipped}
        showing={showing}
        open={open}
        settings={settings}
        change={change}
      />
    </>
  );
}

/** A column for each of the file, with what it feeds. */
function rowColumns({
  staged: { facts, settings },
  filter,
  options,
  match,
  open,
  change,
  fixOne,
  correct,
  look,
}: {
  staged: Staged;
  filter: RowFilter;
  options: (column: number) => (readonly [string, string])[];
  match: (column: number, target: string) => void;
  open: boolean;
  change: Change;
  fixOne: (row: BenchRow) => void;
  correct: Correct;
  look: (row: BenchRow) => void;
}): Column<BenchRow>[] {
  const number = settings.match.indexOf('number');
  const fed = (column: number) => settings.match[column] ?? 'skip';
  return [
    {
      key: 'row',
      heading: '',
      said: 'Row',
      width: 44,
      cell: (row) => (
        <Way soft small aria-label={`Row ${row.row_no + 1}, as it will be stored`} onClick={() => look(row)}>
          {row.row_no + 1}
        </Way>
      ),
    },
    ...facts.headings.map((heading, column): Column<BenchRow> => ({
      key: `column${column}`,
      said: heading,
      heading: (
        <>
          <Words cut most={180}>
            {heading}
          </Words>
          <Matcher unused={fed(column) === 'skip'}>
            {open ? (
              <FoundChoice
                label={`${heading} feeds`}
                value={fed(column)}
                options={options(column)}
                onChange={(target) => match(column, target)}
              />
            ) : (
              (options(column).find(([key]) => key === settings.match[column])?.[1] ?? '')
            )}
          </Matcher>
        </>
      ),
      cell: (row) =>
        column === number ? (
          <>
            <NumberCell
              row={row}
              column={column}
              heading={heading}
              correct={open ? correct : undefined}
              open={open}
              filter={filter}
              fixOne={fixOne}
            />
            {row.other_name !== null && <OtherName row={row} settings={settings} change={open ? change : undefined} />}
          </>
        ) : (
          <CellEdit
            row={row}
            column={column}
            heading={heading}
            soft={fed(column) === 'skip'}
            // of a row without a number it is the name that is missing
            wrong={row.verdict === 'rejected' && number >= 0 && (row.cells[number] ?? '').trim() === '' && NAMES.has(fed(column))}
            correct={open ? correct : undefined}
          />
        ),
    })),
  ];
}

/** How many rows there are, and those that cannot come in as a file. */
function Under({
  setFilter,
  all,
  counts,
  skipped,
  showing,
  open,
  settings,
  change,
}: {
  setFilter: (filter: RowFilter) => void;
  all: number;
  counts: ImportCounts;
  skipped: number;
  showing: string | undefined;
  open: boolean;
  settings: ImportSettings;
  change: Change;
}) {
  return (
    <Row between line pad="8px 16px" gap={16}>
      <Row gap={16}>
        <Way small onClick={() => setFilter({})}>
          all {count(all)}
        </Way>
        {(counts.waiting ?? 0) > 0 && (
          <Way small onClick={() => setFilter({ waiting: true })}>
            to fix {count(counts.waiting)}
          </Way>
        )}
        <Way small onClick={() => setFilter({ verdict: 'rejected' })}>
          rejected {count(counts.rejected ?? 0)}
        </Way>
        <Bit soft small>
          {skipped === 0 ? 'every column comes in' : `${skipped} ${skipped === 1 ? 'column' : 'columns'} not brought in`}
          {showing ? ` · showing ${showing}` : ''}
        </Bit>
      </Row>
      <Bit soft small>
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
      </Bit>
    </Row>
  );
}

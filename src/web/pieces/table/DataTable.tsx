import {
  Box,
  Checkbox,
  Skeleton,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TableSortLabel,
  useMediaQuery,
  useTheme,
} from '@mui/material';
import { styled } from '@mui/material/styles';
import { getCoreRowModel, useReactTable, type ColumnDef, type Header, type Row } from '@tanstack/react-table';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useLayoutEffect, useMemo, useRef, type KeyboardEvent, type ReactNode, type RefObject } from 'react';
import { DataRow, type RowActs } from './DataRow';
import { Spoken, Words } from '../layout';
import { Trouble } from '../small';
import { THUMB } from '../../theme/touch';
import { inOrder, type Column, type Flat } from './table-column';
import type { TableLayout } from './table-layout';

export type { Column };

export interface Sorting {
  by: string;
  down: boolean;
}

/** Which rows are chosen; everyone of the filter, or these. */
export interface Chosen {
  all: boolean;
  ids: ReadonlySet<number>;
}

interface Props<T> {
  label: string;
  columns: readonly Column<T>[];
  rows: readonly T[];
  idOf: (row: T) => number | string;
  /** Rows of one height are drawn only where they are seen; px. */
  rowHeight?: number;
  loading?: boolean;
  error?: unknown;
  empty?: ReactNode;
  /** There are more: they are asked for when the end comes near. */
  more?: () => void;
  hasMore?: boolean;
  sorting?: Sorting;
  sort?: (sorting: Sorting) => void;
  chosen?: Chosen;
  choose?: (chosen: Chosen) => void;
  nameOf?: (row: T) => string;
  open?: (row: T) => void;
  isOpen?: (row: T) => boolean;
  layout?: TableLayout;
  /** Stands in place of the headings: acts on those that are chosen. */
  instead?: ReactNode;
  /** Under a row, over its whole width. */
  under?: (row: T) => ReactNode;
  tight?: boolean;
}

const Scroller = styled(Box)(({ theme }) => ({
  // what is only spoken within it must not stretch the page
  position: 'relative',
  overflow: 'auto',
  flex: 1,
  minHeight: 0,
  backgroundColor: 'inherit',
  '& table': { backgroundColor: 'inherit' },
  '& thead': { backgroundColor: 'inherit' },
  [theme.breakpoints.down('md')]: { overflowX: 'auto', maxHeight: '75vh' },
}));
const HeadRow = styled(TableRow)(({ theme }) => ({
  position: 'sticky',
  top: 0,
  zIndex: 2,
  backgroundColor: theme.bell.ground,
  '[data-card] &': { backgroundColor: theme.bell.card },
}));
const HeadCell = styled(TableCell, { shouldForwardProp: (name) => name !== 'num' })<{ num?: boolean }>(({ num }) => ({
  position: 'relative',
  ...(num ? { textAlign: 'right', paddingRight: 18 } : {}),
}));
const Grip = styled('span')(({ theme }) => ({
  position: 'absolute',
  right: 0,
  top: 4,
  bottom: 4,
  width: 9,
  cursor: 'col-resize',
  touchAction: 'none',
  borderRight: '1px solid transparent',
  'tr:hover > th > &': { borderRightColor: theme.bell.hairline },
  '&&:hover, &&:focus-visible': { borderRightColor: theme.bell.lake },
}));
/** Which columns there is room for: those that are not hidden; on a phone some stand under their row (`folded`). */
function useShown<T>(columns: readonly Column<T>[], hidden: readonly string[] | undefined) {
  const small = useMediaQuery(useTheme().breakpoints.down('md'));
  const shown = useMemo(
    () =>
      Object.fromEntries([
        ...(hidden ?? []).map((key) => [key, false]),
        ...(small ? columns.filter((column) => column.folds).map(({ key }) => [key, false]) : []),
      ]) as Record<string, boolean>,
    [hidden, small, columns],
  );
  const folded = useMemo(
    () => (small ? columns.filter((column) => column.folds === true && !hidden?.includes(column.key)) : []),
    [small, columns, hidden],
  );
  return { shown, folded };
}

/** Beneath a row on a phone: one line of what there is no room for in it, px. */
const BENEATH = 30;

function useFlat(rowHeight: number | undefined, folds: boolean): Flat | undefined {
  const small = useMediaQuery(useTheme().breakpoints.down('md'));
  return useMemo(() => {
    if (rowHeight === undefined) return undefined;
    const row = small ? Math.max(rowHeight, THUMB + 2) : rowHeight;
    return { row, whole: row + (folds ? BENEATH : 0) };
  }, [rowHeight, small, folds]);
}

/** The ids that differ from all, or from none, after a row is toggled, with those from another on. */
function toggled(chosen: Chosen, ids: readonly number[], at: number, since: number | undefined): Set<number> {
  const differ = new Set(chosen.ids);
  const to = chosen.all === differ.has(ids[at]);
  for (const id of ids.slice(Math.min(since ?? at, at), Math.max(since ?? at, at) + 1))
    if (to === chosen.all) differ.delete(id);
    else differ.add(id);
  return differ;
}

/** Rows of one height are drawn where they are seen, with the room of the others before and after; near the end more are asked for. */
function useDrawn<T>(
  box: RefObject<HTMLDivElement | null>,
  model: readonly Row<T>[],
  { rowHeight, more, hasMore }: Pick<Props<T>, 'rowHeight' | 'more' | 'hasMore'>,
) {
  const virtual = useVirtualizer({
    count: rowHeight ? model.length : 0,
    getScrollElement: () => box.current,
    estimateSize: () => rowHeight ?? 36,
    overscan: 12,
    useFlushSync: false,
    initialRect: { width: 1000, height: 720 },
  });
  const seen = virtual.getVirtualItems();
  const drawn = rowHeight ? seen.map((item) => model[item.index]).filter(Boolean) : model;
  const before = rowHeight && seen.length > 0 ? seen[0].start : 0;
  const after = rowHeight && seen.length > 0 ? virtual.getTotalSize() - seen[seen.length - 1].end : 0;
  const end = rowHeight ? (seen[seen.length - 1]?.index ?? 0) : model.length;
  useEffect(() => {
    if (rowHeight && hasMore && end >= model.length - 20) more?.();
  }, [rowHeight, hasMore, end, model.length, more]);
  const scrollTo = (at: number) => {
    if (rowHeight && at >= 0 && at < model.length) virtual.scrollToIndex(at);
  };
  return { drawn, before, after, scrollTo };
}

/** A table: hairlines, a head that stays, sorting, choosing with shift and with the keyboard, rows as they are needed. */
export function DataTable<T>(props: Props<T>): ReactNode {
  const { rows, idOf, rowHeight, sorting, sort, chosen, choose, open, isOpen, layout, hasMore, under } = props;
  const box = useRef<HTMLDivElement>(null);
  const last = useRef<number>(undefined);
  const order = layout?.order;
  const columns = useMemo(() => (order ? inOrder(props.columns, order) : props.columns), [props.columns, order]);
  const defs = useMemo(
    () =>
      // headings are drawn below as they are: a function here would be another component each time, and what is open in it would shut
      columns.map((column): ColumnDef<T> => ({ id: column.key })),
    [columns],
  );
  const { shown, folded } = useShown(columns, layout?.hidden);
  const table = useReactTable<T>({
    data: rows as T[],
    columns: defs,
    getCoreRowModel: getCoreRowModel(),
    getRowId: (row) => String(idOf(row)),
    manualSorting: true,
    state: { columnVisibility: shown },
  });
  const model = table.getRowModel().rows;
  const flat = useFlat(rowHeight, folded.length > 0);
  const { drawn, before, after, scrollTo } = useDrawn(box, model, { ...props, rowHeight: flat?.whole });
  const of = (key: string) => columns.find((column) => column.key === key);
  const is = (row: T) => (chosen ? chosen.all !== chosen.ids.has(Number(idOf(row))) : false);
  const toggle = (at: number, withShift: boolean) => {
    if (!chosen || !choose) return;
    const ids = toggled(
      chosen,
      rows.map((row) => Number(idOf(row))),
      at,
      withShift ? last.current : undefined,
    );
    last.current = at;
    choose({ all: chosen.all, ids });
  };
  const keyed = (event: KeyboardEvent<HTMLElement>, at: number, row: T) => {
    if (event.target !== event.currentTarget) return;
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (step !== undefined) {
      event.preventDefault();
      const next = at + step;
      scrollTo(next);
      requestAnimationFrame(() => box.current?.querySelector<HTMLElement>(`tr[data-at="${next}"]`)?.focus());
    } else if (event.key === ' ' && choose) {
      event.preventDefault();
      toggle(at, event.shiftKey);
    } else if (event.key === 'Enter') open?.(row);
  };
  const acts = useRef<RowActs<T>>({ toggle, keyed, open, nameOf: props.nameOf });
  useLayoutEffect(() => {
    acts.current = { toggle, keyed, open, nameOf: props.nameOf };
  });
  const leaves = table.getVisibleLeafColumns();
  const visible = useMemo(() => leaves.flatMap(({ id }) => columns.find((column) => column.key === id) ?? []), [leaves, columns]);
  const width = leaves.length + (choose ? 1 : 0);
  const none = chosen ? !chosen.all && chosen.ids.size === 0 : true;
  const every = chosen ? (chosen.all ? chosen.ids.size === 0 : rows.length > 0 && rows.every(is)) : false;
  return (
    <Scroller ref={box} tabIndex={0} role="region" aria-label={props.label}>
      <Table aria-rowcount={hasMore ? -1 : model.length} aria-label={props.label}>
        <TableHead>
          <HeadRow>
            {choose && chosen && (
              <HeadCell width={34}>
                <Checkbox
                  checked={every}
                  indeterminate={!every && !none}
                  onChange={() => choose(none ? { all: true, ids: new Set() } : { all: false, ids: new Set() })}
                  slotProps={{ input: { 'aria-label': 'All of them' } }}
                />
              </HeadCell>
            )}
            {props.instead && !none ? (
              <HeadCell colSpan={width - 1}>{props.instead}</HeadCell>
            ) : (
              table
                .getFlatHeaders()
                .map((header) => (
                  <Heading key={header.id} header={header} column={of(header.id)} sorting={sorting} sort={sort} layout={layout} />
                ))
            )}
          </HeadRow>
        </TableHead>
        <TableBody>
          {before > 0 && <Gap height={before} span={width} />}
          {drawn.map((row) => (
            <DataRow
              key={row.id}
              value={row.original}
              at={row.index}
              columns={visible}
              folded={folded}
              chosen={choose ? is(row.original) : undefined}
              current={isOpen?.(row.original) ?? false}
              opens={open !== undefined}
              flat={flat}
              tight={props.tight}
              under={under?.(row.original)}
              acts={acts}
            />
          ))}
          {after > 0 && <Gap height={after} span={width} />}
          {props.loading && <Loading span={width} rows={rows.length > 0 ? 2 : 8} />}
        </TableBody>
      </Table>
      <Trouble error={props.error} />
      {!props.loading && !props.error && rows.length === 0 && props.empty}
      {hasMore && <Spoken role="status">More rows come as you go down.</Spoken>}
    </Scroller>
  );
}

function Heading<T>({
  header,
  column,
  sorting,
  sort,
  layout,
}: {
  header: Header<T, unknown>;
  column: Column<T> | undefined;
  sorting: Sorting | undefined;
  sort: ((sorting: Sorting) => void) | undefined;
  layout: TableLayout | undefined;
}): ReactNode {
  const words = column?.heading === '' ? <Spoken>{column.said ?? column.key}</Spoken> : column?.heading;
  const on = sorting?.by === header.id;
  const small = useMediaQuery(useTheme().breakpoints.down('md'));
  // a phone has no room for what a desk has: there the columns share what there is
  const width = small ? undefined : (layout?.widths[header.id] ?? column?.width);
  return (
    <HeadCell
      scope="col"
      width={width}
      num={column?.num}
      aria-sort={on ? (sorting.down ? 'descending' : 'ascending') : undefined}
    >
      {column?.sorts && sort ? (
        <TableSortLabel
          active={on}
          direction={on && sorting.down ? 'desc' : 'asc'}
          onClick={() => sort({ by: header.id, down: on ? !sorting.down : false })}
        >
          {words}
        </TableSortLabel>
      ) : (
        words
      )}
      {layout && <Resizer name={column?.said ?? String(column?.heading ?? header.id)} id={header.id} layout={layout} />}
    </HeadCell>
  );
}

/** A column's edge: dragged, or moved with the arrows. */
function Resizer({ name, id, layout }: { name: string; id: string; layout: TableLayout }): ReactNode {
  const grip = useRef<HTMLSpanElement>(null);
  const now = () => grip.current?.parentElement?.offsetWidth ?? 120;
  return (
    <Grip
      ref={grip}
      role="separator"
      aria-orientation="vertical"
      aria-label={`Width of ${name}`}
      aria-valuenow={layout.widths[id] ?? 120}
      aria-valuemin={40}
      aria-valuemax={800}
      tabIndex={0}
      onKeyDown={(event) => {
        const step = { ArrowRight: 16, ArrowLeft: -16 }[event.key];
        if (step === undefined) return;
        event.preventDefault();
        layout.widen(id, now() + step);
      }}
      onPointerDown={(event) => {
        event.preventDefault();
        const from = event.clientX - now();
        const move = (moved: PointerEvent) => layout.widen(id, moved.clientX - from);
        const done = () => {
          window.removeEventListener('pointermove', move);
          window.removeEventListener('pointerup', done);
        };
        window.addEventListener('pointermove', move);
        window.addEventListener('pointerup', done);
      }}
    />
  );
}

const Empty = styled(TableCell)({ padding: 0, border: 0 });

/** The room of the rows that are not drawn. */
function Gap({ height, span }: { height: number; span: number }): ReactNode {
  return (
    <TableRow aria-hidden>
      <Empty colSpan={span} height={height} />
    </TableRow>
  );
}

function Loading({ span, rows }: { span: number; rows: number }): ReactNode {
  return Array.from({ length: rows }, (_, at) => (
    <TableRow key={`loading-${at}`} aria-hidden>
      <TableCell colSpan={span}>
        <Words pad="2px 0">
          <Skeleton variant="text" animation={false} width={`${60 + ((at * 17) % 35)}%`} />
        </Words>
      </TableCell>
    </TableRow>
  ));
}

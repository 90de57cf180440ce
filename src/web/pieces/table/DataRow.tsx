import { Checkbox, TableCell, TableRow } from '@mui/material';
import { styled } from '@mui/material/styles';
import { memo, type KeyboardEvent, type ReactNode, type RefObject } from 'react';
import { Bit, Row } from '../layout';
import type { Column, Flat } from './table-column';

/** What can be done with a row; the table's latest, so that a row is not drawn anew because something else has changed. */
export interface RowActs<T> {
  toggle(at: number, withShift: boolean): void;
  keyed(event: KeyboardEvent<HTMLElement>, at: number, row: T): void;
  open?(row: T): void;
  nameOf?(row: T): string;
}

interface Props<T> {
  value: T;
  at: number;
  /** Those that are shown, in their order. */
  columns: readonly Column<T>[];
  /** Those that stand beneath the row, on a small screen. */
  folded: readonly Column<T>[];
  /** Undefined where nothing can be chosen. */
  chosen: boolean | undefined;
  current: boolean;
  opens: boolean;
  /** Rows of one height are drawn only where they are seen. */
  flat: Flat | undefined;
  tight: boolean | undefined;
  under: ReactNode;
  acts: RefObject<RowActs<T>>;
}

const BodyRow = styled(TableRow, { shouldForwardProp: (name) => !['opens', 'leads'].includes(String(name)) })<{
  opens: boolean;
  /** More of it stands beneath. */
  leads: boolean;
}>(({ theme, opens, leads }) => ({
  ...(leads ? { '& td': { borderBottom: 0, paddingBottom: 0 } } : {}),
  cursor: opens ? 'pointer' : undefined,
  ...(opens ? { '&:hover td': { backgroundColor: theme.bell.card } } : {}),
  '&[aria-current=true] td': { backgroundColor: theme.bell.card, fontWeight: 600 },
  '&[aria-selected=true] td': { backgroundColor: theme.bell.lakeWash },
}));
const Cell = styled(TableCell, {
  shouldForwardProp: (name) => !['num', 'flat', 'nobreak', 'tight'].includes(String(name)),
})<{ num?: boolean; flat?: number; nobreak?: boolean; tight?: boolean }>(({ num, flat, nobreak, tight }) => ({
  ...(num ? { textAlign: 'right', paddingRight: 18 } : {}),
  whiteSpace: nobreak ? 'nowrap' : undefined,
  ...(tight ? { paddingTop: 4, paddingBottom: 4 } : {}),
  ...(flat ? { height: flat, padding: num ? '0 18px 0 0' : '0 10px 0 0', verticalAlign: 'middle', maxWidth: 230 } : {}),
}));

/** What stands beneath a row on a phone; where rows are of one height it is one line. */
const Beneath = styled(TableCell, { shouldForwardProp: (name) => name !== 'height' })<{ height: number | undefined }>(
  ({ height }) =>
    height === undefined ? {} : { height, padding: '0 0 6px', maxWidth: 0, overflow: 'hidden', whiteSpace: 'nowrap' },
);

function Plain<T>({ value, at, columns, folded, chosen, current, opens, flat, tight, under, acts }: Props<T>): ReactNode {
  return (
    <>
      <BodyRow
        data-at={at}
        opens={opens}
        leads={folded.length > 0}
        tabIndex={opens || chosen !== undefined ? (at === 0 ? 0 : -1) : undefined}
        aria-current={current || undefined}
        aria-selected={chosen}
        aria-rowindex={flat ? at + 1 : undefined}
        onClick={(event) => {
          // what is pressed within the row acts by itself
          if (event.target instanceof Element && event.target.closest('a, button, input, label, [role=combobox]')) return;
          acts.current.open?.(value);
        }}
        onKeyDown={(event) => acts.current.keyed(event, at, value)}
      >
        {chosen !== undefined && (
          <TableCell
            width={34}
            sx={flat && { verticalAlign: 'middle', '& .MuiCheckbox-root': { verticalAlign: 'middle', marginTop: 0 } }}
          >
            <Checkbox
              checked={chosen}
              onChange={(event) => acts.current.toggle(at, (event.nativeEvent as MouseEvent).shiftKey)}
              slotProps={{ input: { 'aria-label': acts.current.nameOf?.(value) ?? `Row ${at + 1}` } }}
            />
          </TableCell>
        )}
        {columns.map((column) => (
          <Cell key={column.key} num={column.num} flat={flat?.row} nobreak={column.nobreak} tight={tight}>
            {column.cell(value)}
          </Cell>
        ))}
      </BodyRow>
      {folded.length > 0 && (
        <TableRow>
          <Beneath colSpan={columns.length + (chosen === undefined ? 0 : 1)} height={flat && flat.whole - flat.row}>
            <Row small gap={14} base nowrap={flat !== undefined}>
              {folded.map((column) => (
                <Folded column={column} value={value} key={column.key} />
              ))}
            </Row>
          </Beneath>
        </TableRow>
      )}
      {under ? (
        <TableRow>
          <TableCell colSpan={columns.length + (chosen === undefined ? 0 : 1)}>{under}</TableCell>
        </TableRow>
      ) : null}
    </>
  );
}

/** A cell beneath its row: its heading says what it is; nothing where there is nothing to say. */
function Folded<T>({ column, value }: { column: Column<T>; value: T }): ReactNode {
  const said = column.cell(value);
  if (said === '' || said === null || said === undefined || said === false) return null;
  return (
    <Row as="span" nowrap gap={5} base>
      {column.heading !== '' && <Bit soft>{column.heading}</Bit>}
      <span>{said}</span>
    </Row>
  );
}

/** A row of a table, drawn anew only when what stands in it changes: scrolling draws the rows that come into sight, no others. */
export const DataRow = memo(Plain) as typeof Plain;

import { useState } from 'react';
import type { BenchRow } from '../../../core/api/people/imports';
import { TypedValue } from '../../pieces/form/choices';
import { Bit, Words } from '../../pieces/layout';
import { Way } from '../../pieces/ways';

/** Corrects a cell; what is told is what it becomes. */
export type Correct = (row: number, column: number, text: string) => void;

/** Whether a cell is one of those that come in empty since nobody can read them as what their column is. */
const isBlank = (row: BenchRow, cell: string) =>
  cell.trim() !== '' && row.blanks.some((each) => each.endsWith(`: ${cell.trim().slice(0, 40)}`));

/**
 * A cell of the file: as it stands, corrected where it stands while the bench is open (what is wrong says so by itself; Enter keeps what
 * is typed, Escape leaves it), and what the file has, where somebody has corrected it.
 */
export function CellEdit({
  row,
  column,
  heading,
  soft,
  wrong,
  correct,
}: {
  row: BenchRow;
  column: number;
  heading: string;
  /** It is not brought in. */
  soft: boolean;
  /** It keeps its row out. */
  wrong: boolean;
  /** Left out where the bench is closed. */
  correct: Correct | undefined;
}) {
  const [typed, setTyped] = useState<string>();
  const cell = row.cells[column] ?? '';
  const was = row.was ? (row.was[column] ?? '') : cell;
  const at = `${heading}, row ${row.row_no + 1}`;
  const keep = () => {
    if (typed !== undefined && typed !== cell) correct?.(row.row_no, column, typed);
    setTyped(undefined);
  };
  if (typed !== undefined)
    return (
      <TypedValue
        label={at}
        autoFocus
        value={typed}
        onChange={setTyped}
        onBlur={keep}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === 'Enter') keep();
          if (event.key === 'Escape') setTyped(undefined);
        }}
      />
    );
  return (
    <>
      <Words cut most={220} soft={soft} title={cell}>
        {cell}
      </Words>
      {correct && (wrong || isBlank(row, cell)) && (
        <Way small aria-label={`correct it: ${at}`} onClick={() => setTyped(cell)}>
          correct it
        </Way>
      )}
      {was !== cell && (
        <Words small lake>
          corrected, was {was === '' ? 'empty' : <Bit as="s">{was}</Bit>}{' '}
          {correct && (
            <Way small aria-label={`put back: ${at}`} onClick={() => correct(row.row_no, column, was)}>
              put back
            </Way>
          )}
        </Words>
      )}
    </>
  );
}

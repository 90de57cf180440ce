import { styled } from '@mui/material/styles';
import type { BenchRow } from '../../../core/api/people/imports';
import { Bit, Words } from '../../pieces/layout';
import { showPhone } from '../../pieces/phone';
import { Way } from '../../pieces/ways';
import { CellEdit, type Correct } from './CellEdit';
import type { RowFilter } from './staged';

/** A cell that was mended, or could not be: marked at its edge. */
const Marked = styled('div', { shouldForwardProp: (name) => name !== 'mark' })<{ mark: 'brick' | 'lake' | undefined }>(
  ({ theme, mark }) => ({
    maxWidth: 220,
    ...(mark ? { boxShadow: `inset 3px 0 0 ${theme.bell[mark]}`, paddingLeft: 9 } : {}),
  }),
);

/** The cell that is texted: as it stands, what it becomes, or why it does not come in. */
export function NumberCell({
  row,
  column,
  heading,
  correct,
  open,
  filter,
  fixOne,
}: {
  row: BenchRow;
  column: number;
  heading: string;
  correct: Correct | undefined;
  open: boolean;
  filter: RowFilter;
  fixOne: (row: BenchRow) => void;
}) {
  const rejected = row.verdict === 'rejected';
  return (
    <Marked mark={row.fix || row.reason ? (rejected ? 'brick' : 'lake') : undefined}>
      <CellEdit row={row} column={column} heading={heading} soft={false} wrong={rejected} correct={correct} />
      {row.reason && (
        <Words small brick={rejected} lake={!rejected}>
          {row.reason}
          {row.after && rejected && open && (
            <>
              {' '}
              <Way onClick={() => fixOne(row)}>take {showPhone(row.after)}</Way>
            </>
          )}
        </Words>
      )}
      {!row.reason && row.fix && row.stored && (
        <Words small lake>
          {showPhone(row.stored.person.number)}
        </Words>
      )}
      {row.changes && filter.verdict === 'changed' && (
        <Words small>
          {row.changes.map((each) => (
            <div key={each.field}>
              {each.field.replaceAll('_', ' ')}:{' '}
              {each.before ? (
                <Bit as="s" soft>
                  {each.before}
                </Bit>
              ) : (
                <Bit soft>empty</Bit>
              )}{' '}
              → <b>{each.after}</b>
            </div>
          ))}
        </Words>
      )}
      {filter.blank && row.blanks.length > 0 && (
        <Words small brick>
          {row.blanks.join('; ')}
        </Words>
      )}
    </Marked>
  );
}

import type { BenchRow } from '../../../core/api/people/imports';
import { sharedOf, type ImportSettings } from '../../../core/api/people/import-settings';
import { Choose } from '../../pieces/form/choices';
import { count } from '../../pieces/format';
import { Bit, Column, Row, Words } from '../../pieces/layout';
import { Way } from '../../pieces/ways';
import type { Change, RowFilter, Staged } from './staged';

const OPTIONS = [
  ['one_person', 'the same person'],
  ['by_name', 'another who shares it'],
] as const;

/** What becomes of the name in the file where the two are taken for one person. */
const NAME_GOES: Record<ImportSettings['already'], string> = {
  fill_blanks: 'The name here stays, that of the file is dropped.',
  overwrite: 'The name of the file takes the place of that here.',
  skip: 'Nothing here changes, the name of the file is dropped.',
};

/** Rows whose number somebody has under another name: what is dropped if nobody says otherwise, and the choice for all of them. */
export function OtherNames({
  staged: { counts, settings },
  change,
  see,
}: {
  staged: Staged;
  /** Left out where the bench is decided. */
  change: Change | undefined;
  see: (filter: RowFilter) => void;
}) {
  const apart = Object.keys(settings.shared_rows ?? {}).length;
  return (
    <Column under pad="9px 0" gap={3}>
      <Row between strong>
        <span>Same number, another name</span>
        <Bit fig>{count(counts.other_names)}</Bit>
      </Row>
      {counts.other_name_examples.map((each) => (
        <Bit small key={each.row}>
          row {count(each.row + 1)}: <b>{each.file}</b>, <Bit soft>{each.here} has the number</Bit>
        </Bit>
      ))}
      <Words small>
        They are{' '}
        {change ? (
          <Choose
            label="Same number under another name"
            value={settings.shared_number}
            options={OPTIONS}
            onChange={(shared_number) => void change({ shared_number })}
          />
        ) : (
          OPTIONS.find(([key]) => key === settings.shared_number)?.[1]
        )}
        {settings.shared_number === 'one_person' ? `. ${NAME_GOES[settings.already]}` : '. Both stand in the address book.'}
      </Words>
      <Row>
        <Way small onClick={() => see({ otherName: true })}>
          see {count(counts.other_names)}
          {change ? ', one by one' : ''}
        </Way>
        {apart > 0 && (
          <Bit soft small>
            {count(apart)} said one by one
          </Bit>
        )}
      </Row>
    </Column>
  );
}

/** Who has the row's number under another name, and what is said of this row. */
export function OtherName({ row, settings, change }: { row: BenchRow; settings: ImportSettings; change: Change | undefined }) {
  const now = sharedOf(settings, row.row_no);
  return (
    <Words small lake>
      {row.other_name} has it:{' '}
      {change ? (
        <Choose
          label={`Row ${row.row_no + 1}, same number as ${row.other_name ?? ''}`}
          value={now}
          options={OPTIONS}
          onChange={(said) => void change({ shared_rows: { ...settings.shared_rows, [row.row_no]: said } })}
        />
      ) : (
        OPTIONS.find(([key]) => key === now)?.[1]
      )}
    </Words>
  );
}

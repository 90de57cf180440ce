import { runStateWords } from '../../../core/outcome/run-words';
import type { BroadcastRow } from '../../../core/api/sending/broadcasts';
import { count, money, when } from '../../pieces/format';
import { Bit, Row } from '../../pieces/layout';
import type { Column } from '../../pieces/table/DataTable';
import { Way } from '../../pieces/ways';
import { InWords } from '../../pieces/words/InWords';
import { Labels } from './Labels';

const isDraft = (row: BroadcastRow) => row.state === 'draft' || row.state === 'set_aside';
const wayOf = (row: BroadcastRow) =>
  isDraft(row) || row.state === 'scheduled' || row.goes_on || row.run_id === null
    ? `/broadcasts/${row.id}`
    : `/runs/${row.run_id}`;

/** The columns of the table of broadcasts, for whoever looks at them. */
export function broadcastColumns(at: {
  zone: string;
  currency: string;
  now: number;
  mayWrite: boolean;
  copy: (id: number) => void;
}): Column<BroadcastRow>[] {
  const { zone, currency, now, mayWrite, copy } = at;
  return [
    {
      key: 'name',
      heading: 'Name',
      stays: true,
      cell: (row) => (
        <Row base nowrap>
          <Way nobreak to={wayOf(row)}>
            {row.called || 'nothing written yet'}
          </Way>
          <Bit soft small cut wideOnly>
            {row.name !== '' && <InWords line words={row.words} />}
          </Bit>
        </Row>
      ),
    },
    {
      key: 'state',
      folds: true,
      heading: 'State',
      nobreak: true,
      width: 110,
      cell: (row) =>
        row.goes_on
          ? row.next_at
            ? 'again and again'
            : 'with imports'
          : row.run_state && !isDraft(row)
            ? row.run_state === 'waiting'
              ? 'scheduled'
              : runStateWords(row.run_state)
            : row.state.replace('_', ' '),
    },
    {
      key: 'when',
      folds: true,
      heading: 'When',
      nobreak: true,
      width: 190,
      cell: (row) =>
        // of a series first what waits already, then what comes after it
        row.next_at && row.run_state !== 'waiting' ? (
          <>next {when(row.next_at, zone, now)}</>
        ) : row.due_at && !isDraft(row) ? (
          when(row.due_at, zone, now)
        ) : (
          <Bit soft>saved {when(row.updated_at, zone, now)}</Bit>
        ),
    },
    {
      key: 'people',
      folds: true,
      heading: 'People',
      num: true,
      width: 90,
      cell: (row) => (row.people !== null && !isDraft(row) ? count(row.people) : ''),
    },
    {
      key: 'parts',
      folds: 'away',
      heading: 'Parts',
      num: true,
      width: 90,
      cell: (row) => (row.parts !== null && !isDraft(row) ? count(row.parts) : ''),
    },
    {
      key: 'cost',
      folds: true,
      heading: 'Cost',
      num: true,
      width: 100,
      cell: (row) => (row.cost_micro !== null && !isDraft(row) ? money(row.cost_micro, currency) : ''),
    },
    {
      key: 'labels',
      folds: true,
      heading: 'Labels',
      width: 130,
      cell: (row) => <Labels id={row.id} labels={row.labels} may={mayWrite} />,
    },
    { key: 'by', folds: 'away', heading: 'By', width: 130, cell: (row) => <Bit soft>{row.by}</Bit> },
    {
      key: 'acts',
      folds: true,
      heading: '',
      said: 'Copy',
      num: true,
      width: 60,
      cell: (row) =>
        mayWrite && (
          <Way small aria-label={`Copy ${row.name || 'it'}`} onClick={() => copy(row.id)}>
            copy
          </Way>
        ),
    },
  ];
}

import { Button } from '@mui/material';
import { useState } from 'react';
import { recipients, type Recipient } from '../../../core/api/sending/recipients';
import { fileAt, usePages } from '../../api/client';
import { useDesk } from '../../api/session';
import { OUTCOME_WORDS } from '../../../core/outcome/outcomes';
import { Choose } from '../../pieces/form/choices';
import { ExportMenu } from '../../pieces/table/ExportMenu';
import { ColumnsMenu } from '../../pieces/table/ColumnsMenu';
import { DataTable, type Column as TableColumn } from '../../pieces/table/DataTable';
import { Field } from '../../pieces/form/Field';
import { clockTime } from '../../pieces/format';
import { Bit, Row } from '../../pieces/layout';
import { showPhone } from '../../pieces/phone';
import { State } from '../../pieces/chart/Ring';
import { Nothing, useSettled } from '../../pieces/small';
import { useTableLayout, type TableLayout } from '../../pieces/table/table-layout';
import { Way } from '../../pieces/ways';
import { ByKind } from './ByKind';
import { RecipientStory } from './RecipientStory';
import type { RunFilter } from './run-words';

const PAGE = 100;
const ASKED = ['answered', 'not_answered'] as const;
const ASKED_WITH_LINK = [...ASKED, 'clicked', 'not_clicked'] as const;
const HIDDEN = ['planned'];

/** Everyone of a run: state, times and reason; the words on demand. */
export function RunRecipients({
  id,
  links,
  filter,
  setFilter,
}: {
  id: number;
  /** There were links to follow. */
  links: boolean;
  filter: RunFilter;
  setFilter: (filter: RunFilter) => void;
}) {
  const { workspace } = useDesk();
  const [open, setOpen] = useState<number>();
  const [byKind, setByKind] = useState(false);
  const layout = useTableLayout('recipients', { hidden: HIDDEN });
  const search = useSettled((filter.search ?? '').trim(), 250);
  const wanted = { ...filter, search: search || undefined };
  const list = usePages(
    recipients.list,
    (after: number | undefined) => ({ params: { id }, query: { ...wanted, after } }),
    (last) => (last.recipients.length < PAGE ? undefined : last.recipients[last.recipients.length - 1].id),
  );
  const zone = workspace.zone;
  const at = (time: string | null) => (time ? clockTime(time, zone, true) : '');
  // the same second three times says nothing: what follows within it is not said again
  const later = (time: string | null, before: string | null) => {
    const said = at(time);
    return said !== '' && said === at(before) ? <Bit soft>at once</Bit> : said;
  };
  const columns: TableColumn<Recipient>[] = [
    { key: 'state', heading: 'State', width: 130, cell: (each) => <State state={each.state} />, stays: true },
    {
      key: 'person',
      heading: 'Person',
      stays: true,
      cell: (each) => (
        <Way aria-expanded={open === each.id} onClick={() => setOpen(open === each.id ? undefined : each.id)}>
          {`${each.given_name ?? ''} ${each.family_name ?? ''}`.trim() || 'no name'}
        </Way>
      ),
    },
    { key: 'number', heading: 'Number', nobreak: true, cell: (each) => showPhone(each.number) },
    { key: 'parts', folds: true, heading: 'Parts', num: true, width: 60, cell: (each) => each.parts },
    { key: 'planned', folds: true, heading: 'Planned', nobreak: true, cell: (each) => at(each.due_at) },
    { key: 'handed', folds: true, heading: 'With carrier', nobreak: true, cell: (each) => at(each.handed_at) },
    { key: 'final', folds: true, heading: 'Final', nobreak: true, cell: (each) => later(each.final_at, each.handed_at) },
    { key: 'why', folds: true, heading: 'Why', cell: (each) => each.reason && <Bit soft>{each.reason}</Bit> },
  ];
  return (
    <>
      <Narrow
        filter={filter}
        setFilter={setFilter}
        links={links}
        byKind={byKind}
        id={id}
        setByKind={setByKind}
        columns={columns}
        layout={layout}
        wanted={wanted}
      />
      <DataTable
        label="Recipients"
        columns={columns}
        rows={(list.data?.pages ?? []).flatMap((page) => page.recipients)}
        idOf={(each) => each.id}
        layout={layout}
        loading={list.isPending}
        error={list.error}
        empty={<Nothing title="Nobody">No recipient is in this state.</Nothing>}
        under={(each) => open === each.id && <RecipientStory run={id} each={each} />}
      />
      {list.hasNextPage && (
        <Row above={10}>
          <Button disabled={list.isFetchingNextPage} onClick={() => void list.fetchNextPage()}>
            Show more recipients
          </Button>
        </Row>
      )}
    </>
  );
}

/** Which recipients, and their file. */
function Narrow({
  filter,
  setFilter,
  links,
  byKind,
  id,
  setByKind,
  columns,
  layout,
  wanted,
}: {
  filter: RunFilter;
  setFilter: (filter: RunFilter) => void;
  links: boolean;
  byKind: boolean;
  id: number;
  setByKind: (by: boolean) => void;
  columns: TableColumn<Recipient>[];
  layout: TableLayout;
  wanted: Omit<RunFilter, 'search'> & { search: string | undefined };
}) {
  return (
    <Row between line pad="12px 0 4px">
      <Row base>
        <h2>Recipients</h2>
        <Bit soft small>
          {filter.state ? filter.state.replaceAll('_', ' ') : filter.outcome || filter.search ? '' : 'all'}
          {filter.reason ? `, ${filter.reason}` : ''}
        </Bit>
        {(filter.state || filter.reason || filter.outcome || filter.language || filter.zone) && (
          <Way small onClick={() => setFilter({})}>
            all
          </Way>
        )}
      </Row>
      <Row gap={12}>
        <Choose
          label="Which recipients"
          value={filter.outcome ?? ''}
          options={[
            ['', 'everyone'],
            ...(links ? ASKED_WITH_LINK : ASKED).map((outcome) => [outcome, OUTCOME_WORDS[outcome]] as const),
          ]}
          onChange={(outcome) =>
            setFilter({
              search: filter.search,
              language: filter.language,
              zone: filter.zone,
              outcome: outcome === '' ? undefined : outcome,
            })
          }
        />
        {byKind ? (
          <ByKind id={id} filter={filter} setFilter={setFilter} />
        ) : (
          <Way small onClick={() => setByKind(true)}>
            language, zone
          </Way>
        )}
        <Bit width={170}>
          <Field
            label="Find recipients"
            placeholder="Name or number"
            value={filter.search ?? ''}
            onChange={(next) => setFilter({ ...filter, search: next === '' ? undefined : next })}
          />
        </Bit>
        <ColumnsMenu columns={columns} layout={layout} />
        <ExportMenu
          files={[
            { words: 'CSV', href: fileAt(recipients.csv, { params: { id }, query: wanted }) },
            { words: 'workbook (XLSX)', href: fileAt(recipients.xlsx, { params: { id }, query: wanted }) },
          ]}
        />
      </Row>
    </Row>
  );
}

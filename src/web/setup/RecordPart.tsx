import { useState } from 'react';
import type { Static } from 'typebox';
import { setup, type RecordRow } from '../../core/api/setup';
import { useGet } from '../api/client';
import { useDesk } from '../api/session';
import { DataTable, type Column } from '../pieces/table/DataTable';
import { when } from '../pieces/format';
import { Bit, Words } from '../pieces/layout';
import { Pager } from '../pieces/table/Pager';
import { Nothing, useNow } from '../pieces/small';

const PAGE = 50;
type Entry = Static<typeof RecordRow>;

/** Who did what, latest first. */
export default function RecordPart() {
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 60_000);
  const [skip, setSkip] = useState(0);
  const answer = useGet(setup.record, { query: { skip } }, { keep: true });
  const columns: Column<Entry>[] = [
    {
      key: 'at',
      heading: 'When',
      nobreak: true,
      width: 180,
      cell: (each) => <Bit soft>{when(each.at, workspace.zone, now)}</Bit>,
    },
    { key: 'by', heading: 'Who', width: 160, cell: (each) => each.by ?? <Bit soft>the server</Bit> },
    {
      key: 'act',
      heading: 'What',
      cell: (each) => (
        <>
          {each.act} <Bit soft>{each.subject}</Bit>
        </>
      ),
    },
  ];
  return (
    <>
      <Words below={6}>
        <h2>The record</h2>
      </Words>
      <DataTable
        label="The record"
        tight
        columns={columns}
        rows={answer.data?.record ?? []}
        idOf={(each) => each.id}
        loading={answer.isPending}
        error={answer.error}
        empty={<Nothing title="Nothing yet">Who did what is written down here, and never changed.</Nothing>}
      />
      <Pager skip={skip} page={PAGE} total={answer.data?.total} go={setSkip} />
    </>
  );
}

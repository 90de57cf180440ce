import { useState } from 'react';
import type { Static } from 'typebox';
import { setup, type RecordRow } from '../../core/api/setup';
import { useGet } from '../api/client';
import { useDesk } from '../api/session';
import { DataTable, type Column } from '../pieces/table/DataTable';
import { when } from '../pieces/format';
import { Search } from '../pieces/form/Search';
import { Bit, Row } from '../pieces/layout';
import { Pager } from '../pieces/table/Pager';
import { Nothing, useNow, useSettled } from '../pieces/small';
import { Way } from '../pieces/ways';

const PAGE = 50;
type Entry = Static<typeof RecordRow>;

const PLACES = {
  person: '/people/',
  run: '/runs/',
  broadcast: '/broadcasts/',
  dependant: '/people/dependants?open=',
  import: '/people/bring-in/',
} as const;
function wayOf(of: NonNullable<Entry['of']>): string {
  return of.kind === 'setup' ? `/setup/${of.part}` : `${PLACES[of.kind]}${of.id}`;
}

/** Who did what, latest first, each with the way to what it is about. */
export default function RecordPart() {
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 60_000);
  const [skip, setSkip] = useState(0);
  const [typed, setTyped] = useState('');
  const search = useSettled(typed, 200);
  const answer = useGet(setup.record, { query: { skip, search } }, { keep: true });
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
          {each.act} {each.of ? <Way to={wayOf(each.of)}>{each.named || 'open'}</Way> : <Bit soft>{each.named}</Bit>}
        </>
      ),
    },
  ];
  return (
    <>
      <Row between below={6}>
        <h2>The record</h2>
        <Search
          width={260}
          label="Find by what was done, who did it, or a name"
          placeholder="What, who, name"
          value={typed}
          onChange={(words) => {
            setTyped(words);
            setSkip(0);
          }}
        />
      </Row>
      <DataTable
        label="The record"
        tight
        columns={columns}
        rows={answer.data?.record ?? []}
        idOf={(each) => each.id}
        loading={answer.isPending}
        error={answer.error}
        empty={
          search === '' ? (
            <Nothing title="Nothing yet">Who did what is written down here, and never changed.</Nothing>
          ) : (
            <Nothing title="Nothing has these words in it">Try a part of what was done, or who did it.</Nothing>
          )
        }
      />
      <Pager skip={skip} page={PAGE} total={answer.data?.total} go={setSkip} />
    </>
  );
}

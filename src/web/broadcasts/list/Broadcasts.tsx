import { Button } from '@mui/material';
import { Choose, Shown } from '../../pieces/form/choices';
import { ColumnsMenu } from '../../pieces/table/ColumnsMenu';
import { DataTable } from '../../pieces/table/DataTable';
import { count } from '../../pieces/format';
import { Search } from '../../pieces/form/Search';
import { Bit, End, Head, Pane } from '../../pieces/layout';
import { Nothing, Trouble, useTitle } from '../../pieces/small';
import { useTableLayout } from '../../pieces/table/table-layout';
import { Way } from '../../pieces/ways';
import { useBroadcasts } from './use-broadcasts';

const STATES = [
  ['', 'all'],
  ['draft', 'drafts'],
  ['scheduled', 'scheduled'],
  ['set_aside', 'set aside'],
  ['ended', 'ended'],
  ['canceled', 'canceled'],
] as const;
const ROW = 36;
const HIDDEN = ['parts'];

/** Every broadcast: those being made and scheduled first, then what has ended; found by name or words. */
export default function Broadcasts() {
  useTitle('Broadcasts');
  const layout = useTableLayout('broadcasts', { hidden: HIDDEN });
  const { narrowed, filter, typed, setTyped, labels, columns, rows, total, list, mayWrite, begin, busy, error } = useBroadcasts();
  const { state, label } = narrowed;
  return (
    <>
      <Head>
        <h1>Broadcasts</h1>
        <Bit soft small role="status">
          {total === undefined ? 'counting…' : count(total)}
        </Bit>
        <Shown label="Which broadcasts" value={state} options={STATES} onChange={(next) => filter({ state: next })} />
        {/* always there: what comes later would move what is about to be pressed */}
        <Choose
          label="Label"
          value={label}
          options={[
            ['', 'any label'],
            ...labels.map((each) => [each.label, each.label] as const),
            // a label that nothing has any more is still what is asked for
            ...(label !== '' && !labels.some((each) => each.label === label) ? [[label, label] as const] : []),
          ]}
          onChange={(next) => filter({ label: next })}
        />
        <Way small to="/broadcasts/templates">
          templates
        </Way>
        <End>
          <Search
            width={210}
            label="Find a broadcast by name, words or label"
            placeholder="Name, words, label"
            value={typed}
            onChange={setTyped}
          />
          <ColumnsMenu columns={columns} layout={layout} />
          {mayWrite && (
            <Button disabled={busy} onClick={() => void begin(undefined, true)}>
              Short text
            </Button>
          )}
          {mayWrite && (
            <Button variant="contained" disabled={busy} onClick={() => void begin()}>
              New broadcast
            </Button>
          )}
        </End>
      </Head>
      <Trouble error={error} />
      <Pane fill pad="0 20px" grow>
        <DataTable
          label="Broadcasts"
          columns={columns}
          rows={rows}
          idOf={(row) => row.id}
          rowHeight={ROW}
          layout={layout}
          loading={list.isPending}
          error={list.error}
          more={() => {
            if (list.hasNextPage && !list.isFetchingNextPage) void list.fetchNextPage();
          }}
          hasMore={list.hasNextPage}
          empty={<Empty narrowed={narrowed} begin={mayWrite ? () => void begin() : undefined} />}
        />
        <Bit soft small aria-live="polite">
          {busy ? `Beginning…` : ''}
        </Bit>
      </Pane>
    </>
  );
}

/** Why the table is empty. */
function Empty({
  narrowed: { search, state, label },
  begin,
}: {
  narrowed: { search: string; state: string; label: string };
  begin: (() => void) | undefined;
}) {
  const filtered = search !== '' || state !== '' || label !== '';
  return filtered ? (
    <Nothing title="No such broadcast">
      Nothing {state ? `${state.replace('_', ' ')} ` : ''}
      {label ? `with the label “${label}”` : ''}
      {search ? ' has these words in it' : ' is here'}.
    </Nothing>
  ) : (
    <Nothing
      title="No broadcast yet"
      act={
        begin && (
          <Button variant="contained" onClick={begin}>
            New broadcast
          </Button>
        )
      }
    >
      A broadcast is one text to many: whom, which words, and when. Nothing goes before you have looked once more and said so.
      Drafts save themselves here.
    </Nothing>
  );
}

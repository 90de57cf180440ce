import { Button } from '@mui/material';
import { useEffect, useMemo, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { broadcasts, type BroadcastRow } from '../../../core/api/sending/broadcasts';
import { mayDo } from '../../../core/api/roles';
import { useAct, useGet, usePages } from '../../api/client';
import { useDesk } from '../../api/session';
import { useWork } from '../../api/work';
import { useInAddress } from '../../pieces/address';
import { Choose, Shown } from '../../pieces/form/choices';
import { ColumnsMenu } from '../../pieces/table/ColumnsMenu';
import { DataTable, type Column } from '../../pieces/table/DataTable';
import { count, money, when } from '../../pieces/format';
import { Field } from '../../pieces/form/Field';
import { Bit, End, Head, Pane, Row } from '../../pieces/layout';
import { Nothing, Trouble, useNow, useSettled, useTitle } from '../../pieces/small';
import { useTableLayout } from '../../pieces/table/table-layout';
import { Way } from '../../pieces/ways';
import { Labels } from './Labels';
import { inPlainWords } from '../words/plain-words';

const STATES = [
  ['', 'all'],
  ['draft', 'drafts'],
  ['scheduled', 'scheduled'],
  ['set_aside', 'set aside'],
  ['ended', 'ended'],
  ['canceled', 'canceled'],
] as const;
const PAGE = 100;
const ROW = 36;
const HIDDEN = ['parts'];
const FILTERS = ['state', 'label'];

const isDraft = (row: BroadcastRow) => row.state === 'draft' || row.state === 'set_aside';
const wayOf = (row: BroadcastRow) =>
  isDraft(row) || row.state === 'scheduled' || row.goes_on || row.run_id === null
    ? `/broadcasts/${row.id}`
    : `/runs/${row.run_id}`;

/** Every broadcast: those being made and scheduled first, then what has ended; found by name or words. */
export default function Broadcasts() {
  useTitle('Broadcasts');
  const navigate = useNavigate();
  const [params, setParams] = useSearchParams();
  const { account, workspace, offset } = useDesk();
  const now = useNow(offset, 30_000);
  const [typed, setTyped] = useState(params.get('search') ?? '');
  const search = useSettled(typed.trim(), 200);
  const [{ state = '', label = '' }, filter] = useInAddress(FILTERS, { replace: false });
  const used = useGet(broadcasts.labels, {}, { keep: true }).data?.labels ?? [];
  const layout = useTableLayout('broadcasts', { hidden: HIDDEN });
  const { work, busy, error } = useWork();
  const make = useAct(broadcasts.make);
  const list = usePages(
    broadcasts.list,
    (skip: number | undefined) => ({
      query: { search: search || undefined, state: state || undefined, label: label || undefined, skip },
    }),
    (last, all) => (last.broadcasts.length < PAGE ? undefined : all.length * PAGE),
  );
  const pages = list.data?.pages ?? [];
  const rows = pages.flatMap((page) => page.broadcasts);
  const total = pages[0]?.total;
  const begin = (copy?: number, short?: boolean) =>
    work(async () => {
      const { id } = await make({ body: { name: '', copy } });
      await navigate(short ? `/broadcasts/${id}/short` : `/broadcasts/${id}`);
    });
  const wanted = params.get('new') === '1';
  useEffect(() => {
    // asked for by a key: once
    if (!wanted) return;
    setParams({}, { replace: true });
    void work(async () => {
      const { id } = await make({ body: { name: '' } });
      await navigate(`/broadcasts/${id}`);
    });
  }, [wanted, setParams, work, make, navigate]);
  const zone = workspace.zone;
  const mayWrite = mayDo(account.role, 'write');
  const columns = useMemo<Column<BroadcastRow>[]>(
    () => [
      {
        key: 'name',
        heading: 'Name',
        stays: true,
        cell: (row) => (
          <Row base nowrap>
            <Way nobreak to={wayOf(row)}>
              {row.name || 'no name'}
            </Way>
            <Bit soft small cut>
              {inPlainWords(row.words).slice(0, 90)}
            </Bit>
          </Row>
        ),
      },
      {
        key: 'state',
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
                : row.run_state
              : row.state.replace('_', ' '),
      },
      {
        key: 'people',
        heading: 'People',
        num: true,
        width: 90,
        cell: (row) => (row.people !== null && !isDraft(row) ? count(row.people) : ''),
      },
      {
        key: 'parts',
        heading: 'Parts',
        num: true,
        width: 90,
        cell: (row) => (row.parts !== null && !isDraft(row) ? count(row.parts) : ''),
      },
      {
        key: 'cost',
        heading: 'Cost',
        num: true,
        width: 100,
        cell: (row) => (row.cost_micro !== null && !isDraft(row) ? money(row.cost_micro, workspace.currency) : ''),
      },
      {
        key: 'when',
        heading: 'When',
        nobreak: true,
        width: 190,
        cell: (row) =>
          row.next_at ? (
            <>next {when(row.next_at, zone, now)}</>
          ) : row.due_at && !isDraft(row) ? (
            when(row.due_at, zone, now)
          ) : (
            <Bit soft>saved {when(row.updated_at, zone, now)}</Bit>
          ),
      },
      {
        key: 'labels',
        heading: 'Labels',
        width: 130,
        cell: (row) => <Labels id={row.id} labels={row.labels} may={mayWrite} />,
      },
      { key: 'by', heading: 'By', width: 130, cell: (row) => <Bit soft>{row.by}</Bit> },
      {
        key: 'acts',
        heading: '',
        said: 'Copy',
        num: true,
        width: 60,
        cell: (row) =>
          mayWrite && (
            <Way small aria-label={`Copy ${row.name || 'it'}`} onClick={() => void begin(row.id)}>
              copy
            </Way>
          ),
      },
    ],
    // begin only ever calls what does not change
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [zone, now, mayWrite, workspace.currency],
  );
  const filtered = search !== '' || state !== '' || label !== '';
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
            ...used.map((each) => [each.label, each.label] as const),
            // a label that nothing has any more is still what is asked for
            ...(label !== '' && !used.some((each) => each.label === label) ? [[label, label] as const] : []),
          ]}
          onChange={(next) => filter({ label: next })}
        />
        <Way small to="/broadcasts/templates">
          templates
        </Way>
        <End>
          <Row width={210}>
            <Field
              type="search"
              label="Find a broadcast by name, words or label"
              placeholder="Name, words, label"
              value={typed}
              onChange={setTyped}
            />
          </Row>
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
          empty={
            filtered ? (
              <Nothing title="No such broadcast">
                Nothing {state ? `${state.replace('_', ' ')} ` : ''}
                {label ? `with the label “${label}”` : ''}
                {search ? ' has these words in it' : ' is here'}.
              </Nothing>
            ) : (
              <Nothing
                title="No broadcast yet"
                act={
                  mayWrite && (
                    <Button variant="contained" onClick={() => void begin()}>
                      New broadcast
                    </Button>
                  )
                }
              >
                A broadcast is one text to many: whom, which words, and when. Nothing goes before you have looked once more and
                said so. Drafts save themselves here.
              </Nothing>
            )
          }
        />
        <Bit soft small aria-live="polite">
          {busy ? `Beginning…` : ''}
        </Bit>
      </Pane>
    </>
  );
}

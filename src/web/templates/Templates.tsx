import { Button } from '@mui/material';
import { useEffect, useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { mayDo } from '../../core/api/roles';
import { templates, type PreparedKind, type PreparedText } from '../../core/api/sending/templates';
import { useGet } from '../api/client';
import { useDesk } from '../api/session';
import { InWords } from '../pieces/words/InWords';
import { Shown } from '../pieces/form/choices';
import { DataTable, type Column } from '../pieces/table/DataTable';
import { Search } from '../pieces/form/Search';
import { count, when } from '../pieces/format';
import { Bit, End, Head, Pane, Panes, Row } from '../pieces/layout';
import { Pager } from '../pieces/table/Pager';
import { Nothing, useNow, useSettled, useTitle } from '../pieces/small';
import { Way } from '../pieces/ways';
import { KINDS } from './kinds';
import { PreparedForm } from './PreparedForm';

const ALL: readonly PreparedKind[] = ['template', 'piece', 'answer'];
const SHOWN = ALL.map((kind) => [kind, KINDS[kind].many.toLowerCase()] as const);
const kindOf = (said: string | null) => ALL.find((kind) => kind === said) ?? 'template';
const PAGE = 100;

/** Templates in their folders, saved pieces and ready answers: made, changed, copied and deleted. Broadcasts take them up from their sheet. */
export default function Templates() {
  const { account } = useDesk();
  const [params, setParams] = useSearchParams();
  const kind: PreparedKind = kindOf(params.get('kind'));
  const [typed, setTyped] = useState('');
  const [skip, setSkip] = useState(0);
  const search = useSettled(typed.trim(), 200) || undefined;
  const list = useGet(templates.list, { query: { kind, search, skip } }, { keep: true });
  const texts = useMemo(() => list.data?.texts.filter((text) => text.kind === kind) ?? [], [list.data, kind]);
  const wanted = params.get('open');
  /** What is open beside the table: one of these, or a new one, blank or copied from another. */
  const [fresh, setFresh] = useState<PreparedText | 'blank'>();
  const opened = fresh === undefined ? texts.find((text) => String(text.id) === wanted) : undefined;
  const may = mayDo(account.role, 'write');
  useTitle(KINDS[kind].many);
  const open = (id: number | undefined) => {
    setFresh(undefined);
    setParams({ kind, ...(id === undefined ? {} : { open: String(id) }) });
  };
  const blank = wanted === 'new' && may;
  useEffect(() => {
    if (!blank) return;
    setFresh('blank');
    setParams({ kind }, { replace: true });
  }, [blank, kind, setParams]);
  const begin = (from: PreparedText | 'blank') => {
    setParams({ kind });
    setFresh(from);
  };
  const columns = useColumns(kind, open, may ? begin : undefined);
  const beside = fresh !== undefined || opened !== undefined;
  return (
    <>
      <TextsHead
        kind={kind}
        show={(next) => {
          setFresh(undefined);
          setSkip(0);
          setParams({ kind: next });
        }}
        total={list.data?.total}
        typed={typed}
        find={(words) => {
          setTyped(words);
          setSkip(0);
        }}
        begin={may ? () => begin('blank') : undefined}
      />
      <Panes opened={Boolean(beside)} columns={beside ? 'minmax(0, 1fr) 470px' : 'minmax(0, 1fr)'}>
        <Pane fill pad="0 20px">
          <DataTable
            label={KINDS[kind].many}
            columns={beside ? columns.filter(({ key }) => key !== 'changed' && key !== 'languages') : columns}
            rows={texts}
            idOf={(text) => text.id}
            loading={list.isPending}
            error={list.error}
            isOpen={(text) => text.id === opened?.id}
            open={(text) => open(text.id)}
            empty={
              <Nothing
                title={search ? 'Nothing has these words in it' : KINDS[kind].none}
                act={
                  may &&
                  search === undefined && (
                    <Button variant="contained" onClick={() => begin('blank')}>
                      {KINDS[kind].fresh}
                    </Button>
                  )
                }
              >
                {KINDS[kind].empty}
              </Nothing>
            }
          />
          <Pager skip={skip} page={PAGE} total={list.data?.total} go={setSkip} />
        </Pane>
        {beside && <Beside opened={opened} kind={kind} fresh={fresh} may={may} open={open} />}
      </Panes>
    </>
  );
}

/** The table's columns; each opens what it names, and whoever may write copies it. */
function useColumns(
  kind: PreparedKind,
  open: (id: number) => void,
  copy: ((text: PreparedText) => void) | undefined,
): Column<PreparedText>[] {
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 60_000);
  const [first] = workspace.languages;
  return useMemo<Column<PreparedText>[]>(
    () => [
      ...(kind === 'template'
        ? [{ key: 'folder', heading: 'Folder', width: 120, cell: (text: PreparedText) => <Bit soft>{text.folder}</Bit> }]
        : []),
      {
        key: 'name',
        heading: 'Name',
        cell: (text) => (
          <Row base nowrap>
            <Way nobreak onClick={() => open(text.id)}>
              {text.name}
            </Way>
            <Bit soft small cut>
              <InWords line words={text.words[first] ?? Object.values(text.words)[0] ?? ''} />
            </Bit>
          </Row>
        ),
      },
      {
        key: 'languages',
        heading: 'Languages',
        width: 90,
        cell: (text) => Object.keys(text.words).join(', '),
      },
      {
        key: 'changed',
        heading: 'Changed',
        nobreak: true,
        width: 150,
        cell: (text) => <Bit soft>{when(text.updated_at, workspace.zone, now)}</Bit>,
      },
      {
        key: 'acts',
        heading: '',
        said: 'Copy',
        num: true,
        width: 60,
        cell: (text) =>
          copy && (
            <Way small aria-label={`Copy ${text.name}`} onClick={() => copy(text)}>
              copy
            </Way>
          ),
      },
    ],
    // open and copy only ever set what is asked for
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [kind, first, workspace.zone, now, copy === undefined],
  );
}

/** Which prepared words, found by what, and a new one. */
function TextsHead({
  kind,
  show,
  total,
  typed,
  find,
  begin,
}: {
  kind: PreparedKind;
  show: (kind: PreparedKind) => void;
  /** How many there are; undefined while they are counted. */
  total: number | undefined;
  typed: string;
  find: (words: string) => void;
  begin: (() => void) | undefined;
}) {
  return (
    <Head>
      <h1>{KINDS[kind].many}</h1>
      <Bit soft small role="status">
        {total === undefined ? 'counting…' : count(total)}
      </Bit>
      <Shown label="Which prepared words" value={kind} options={SHOWN} onChange={show} />
      <Way small to="/broadcasts">
        broadcasts
      </Way>
      <End>
        <Search
          width={210}
          label="Find by folder, name or words"
          placeholder="Folder, name, words"
          value={typed}
          onChange={find}
        />
        {begin && (
          <Button variant="contained" onClick={begin}>
            {KINDS[kind].fresh}
          </Button>
        )}
      </End>
    </Head>
  );
}

/** The one that is open, or a new one. */
function Beside({
  opened,
  kind,
  fresh,
  may,
  open,
}: {
  opened: PreparedText | undefined;
  kind: PreparedKind;
  fresh: PreparedText | 'blank' | undefined;
  may: boolean;
  open: (id: number | undefined) => void;
}) {
  return (
    <Pane as="section" aria-label={opened ? opened.name : 'New'}>
      <PreparedForm
        key={opened ? `${opened.id} ${opened.version}` : 'new'}
        kind={kind}
        text={opened}
        copied={typeof fresh === 'object' ? fresh : undefined}
        may={may}
        close={() => open(undefined)}
        made={open}
      />
    </Pane>
  );
}

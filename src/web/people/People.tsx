import { Button, ListItemText, Menu, MenuItem } from '@mui/material';
import { styled } from '@mui/material/styles';
import { useCallback, useMemo, useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { broadcasts } from '../../core/api/sending/broadcasts';
import { people as peopleApi, type PeopleQuery } from '../../core/api/people/people';
import { OUTCOME_WORDS, RUN_OUTCOMES } from '../../core/outcome/outcomes';
import { mayDo } from '../../core/api/roles';
import { EVERYONE, type Group } from '../../core/audience/condition';
import { fileAt, useAct, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { useWork } from '../api/work';
import { ColumnsMenu } from '../pieces/table/ColumnsMenu';
import { inOrder } from '../pieces/table/table-column';
import type { Chosen, Sorting } from '../pieces/table/DataTable';
import { count } from '../pieces/format';
import { Field } from '../pieces/form/Field';
import { Bit, Column, Pane, Panes, Row, Words } from '../pieces/layout';
import { Nothing, Trouble, useSettled, useTitle } from '../pieces/small';
import { useTableLayout } from '../pieces/table/table-layout';
import { BulkBar } from './BulkBar';
import { columnsOf, hiddenAtFirst } from './columns';
import { LookUp } from './LookUp';
import { NotInIt } from './rules/NotInIt';
import { PeopleTable } from './PeopleTable';
import { PersonForm } from './person/PersonForm';
import { PersonPanel } from './person/PersonPanel';
import { ListRule, Rename } from './Rename';
import { RuleEditor } from './rules/RuleEditor';
import { asGroup, SegmentBar, whole } from './rules/SegmentBar';
import { SourceList } from './SourceList';

const NOBODY: Chosen = { all: false, ids: new Set() };
const EXPORTS = [
  [peopleApi.exportCsv, 'these columns, CSV', true],
  [peopleApi.exportXlsx, 'these columns, workbook (XLSX)', true],
  [peopleApi.exportCsv, 'to bring in again, CSV', false],
  [peopleApi.exportXlsx, 'to bring in again, workbook (XLSX)', false],
  [peopleApi.exportVcf, 'vCard', false],
] as const;
const Rule = styled('div')({ padding: '2px 18px 0' });

/** Sources left with their counts, one hairline table, a person beside it; a rule in sentences above the table. */
export default function People() {
  useTitle('People');
  const { account } = useDesk();
  const navigate = useNavigate();
  const { id } = useParams();
  const [params] = useSearchParams();
  const [typed, setTyped] = useState(params.get('search') ?? '');
  const [adding, setAdding] = useState(false);
  const [edited, setEdited] = useState<{ at: string; rule: Group }>();
  const [sorting, setSorting] = useState<Sorting>({ by: 'name', down: false });
  const [chosen, setChosen] = useState<Chosen>(NOBODY);
  const [exporting, setExporting] = useState<HTMLElement>();
  const { work, error } = useWork();
  const make = useAct(broadcasts.make);
  const search = useSettled(typed, 200);
  const sources = useGet(peopleApi.sources, {}, { keep: true }).data;
  const [list, tag, segment, cannot] = ['list', 'tag', 'segment', 'cannot'].map((key) => params.get(key) ?? '');
  // those of a run, by what became of their text and why
  const [run, outcome, reason] = ['run', 'outcome', 'reason'].map((key) => params.get(key) ?? '');
  const place = `${list}|${tag}|${segment}|${cannot}|${run}|${outcome}|${reason}`;
  const kept = sources?.segments.find((each) => String(each.id) === segment);
  // a rule that is being edited is only of the place where that began
  const rule: Group | undefined =
    edited?.at === place ? edited.rule : segment === 'new' ? EVERYONE : kept ? asGroup(kept.rule) : undefined;
  const changed = edited?.at === place && JSON.stringify(edited.rule) !== JSON.stringify(kept ? asGroup(kept.rule) : EVERYONE);
  const settledRule = useSettled(changed ? JSON.stringify(whole(rule ?? EVERYONE)) : '', 250);
  const filter: PeopleQuery & Record<string, string> = Object.fromEntries(
    Object.entries({
      search,
      list,
      tag,
      cannot,
      run,
      outcome,
      reason,
      segment: settledRule !== '' || segment === 'new' ? '' : segment,
      rule: settledRule,
    }).filter(([, value]) => value !== ''),
  );
  const asked = JSON.stringify(filter);
  const counting = useGet(peopleApi.count, { query: filter }, { keep: true });
  // while another filter is counted, what stands is of the one before, and is not said to be of this
  const counted = counting.isPlaceholderData ? undefined : counting.data;
  const total = counted?.people;
  const open = id !== undefined;
  const inPlace = new URLSearchParams(
    Object.entries({ list, tag, segment, cannot, run, outcome, reason }).filter(([, value]) => value !== ''),
  ).toString();
  const linkTo = useCallback((one: number) => `/people/${one}${inPlace ? `?${inPlace}` : ''}`, [inPlace]);
  const fields = useMemo(() => sources?.fields ?? [], [sources?.fields]);
  const hidden = useMemo(() => hiddenAtFirst(fields), [fields]);
  const layout = useTableLayout('people', { hidden });
  const columns = useMemo(() => columnsOf(fields, linkTo), [fields, linkTo]);
  const columnsShown = inOrder(columns, layout.order)
    .map((column) => column.key)
    .filter((key) => !layout.hidden.includes(key))
    .join(',');
  // beside an open person there is room for three
  const beside = useMemo(
    () => (open ? columns.filter((column) => ['name', 'number', 'reach'].includes(column.key)) : columns),
    [open, columns],
  );
  const mayWrite = mayDo(account.role, 'write');
  const go = (next: Record<string, string>) => {
    setChosen(NOBODY);
    void navigate(`/people?${new URLSearchParams(next).toString()}`);
  };
  const title = list
    ? sources?.lists.find((each) => String(each.id) === list)?.name
    : tag
      ? sources?.tags.find((each) => String(each.id) === tag)?.name
      : segment === 'new'
        ? 'New segment'
        : segment
          ? kept?.name
          : run
            ? [OUTCOME_WORDS[RUN_OUTCOMES.find((each) => each === outcome) ?? 'left'], reason].filter((words) => words).join(': ')
            : cannot
              ? 'Cannot be texted'
              : 'Everyone';
  const attempt = async (what: () => Promise<unknown>) => {
    await work(what);
  };
  const write = () =>
    void work(async () => {
      const made = await make({
        body: { name: '', ...(list ? { list_id: Number(list) } : segment ? { segment_id: Number(segment) } : {}) },
      });
      await navigate(`/broadcasts/${made.id}`);
    });
  // everyone but some: not a filter the server knows, so those few are named when all are chosen
  const everyone = chosen.all && chosen.ids.size === 0;
  const ids = chosen.all ? undefined : [...chosen.ids];
  const howMany = chosen.all ? (total ?? 0) : chosen.ids.size;
  const empty = () => {
    if (search && rule) return <NotInIt search={search} linkTo={linkTo} />;
    if (search) return <Nothing title="Nobody of that name">Nobody here matches “{search}”.</Nothing>;
    if (list)
      return (
        <Nothing title="Nobody is on this list yet">
          People come onto it with a file, from their profile, or when they are chosen in the table of everyone.
        </Nothing>
      );
    if (rule)
      return <Nothing title="Nobody fits this just now">A segment keeps itself current: whoever fits later is in it.</Nothing>;
    if (tag || cannot) return <Nothing title="Nobody">Nobody is here just now.</Nothing>;
    return (
      <Nothing
        title="Nobody yet"
        act={
          mayWrite && (
            <Row>
              <Button variant="contained" component={Link} to="/people/bring-in">
                Bring in people
              </Button>
              <Button onClick={() => setAdding(true)}>Add a person</Button>
            </Row>
          )
        }
      >
        Everyone you may text stands here. Bring in a spreadsheet, however damaged, or add somebody by hand.
      </Nothing>
    );
  };
  return (
    <Panes columns={open ? '214px minmax(0, 1fr) 380px' : '214px minmax(0, 1fr)'}>
      <SourceList sources={sources} params={params} go={go} />
      <Pane as="section" fill aria-label="People">
        <Row between pad="12px 18px 6px" gap={12}>
          <Words as="h1" cut>
            {title ?? '…'}
          </Words>
          <Row>
            <Row width={open ? 170 : 200}>
              <Field
                type="search"
                label="Find by name, number or reference"
                placeholder={open ? 'Name, number…' : 'Name, number, reference'}
                value={typed}
                onChange={setTyped}
              />
            </Row>
            {mayWrite && (list || (segment && segment !== 'new' && !changed)) && (
              <Button variant="contained" onClick={write}>
                {total === undefined ? 'Write to them' : `Write to ${count(total)}`}
              </Button>
            )}
            {!open && (
              <>
                {rule === undefined && <Button onClick={() => setEdited({ at: place, rule: EVERYONE })}>Filter</Button>}
                {mayWrite && <Button onClick={() => setAdding(true)}>Add a person</Button>}
                <Button aria-haspopup="menu" onClick={(event) => setExporting(event.currentTarget)}>
                  {total === undefined ? 'Export' : `Export ${count(total)}`}
                </Button>
                <ColumnsMenu columns={columns} layout={layout} />
              </>
            )}
          </Row>
        </Row>
        {!open && (
          <Row small pad="0 18px 4px" gap={12}>
            <Bit soft role="status">
              {counted === undefined
                ? 'counting…'
                : `${count(counted.people)}${cannot ? '' : `, ${count(counted.can)} can be texted`}`}
            </Bit>
            {mayWrite && list && (
              <>
                <Rename key={place} kind="list" id={list} name={title ?? ''} attempt={attempt} gone={() => go({})} />
                <ListRule
                  id={list}
                  rule={sources?.lists.find((each) => String(each.id) === list)?.leave_after ?? null}
                  attempt={attempt}
                />
              </>
            )}
            {mayWrite && tag && (
              <Rename key={place} kind="tag" id={tag} name={title ?? ''} attempt={attempt} gone={() => go({})} />
            )}
            {mayDo(account.role, 'send') && total !== undefined && total > 0 && <LookUp key={asked} filter={filter} />}
          </Row>
        )}
        {rule && (
          <Rule>
            <RuleEditor
              rule={rule}
              change={(next) => setEdited({ at: place, rule: next })}
              sources={sources}
              about="person"
              lead="Everyone for whom"
            />
            <SegmentBar
              key={place}
              segment={segment}
              kept={kept}
              rule={rule}
              changed={changed || segment === 'new'}
              counted={counted}
              attempt={attempt}
              leave={() => setEdited(undefined)}
              saved={(made) => {
                setEdited(undefined);
                go(made === undefined ? {} : { segment: String(made) });
              }}
            />
          </Rule>
        )}
        <Trouble error={error} />
        <Column grow pad="0 18px" gap={0}>
          <PeopleTable
            filter={filter}
            columns={beside}
            layout={layout}
            openId={id}
            empty={empty()}
            sorting={sorting}
            sort={setSorting}
            chosen={chosen}
            choose={setChosen}
            instead={
              mayWrite && (
                <BulkBar
                  ids={everyone ? undefined : (ids ?? [])}
                  n={howMany}
                  total={total ?? 0}
                  filter={filter}
                  sources={sources}
                  clear={() => setChosen(NOBODY)}
                  all={() => setChosen({ all: true, ids: new Set() })}
                />
              )
            }
            linkTo={linkTo}
          />
        </Column>
      </Pane>
      {open && (
        <PersonPanel
          key={id}
          id={Number(id)}
          sources={sources}
          rule={rule ? whole(rule) : undefined}
          close={() => void navigate(`/people?${inPlace}`)}
        />
      )}
      {adding && <PersonForm sources={sources} close={() => setAdding(false)} />}
      <Menu anchorEl={exporting} open={exporting !== undefined} onClose={() => setExporting(undefined)}>
        {EXPORTS.map(([endpoint, words, shown]) => (
          <MenuItem
            key={words}
            component="a"
            href={fileAt(endpoint, { query: { ...filter, name: title, ...(shown ? { columns: columnsShown } : {}) } })}
            download
            onClick={() => setExporting(undefined)}
          >
            <ListItemText>{words}</ListItemText>
          </MenuItem>
        ))}
      </Menu>
    </Panes>
  );
}

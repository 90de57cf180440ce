import { Button, Checkbox, FormControlLabel, Menu, MenuItem, Popover } from '@mui/material';
import { useState } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import { EVERYONE, type Group } from '../../core/audience/condition';
import { send, useGet } from '../api/client';
import { count } from '../pieces/format';
import { Trouble, useSettled, useTitle } from '../pieces/small';
import { mayDo } from '../../core/api/roles';
import { useDesk } from '../api/session';
import { BulkBar } from './BulkBar';
import { LookUp } from './LookUp';
import { chosenColumns, columnsOf, keepColumns } from './columns';
import { NotInIt } from './NotInIt';
import { PeopleTable } from './PeopleTable';
import { PersonForm } from './PersonForm';
import { PersonPanel } from './PersonPanel';
import { Rename } from './Rename';
import { RuleEditor } from './RuleEditor';
import { asGroup, SegmentBar, whole } from './SegmentBar';
import { SourceList } from './SourceList';
import type { Sources } from './sources';

export type { Sources } from './sources';

/** Sources left with their counts, one hairline table, a person beside it; a rule in sentences above the table. */
export default function People() {
  useTitle('People');
  const { account } = useDesk();
  const navigate = useNavigate();
  const { id } = useParams();
  const [params] = useSearchParams();
  const [typed, setTyped] = useState(params.get('search') ?? '');
  const [adding, setAdding] = useState(false);
  const [error, setError] = useState<unknown>();
  const [edited, setEdited] = useState<{ at: string; rule: Group }>();
  const [order, setOrder] = useState({ by: 'name', down: false });
  const [picked, setPicked] = useState<ReadonlySet<number> | 'all'>(new Set());
  const [menu, setMenu] = useState<{ kind: 'export' | 'columns'; anchor: HTMLElement }>();
  const search = useSettled(typed, 200);
  const sources = useGet<Sources>('/api/people/sources', { keep: true }).data;
  const [shownColumns, setShownColumns] = useState<string[]>();
  const [list, tag, segment, cannot] = ['list', 'tag', 'segment', 'cannot'].map((key) => params.get(key) ?? '');
  const place = `${list}|${tag}|${segment}|${cannot}`;
  const kept = sources?.segments.find((each) => String(each.id) === segment);
  // a rule that is being edited is only of the place where that began
  const rule: Group | undefined =
    edited?.at === place ? edited.rule : segment === 'new' ? EVERYONE : kept ? asGroup(kept.rule) : undefined;
  const changed = edited?.at === place && JSON.stringify(edited.rule) !== JSON.stringify(kept ? asGroup(kept.rule) : EVERYONE);
  const settledRule = useSettled(changed ? JSON.stringify(whole(rule ?? EVERYONE)) : '', 250);
  const asked: Record<string, string> = Object.fromEntries(
    Object.entries({
      search,
      list,
      tag,
      cannot,
      segment: settledRule !== '' || segment === 'new' ? '' : segment,
      rule: settledRule,
    }).filter(([, value]) => value !== ''),
  );
  const address = new URLSearchParams(asked).toString();
  const counted = useGet<{ people: number; can: number }>(`/api/people/count?${address}`, { keep: true }).data;
  const total = counted?.people ?? 0;
  const open = id !== undefined;
  const columns = columnsOf(sources?.fields ?? []);
  const shown = shownColumns ?? (sources ? chosenColumns(columns) : []);
  const place_ = new URLSearchParams(
    Object.entries({ list, tag, segment, cannot }).filter(([, value]) => value !== ''),
  ).toString();
  const go = (next: Record<string, string>) => {
    setPicked(new Set());
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
          : cannot
            ? 'Cannot be texted'
            : 'Everyone';
  const attempt = async (work: () => Promise<unknown>) => {
    setError(undefined);
    try {
      await work();
    } catch (refused) {
      setError(refused);
    }
  };
  const write = () =>
    attempt(async () => {
      const made = await send<{ id: number }>('POST', '/api/broadcasts', {
        name: '',
        ...(list ? { list_id: Number(list) } : segment ? { segment_id: Number(segment) } : {}),
      });
      await navigate(`/broadcasts/${made.id}`);
    });
  const named = list || tag ? { kind: list ? 'lists' : 'tags', id: list || tag } : undefined;
  return (
    <div className={`people ${open ? 'open' : ''}`}>
      <SourceList sources={sources} params={params} go={go} />
      <section className="pane" style={{ padding: 0, display: 'flex', flexDirection: 'column' }} aria-label="People">
        <div className="row between nowrap-wide" style={{ padding: '12px 18px 6px', gap: 12 }}>
          <h1 className="cut">{title}</h1>
          <div className="row">
            <input
              className="field"
              type="search"
              aria-label="Find by name, number or reference"
              placeholder="Name, number, reference"
              value={typed}
              onChange={(event) => setTyped(event.target.value)}
              style={{ width: open ? 170 : 190 }}
            />
            {(list || (segment && segment !== 'new' && !changed)) && (
              <Button variant="contained" onClick={() => void write()}>
                Write to {count(total)}
              </Button>
            )}
            {!open && (
              <>
                {rule === undefined && <Button onClick={() => setEdited({ at: place, rule: EVERYONE })}>Filter</Button>}
                <Button aria-haspopup="true" onClick={(event) => setMenu({ kind: 'columns', anchor: event.currentTarget })}>
                  Columns
                </Button>
                <Button onClick={() => setAdding(true)}>Add a person</Button>
                <Button aria-haspopup="menu" onClick={(event) => setMenu({ kind: 'export', anchor: event.currentTarget })}>
                  Export {count(total)}
                </Button>
              </>
            )}
          </div>
        </div>
        {!open && (
          <div className="row small" style={{ padding: '0 18px 4px', gap: 12 }}>
            {named && <Rename key={place} {...named} name={title ?? ''} attempt={attempt} gone={() => go({})} />}
            {mayDo(account.role, 'send') && total > 0 && <LookUp key={address} filter={asked} address={address} />}
          </div>
        )}
        {rule && (
          <div className="rule">
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
          </div>
        )}
        <Trouble error={error} />
        {picked === 'all' || picked.size > 0 ? (
          <BulkBar
            picked={picked}
            total={total}
            filter={asked}
            sources={sources}
            clear={() => setPicked(new Set())}
            all={() => setPicked('all')}
          />
        ) : null}
        <PeopleTable
          asked={address}
          columns={open ? [] : columns.filter((column) => shown.includes(column.id))}
          openId={id}
          empty={
            search && rule ? (
              <NotInIt search={search} linkTo={(one) => `/people/${one}?${place_}`} />
            ) : search ? (
              `Nobody here matches “${search}”.`
            ) : list ? (
              'Nobody is on this list yet.'
            ) : rule ? (
              'Nobody fits this just now.'
            ) : (
              'Nobody yet. Bring in a file, or add a person.'
            )
          }
          order={order}
          setOrder={setOrder}
          picked={picked}
          pick={(one, on) =>
            setPicked((before) => {
              const next = new Set(before === 'all' ? [] : before);
              if (on) next.add(one);
              else next.delete(one);
              return next;
            })
          }
          linkTo={(one) => `/people/${one}${place_ ? `?${place_}` : ''}`}
        />
      </section>
      {open && (
        <PersonPanel
          key={id}
          id={Number(id)}
          sources={sources}
          rule={rule ? whole(rule) : undefined}
          close={() => void navigate(`/people?${place_}`)}
        />
      )}
      {adding && <PersonForm sources={sources} close={() => setAdding(false)} />}
      <Menu anchorEl={menu?.anchor} open={menu?.kind === 'export'} onClose={() => setMenu(undefined)}>
        {(
          [
            ['csv', 'CSV'],
            ['xlsx', 'workbook (XLSX)'],
            ['vcf', 'vCard'],
          ] as const
        ).map(([ending, words]) => (
          <MenuItem
            key={ending}
            component="a"
            href={`/api/people/export.${ending}?${address}&name=${encodeURIComponent(title ?? '')}`}
            download
            onClick={() => setMenu(undefined)}
          >
            {words}
          </MenuItem>
        ))}
      </Menu>
      <Popover
        anchorEl={menu?.anchor}
        open={menu?.kind === 'columns'}
        onClose={() => setMenu(undefined)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      >
        <div className="stack" style={{ padding: '8px 14px', gap: 0 }}>
          {columns.map((column) => (
            <FormControlLabel
              key={column.id}
              label={column.label}
              control={
                <Checkbox
                  size="small"
                  checked={shown.includes(column.id)}
                  onChange={(_, on) => {
                    const next = on ? [...shown, column.id] : shown.filter((each) => each !== column.id);
                    keepColumns(next);
                    setShownColumns(next);
                  }}
                />
              }
            />
          ))}
        </div>
      </Popover>
    </div>
  );
}

import { Button, ListSubheader, Menu, MenuItem } from '@mui/material';
import { useState } from 'react';
import { Link } from 'react-router';
import type { PlanSummary } from '../../core/api/plan';
import type { Draft, Source } from '../../core/plan/draft';
import type { Sources } from '../people/sources';
import { useGet } from '../api/client';
import { count, people } from '../pieces/format';
import { sourceWords, untickedCount } from './audience-words';
import { Ledger } from './Ledger';
import { PasteNumbers } from './PasteNumbers';

/** Who: sources, minus those to leave out, and the reach ledger from chosen to will-get-it; each step opens its people. */
export function Audience({
  id,
  draft,
  plan,
  sources,
  change,
}: {
  id: number;
  draft: Draft;
  plan: PlanSummary | undefined;
  sources: Sources | undefined;
  change: (part: Partial<Draft>) => void;
}) {
  const [menu, setMenu] = useState<{ anchor: HTMLElement; to: 'to' | 'leave_out' }>();
  const [pasting, setPasting] = useState<'to' | 'leave_out'>();
  const counted = useGet<{ segments: { id: number; people: number }[] }>('/api/segments', { keep: true }).data?.segments;
  const add = (source: Source) => {
    if (menu) change({ [menu.to]: [...draft[menu.to], source] });
    setMenu(undefined);
  };
  const row = (source: Source, at: number, side: 'to' | 'leave_out') => {
    const { kind, name, people: n } = sourceWords(source, sources);
    const shown = source.kind === 'segment' ? counted?.find((each) => each.id === source.id)?.people : n;
    const named =
      source.kind === 'list' || source.kind === 'tag' || source.kind === 'segment' ? (
        <Link to={`/people?${source.kind}=${source.id}`} className="plain-link">
          {name}
        </Link>
      ) : source.kind === 'file' ? (
        <Link to={`/people/bring-in/${source.id}`}>{name}</Link>
      ) : source.kind === 'person' ? (
        <Link to={`/people/${source.id}`}>{name}</Link>
      ) : (
        name
      );
    return (
      <li key={`${side}${at}`} className="row nowrap line-b" style={{ padding: '6px 0', alignItems: 'baseline' }}>
        <span className={`small ${side === 'leave_out' ? 'brick' : 'soft'}`} style={{ width: 56, flex: 'none' }}>
          {side === 'leave_out' ? 'leave out' : kind}
        </span>
        <span className="grow">{named}</span>
        <span>{shown === undefined ? '' : count(shown)}</span>
        <button
          type="button"
          className="way small"
          aria-label={`Take ${name} away`}
          onClick={() => change({ [side]: draft[side].filter((_, i) => i !== at) })}
        >
          ×
        </button>
      </li>
    );
  };
  const items = (
    title: string,
    all: readonly { id: number; name: string; people?: number }[],
    kind: 'list' | 'tag' | 'segment',
  ) =>
    all.length === 0
      ? []
      : [
          <ListSubheader key={title}>{title}</ListSubheader>,
          ...all.map((each) => (
            <MenuItem key={`${kind}${each.id}`} onClick={() => add({ kind, id: each.id })}>
              {each.name}
              {each.people === undefined ? '' : `, ${count(each.people)}`}
            </MenuItem>
          )),
        ];
  const segments = (sources?.segments ?? []).map((each) => ({
    ...each,
    people: counted?.find((one) => one.id === each.id)?.people,
  }));
  const cannot = plan ? plan.dropped.no_number + plan.dropped.opted_out + plan.dropped.fixed_line + plan.dropped.unreachable : 0;
  return (
    <>
      <h2 style={{ marginBottom: 4 }}>To</h2>
      <ul>
        {draft.to.map((source, at) => row(source, at, 'to'))}
        {draft.leave_out.map((source, at) => row(source, at, 'leave_out'))}
      </ul>
      <div className="row" style={{ padding: '8px 0 12px', gap: 6 }}>
        <Button aria-haspopup="menu" onClick={(event) => setMenu({ anchor: event.currentTarget, to: 'to' })}>
          Add
        </Button>
        <Button aria-haspopup="menu" onClick={(event) => setMenu({ anchor: event.currentTarget, to: 'leave_out' })}>
          Leave out
        </Button>
      </div>
      <Menu
        anchorEl={menu?.anchor}
        open={menu !== undefined}
        onClose={() => setMenu(undefined)}
        slotProps={{ paper: { style: { maxHeight: 460 } } }}
      >
        {[
          menu?.to === 'to' ? (
            <MenuItem key="everyone" onClick={() => add({ kind: 'everyone' })}>
              Everyone, {count(sources?.everyone ?? 0)}
            </MenuItem>
          ) : (
            <MenuItem key="unreachable" onClick={() => add({ kind: 'unreachable' })}>
              Numbers that did not exist before
            </MenuItem>
          ),
          ...items('Segments', segments, 'segment'),
          ...items('Lists', sources?.lists ?? [], 'list'),
          ...items('Tags', sources?.tags ?? [], 'tag'),
          <MenuItem
            key="numbers"
            onClick={() => {
              setPasting(menu?.to);
              setMenu(undefined);
            }}
          >
            Typed or pasted numbers…
          </MenuItem>,
        ]}
      </Menu>
      <h3 style={{ marginBottom: 4 }}>Reach</h3>
      {plan && <Ledger plan={plan} stepTo={(step) => `/broadcasts/${id}/reach?step=${step}`} />}
      {plan && (
        <div className="small stack" style={{ gap: 5, paddingTop: 8 }}>
          {plan.can_step_in + plan.stepped_in > 0 && (
            <label className="plain">
              <input
                type="checkbox"
                checked={draft.second_contacts ?? false}
                onChange={(event) => change({ second_contacts: event.target.checked })}
              />
              <span>{people(plan.can_step_in)} can step in as second contact for those who cannot be texted</span>
            </label>
          )}
          <span className="soft">
            Recipients never see one another.
            {cannot > 0 ? (
              <>
                {' '}
                {count(cannot)} cannot be texted: <Link to={`/broadcasts/${id}/reach?step=call_list`}>call list</Link>.
              </>
            ) : (
              ''
            )}
          </span>
          {untickedCount(draft) > 0 && (
            <button type="button" className="way small" onClick={() => change({ unticked: [], unticked_numbers: [] })}>
              tick all {count(untickedCount(draft))} again
            </button>
          )}
        </div>
      )}
      {pasting && (
        <PasteNumbers
          close={() => setPasting(undefined)}
          add={(numbers) => {
            change({ [pasting]: [...draft[pasting], { kind: 'numbers', numbers }] });
            setPasting(undefined);
          }}
          leaving={pasting === 'leave_out'}
        />
      )}
    </>
  );
}

import { Button, Dialog, DialogContent, DialogTitle, Menu, MenuItem } from '@mui/material';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import type { PlanSummary } from '../../core/api/plan';
import type { Draft, Source } from '../../core/plan/draft';
import { DROP_WORDS } from '../../core/plan/reach';
import { send } from '../api/client';
import type { Sources } from '../people/People';
import { count } from '../pieces/format';
import { showPhone } from '../pieces/phone';
import { Trouble } from '../pieces/small';

const ORDER = ['left_out', 'unticked', 'no_number', 'fixed_line', 'opted_out', 'no_consent', 'same_number', 'too_late'] as const;
const WORDS = { ...DROP_WORDS, too_late: 'no allowed hour in time' };

function nameOfSource(source: Source, sources: Sources | undefined): { kind: string; name: string; people: number | undefined } {
  if (source.kind === 'everyone') return { kind: 'all', name: 'Everyone', people: sources?.everyone };
  if (source.kind === 'person') return { kind: 'person', name: `Person ${source.id}`, people: 1 };
  const found =
    source.kind === 'list'
      ? sources?.lists.find((each) => each.id === source.id)
      : sources?.tags.find((each) => each.id === source.id);
  return { kind: source.kind, name: found?.name ?? '…', people: found?.people };
}

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
  const [step, setStep] = useState<string>();
  const add = (source: Source) => {
    if (menu) change({ [menu.to]: [...draft[menu.to], source] });
    setMenu(undefined);
  };
  const row = (source: Source, at: number, side: 'to' | 'leave_out') => {
    const { kind, name, people } = nameOfSource(source, sources);
    return (
      <li key={`${side}${at}`} className="row nowrap line-b" style={{ padding: '6px 0', alignItems: 'baseline' }}>
        <span className={`small ${side === 'leave_out' ? 'brick' : 'soft'}`} style={{ width: 54, flex: 'none' }}>
          {side === 'leave_out' ? 'leave out' : kind}
        </span>
        <span className="grow">{name}</span>
        <span>{people === undefined ? '' : count(people)}</span>
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
  const share = (n: number) => `${plan && plan.chosen > 0 ? Math.max(1, (100 * n) / plan.chosen) : 0}%`;
  return (
    <>
      <h2 style={{ marginBottom: 4 }}>To</h2>
      <ul>
        {draft.to.map((source, at) => row(source, at, 'to'))}
        {draft.leave_out.map((source, at) => row(source, at, 'leave_out'))}
      </ul>
      <div className="row" style={{ padding: '8px 0 16px' }}>
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
        slotProps={{ paper: { style: { maxHeight: 420 } } }}
      >
        {menu?.to === 'to' && (
          <MenuItem onClick={() => add({ kind: 'everyone' })}>Everyone, {count(sources?.everyone ?? 0)}</MenuItem>
        )}
        {(sources?.lists ?? []).map((list) => (
          <MenuItem key={`l${list.id}`} onClick={() => add({ kind: 'list', id: list.id })}>
            {list.name}, {count(list.people)}
          </MenuItem>
        ))}
        {(sources?.tags ?? []).map((tag) => (
          <MenuItem key={`t${tag.id}`} onClick={() => add({ kind: 'tag', id: tag.id })}>
            tag {tag.name}, {count(tag.people)}
          </MenuItem>
        ))}
      </Menu>
      <h3 style={{ marginBottom: 4 }}>Reach</h3>
      {plan && (
        <div aria-live="polite">
          <div className="step">
            <span>Chosen</span>
            <span>{count(plan.chosen)}</span>
          </div>
          <div className="bar" style={{ width: '100%' }} />
          {plan.named_twice > 0 && (
            <div className="step soft">
              <span>named twice, counted once</span>
              <span>{count(plan.named_twice)}</span>
            </div>
          )}
          {ORDER.filter((reason) => plan.dropped[reason] > 0).map((reason) => (
            <div className="step" key={reason}>
              <span className="soft">{WORDS[reason]}</span>
              <button type="button" className="way" onClick={() => setStep(reason)}>
                {count(plan.dropped[reason])}
              </button>
            </div>
          ))}
          <div className="step strong">
            <span>Will get it</span>
            <button type="button" className="way strong" onClick={() => setStep('will_get')}>
              {count(plan.people)}
            </button>
          </div>
          <div className="bar go-bar" style={{ width: share(plan.people) }} />
          <p className="soft small" style={{ paddingTop: 8 }}>
            Recipients never see one another.
          </p>
          {draft.unticked.length > 0 && (
            <button type="button" className="way small" onClick={() => change({ unticked: [] })}>
              tick all {count(draft.unticked.length)} again
            </button>
          )}
        </div>
      )}
      {step && (
        <StepPeople
          id={id}
          draft={draft}
          step={step}
          close={() => setStep(undefined)}
          untick={(person) => change({ unticked: [...draft.unticked, person] })}
        />
      )}
    </>
  );
}

function StepPeople({
  id,
  draft,
  step,
  close,
  untick,
}: {
  id: number;
  draft: Draft;
  step: string;
  close: () => void;
  untick: (id: number) => void;
}) {
  const [page, setPage] = useState<{ total: number; people: { id: number; name: string; number: string | null }[] }>();
  const [skip, setSkip] = useState(0);
  const [error, setError] = useState<unknown>();
  useEffect(() => {
    let current = true;
    send<NonNullable<typeof page>>('POST', `/api/broadcasts/${id}/people`, { draft, step, skip })
      .then((answer) => current && setPage(answer))
      .catch((refused: unknown) => current && setError(refused));
    return () => {
      current = false;
    };
  }, [id, draft, step, skip]);
  const title = step === 'will_get' ? 'Will get it' : WORDS[step as (typeof ORDER)[number]];
  return (
    <Dialog open onClose={close} fullWidth maxWidth="sm">
      <DialogTitle>
        {title}
        {page ? `, ${count(page.total)}` : ''}
      </DialogTitle>
      <DialogContent>
        <Trouble error={error} />
        <table>
          <tbody>
            {(page?.people ?? []).map((person) => (
              <tr key={person.id}>
                <td>
                  <Link to={`/people/${person.id}`}>{person.name || 'no name'}</Link>
                </td>
                <td>{showPhone(person.number)}</td>
                <td className="num">
                  {step === 'will_get' && (
                    <button type="button" className="way small" onClick={() => untick(person.id)}>
                      untick for this one
                    </button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <div className="row" style={{ paddingTop: 10 }}>
          {skip > 0 && <Button onClick={() => setSkip(Math.max(0, skip - 200))}>Before</Button>}
          {page && page.total > skip + 200 && <Button onClick={() => setSkip(skip + 200)}>Next 200</Button>}
          <Button onClick={close}>Close</Button>
        </div>
      </DialogContent>
    </Dialog>
  );
}

import { Button } from '@mui/material';
import { styled } from '@mui/material/styles';
import { useState } from 'react';
import { segments } from '../../../core/api/people/groups';
import type { PlanSummary } from '../../../core/api/sending/plan';
import type { Draft, Source } from '../../../core/plan/draft/draft';
import { cannotBeTexted } from '../../../core/plan/reach/reach';
import { useGet } from '../../api/client';
import type { Sources } from '../../people/for-others';
import { Tick } from '../../pieces/form/choices';
import { count, people } from '../../pieces/format';
import { Bit, Column, Row, Words } from '../../pieces/layout';
import { Way } from '../../pieces/ways';
import { AboutLine } from './AboutLine';
import { AudiencePicker } from './AudiencePicker';
import { untickedCount } from './audience-words';
import { Counting } from '../sheet/Counting';
import { Ledger } from './Ledger';
import { PasteNumbers } from './PasteNumbers';
import { SourceLine } from './SourceLine';

type Side = 'to' | 'leave_out';

/** On a phone the words stand beneath the ledger: it has its place before it is there, so that they are not pushed from under a press. */
const Awaited = styled('div')(({ theme }) => ({ [theme.breakpoints.down('md')]: { minHeight: 420 } }));

/** Who: sources, minus those to leave out, and the reach ledger from chosen to will-get-it; each step opens its people. */
export function Audience({
  id,
  draft,
  plan,
  uncounted,
  sources,
  change,
}: {
  id: number;
  draft: Draft;
  plan: PlanSummary | undefined;
  /** Why there is no plan. */
  uncounted: unknown;
  sources: Sources | undefined;
  change: (part: Partial<Draft>) => void;
}) {
  const [picking, setPicking] = useState<{ anchor: HTMLElement; side: Side }>();
  const [pasting, setPasting] = useState<Side>();
  const counted = useGet(segments.list, {}, { keep: true }).data?.segments;
  const cannot = plan ? cannotBeTexted(plan.dropped) : 0;
  const line = (source: Source, at: number, side: Side) => (
    <SourceLine
      key={`${side}${at}`}
      source={source}
      sources={sources}
      leaving={side === 'leave_out'}
      people={source.kind === 'segment' ? counted?.find((each) => each.id === source.id)?.people : undefined}
      remove={() => change({ [side]: draft[side].filter((_, i) => i !== at) })}
    />
  );
  return (
    <>
      <Words as="h2" below={4}>
        To
      </Words>
      <ul>
        {draft.to.map((source, at) => line(source, at, 'to'))}
        {draft.leave_out.map((source, at) => line(source, at, 'leave_out'))}
        <AboutLine id={id} draft={draft} change={change} />
      </ul>
      {draft.to.length === 0 && (
        <Words soft small>
          Nobody yet. A list, a segment, a tag, single people, or numbers.
        </Words>
      )}
      <Row pad="8px 0 12px" gap={6}>
        <Button aria-haspopup="dialog" onClick={(event) => setPicking({ anchor: event.currentTarget, side: 'to' })}>
          Add
        </Button>
        <Button aria-haspopup="dialog" onClick={(event) => setPicking({ anchor: event.currentTarget, side: 'leave_out' })}>
          Leave out
        </Button>
      </Row>
      {picking && (
        <AudiencePicker
          anchor={picking.anchor}
          side={picking.side}
          chosen={draft[picking.side]}
          sources={sources}
          counted={counted}
          change={(chosen) => change({ [picking.side]: chosen })}
          paste={() => {
            setPasting(picking.side);
            setPicking(undefined);
          }}
          fileAt={picking.side === 'to' ? `/people/bring-in?for=${id}` : undefined}
          close={() => setPicking(undefined)}
        />
      )}
      <Words as="h3" below={4}>
        Reach
      </Words>
      {!plan && <Uncounted error={uncounted} />}
      {plan && <Ledger plan={plan} stepTo={(step) => `/broadcasts/${id}/reach?step=${step}`} />}
      {plan && (
        <Column small gap={5} above={8}>
          {plan.can_step_in + plan.stepped_in > 0 && (
            <Tick checked={draft.second_contacts ?? false} onChange={(second_contacts) => change({ second_contacts })}>
              {people(plan.can_step_in)} can step in as second contact for those who cannot be texted
            </Tick>
          )}
          {draft.barred && (
            <Tick checked={draft.barred === 'leave_out'} onChange={(out) => change({ barred: out ? 'leave_out' : 'get_it' })}>
              It is about dependants: leave out who must not hear about one of theirs
            </Tick>
          )}
          <Bit soft>
            Recipients never see one another.
            {cannot > 0 ? (
              <>
                {' '}
                {count(cannot)} cannot be texted: <Way to={`/broadcasts/${id}/reach?step=call_list`}>call list</Way>.
              </>
            ) : (
              ''
            )}
          </Bit>
          {untickedCount(draft) > 0 && (
            <Way small onClick={() => change({ unticked: [], unticked_numbers: [] })}>
              tick all {count(untickedCount(draft))} again
            </Way>
          )}
        </Column>
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

/** While it is counted, or why it could not be. */
function Uncounted({ error }: { error: unknown }) {
  return (
    <Awaited>
      <Counting error={error} />
    </Awaited>
  );
}

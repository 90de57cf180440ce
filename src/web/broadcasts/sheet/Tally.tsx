import { Button, Drawer } from '@mui/material';
import { styled } from '@mui/material/styles';
import { useState } from 'react';
import type { PlanSummary } from '../../../core/api/sending/plan';
import type { Draft } from '../../../core/plan/draft/draft';
import { useDesk } from '../../api/session';
import { count, money, when } from '../../pieces/format';
import { Bit, Column, Fact, Row, Words } from '../../pieces/layout';
import { Trouble, useNow } from '../../pieces/small';
import { Way } from '../../pieces/ways';
import { THUMB } from '../../theme/touch';
import { beginsAtOnce } from '../when/at-once';
import { Remarks, remarksInShort } from './Remarks';
import { Stale, TallyFacts, TallyPane } from './sheet-layout';

/** On a phone: where the remarks will stand, while it is counted whether there are any; nothing above it moves when they come. */
const Awaited = styled('div')(({ theme }) => ({
  display: 'none',
  [theme.breakpoints.down('md')]: { display: 'block', height: THUMB },
}));

/** What it comes to, over the real audience; what must be fixed; and the way to the last look. */
export function Tally({
  id,
  seeProofs,
  draft,
  plan,
  planning,
  hasSenders,
  trouble,
  uncounted,
  change,
  look,
}: {
  id: number;
  /** Steps through the proofs of these: `to_+44`. */
  seeProofs: (which: string) => void;
  draft: Draft;
  plan: PlanSummary | undefined;
  planning: boolean;
  hasSenders: boolean;
  trouble: unknown;
  /** The plan could not be made. */
  uncounted: boolean;
  change: (part: Partial<Draft>) => void;
  look: () => void;
}) {
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 20_000);
  // while it is counted, nobody knows yet whether it is ready: the last look counts for itself, and says what is to be fixed
  const ready = planning || plan === undefined || plan.must_fix.length === 0;
  const goes = (at: string | null) => (at ? when(at, workspace.zone, now) : '–');
  const first = !plan ? '…' : beginsAtOnce(draft, plan, now) ? 'now' : goes(plan.first);
  const last = plan ? goes(plan.last) : '…';
  const [opened, setOpened] = useState(false);
  const remarks = <Remarks id={id} draft={draft} plan={plan} hasSenders={hasSenders} change={change} />;
  const said = plan ? remarksInShort(plan, draft) : '';
  return (
    <TallyPane aria-label="Tally">
      <Figures planning={planning} plan={plan} uncounted={uncounted} first={first} last={last} />
      {plan && plan.destinations.length > 1 && <Destinations plan={plan} seeProofs={seeProofs} />}
      <Column wideOnly small above={10} gap={6} grow scrolls aria-live="polite">
        {remarks}
      </Column>
      {said !== '' && (
        <Words smallOnly small>
          <Way aria-expanded={opened} onClick={() => setOpened(true)}>
            {said}
          </Way>
        </Words>
      )}
      {!plan && !uncounted && <Awaited aria-hidden />}
      <Drawer anchor="bottom" open={opened} onClose={() => setOpened(false)} slotProps={{ paper: { 'aria-label': 'Remarks' } }}>
        <Column small gap={8} pad={16}>
          {remarks}
          <Row>
            <Button onClick={() => setOpened(false)}>Close</Button>
          </Row>
        </Column>
      </Drawer>
      <Column above={10} gap={8}>
        <Trouble error={trouble} />
        {/* never taken away while it is counted anew: a press would be swallowed, and the last look counts for itself */}
        <Button variant="go" disabled={!ready} onClick={look}>
          Last look
        </Button>
        <Words as="p" soft small wideOnly centered>
          nothing goes before you say so there
        </Words>
      </Column>
    </TallyPane>
  );
}

/** How many, how much, from when until when. */
function Figures({
  planning,
  plan,
  uncounted,
  first,
  last,
}: {
  planning: boolean;
  plan: PlanSummary | undefined;
  uncounted: boolean;
  first: string;
  last: string;
}) {
  return (
    <TallyFacts aria-live="polite" aria-busy={planning}>
      <div>
        <Words fig figure="big" data-hero>
          <Stale stale={planning}>{plan ? count(plan.people) : '…'}</Stale>
        </Words>
        <Words soft pad="2px 0 12px">
          {!plan
            ? uncounted
              ? 'not counted'
              : 'counting who will get it'
            : plan.people === 1
              ? 'person will get it'
              : 'people will get it'}
          {plan && planning ? ', counting anew' : ''}
        </Words>
      </div>
      <Fact>
        <Bit wideOnly>text parts</Bit>
        <Bit fig figure="line">
          <Stale stale={planning}>{plan ? count(plan.parts) : '…'}</Stale>
          <Bit smallOnly soft small>
            {' '}
            parts
          </Bit>
        </Bit>
      </Fact>
      <Fact>
        <Bit wideOnly>cost</Bit>
        <Bit fig figure="line">
          <Stale stale={planning}>{plan ? money(plan.cost_micro, plan.currency) : '…'}</Stale>
        </Bit>
      </Fact>
      <Fact wideOnly>
        <span>first</span>
        <Bit fig figure={first.length > 9 ? undefined : 'line'}>
          {first}
        </Bit>
      </Fact>
      <Fact wideOnly under>
        <span>last</span>
        <Bit fig figure={last.length > 9 ? undefined : 'line'}>
          {last}
        </Bit>
      </Fact>
    </TallyFacts>
  );
}

/** What the dearest countries cost; each a way to their texts. */
function Destinations({ plan, seeProofs }: { plan: PlanSummary; seeProofs: (which: string) => void }) {
  return (
    <Column wideOnly small above={8} gap={2}>
      {plan.destinations.slice(0, 3).map((each) => (
        <Row key={each.prefix} nowrap between base gap={6}>
          <Bit soft cut>
            {each.name}
          </Bit>
          <Way
            nobreak
            aria-label={`${money(each.cost_micro, plan.currency)} to ${each.name}: see those ${count(each.people)} texts`}
            onClick={() => seeProofs(`to_${each.prefix}`)}
          >
            {money(each.cost_micro, plan.currency)}
          </Way>
        </Row>
      ))}
      {plan.destinations.length > 3 && <Bit soft>and {plan.destinations.length - 3} more destinations</Bit>}
    </Column>
  );
}

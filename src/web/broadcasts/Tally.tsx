import { Button } from '@mui/material';
import type { PlanSummary, Remark } from '../../core/api/plan';
import { fixFor } from '../../core/plan/fixes';
import type { Draft } from '../../core/plan/draft';
import { useDesk } from '../api/session';
import { count, money, when } from '../pieces/format';
import { Bit, Column, Fact, Row, Words } from '../pieces/layout';
import { Trouble, useNow } from '../pieces/small';
import { Way } from '../pieces/ways';
import { wayTo } from '../setup/parts';
import { linkRemarks, useLinkCheck } from './link-check';
import { Stale, TallyFacts, TallyPane } from './sheet-layout';

/** Checks that are put right elsewhere, and where. */
const ELSEWHERE: Record<string, string> = { balance: 'balance', price: 'prices', no_price: 'prices', no_sender: 'senders' };

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
  const linkStates = useLinkCheck(draft);
  const now = useNow(offset, 20_000);
  const aside = new Set(draft.dismissed ?? []);
  const hints = plan?.hints.filter((each) => !aside.has(each.check)) ?? [];
  const put = (plan?.hints.length ?? 0) - hints.length;
  const ready = plan !== undefined && plan.must_fix.length === 0;
  const goes = (at: string | null) => (at ? when(at, workspace.zone, now) : '–');
  const first = plan && draft.when.kind === 'now' && plan.first ? 'now' : plan ? goes(plan.first) : '…';
  const last = plan ? goes(plan.last) : '…';
  const wayOf = (check: string, place: string) => ELSEWHERE[check] ?? (place === 'from' && !hasSenders ? 'senders' : undefined);
  return (
    <TallyPane aria-label="Tally">
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
      {plan && plan.destinations.length > 1 && (
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
      )}
      <Column wideOnly small above={10} gap={6} grow scrolls aria-live="polite">
        <Words strong>
          {!plan
            ? ''
            : plan.must_fix.length === 0
              ? `Nothing to fix${hints.length > 0 ? `. ${hints.length === 1 ? 'One hint' : `${hints.length} hints`}:` : '.'}`
              : `To fix: ${plan.must_fix.length}`}
        </Words>
        {plan?.must_fix.map((each) => {
          const part = wayOf(each.check, each.place);
          const fix = fixFor(each, draft, plan);
          return (
            <Words brick key={each.message}>
              {each.message} {each.step && <Way to={`/broadcasts/${id}/reach?step=${each.step}`}>see them</Way>}
              {part && (
                <>
                  {' '}
                  <Way to={wayTo(part)}>put it right</Way>
                </>
              )}
              {fix && (
                <>
                  {' '}
                  <Way onClick={() => change(fix.part)}>{fix.says}</Way>
                </>
              )}
            </Words>
          );
        })}
        {linkRemarks(draft, linkStates).map((each) => (
          <Words brick={each.sure} plum={!each.sure} key={each.says}>
            {each.says}
          </Words>
        ))}
        {hints.map((each) => (
          <Row key={each.message} nowrap starts between gap={4}>
            <span>
              {each.message} {each.step && <Way to={`/broadcasts/${id}/reach?step=${each.step}`}>see them</Way>}{' '}
              <HintFix hint={each} draft={draft} plan={plan} change={change} />
            </span>
            <Way
              small
              aria-label={`Put aside: ${each.message}`}
              title="Put this hint aside for this broadcast"
              onClick={() => change({ dismissed: [...aside, each.check] })}
            >
              ×
            </Way>
          </Row>
        ))}
        {put > 0 && (
          <Way small onClick={() => change({ dismissed: undefined })}>
            {put === 1 ? 'one hint put aside, show it' : `${put} hints put aside, show them`}
          </Way>
        )}
      </Column>
      <Column above={10} gap={8}>
        <Trouble error={trouble} />
        <Button variant="go" disabled={!ready || planning} onClick={look}>
          Last look
        </Button>
        <Words as="p" soft small wideOnly centered>
          nothing goes before you say so there
        </Words>
      </Column>
    </TallyPane>
  );
}

function HintFix({
  hint,
  draft,
  plan,
  change,
}: {
  hint: Remark;
  draft: Draft;
  plan: PlanSummary | undefined;
  change: (part: Partial<Draft>) => void;
}) {
  const fix = plan && fixFor(hint, draft, plan);
  return fix ? <Way onClick={() => change(fix.part)}>{fix.says}</Way> : null;
}

import { useState } from 'react';
import type { PlanSummary, Remark } from '../../../core/api/sending/plan';
import { fixFor } from '../../../core/plan/ready/fixes';
import type { Draft } from '../../../core/plan/draft/draft';
import { Row, Words } from '../../pieces/layout';
import { AboutPicker } from '../audience/AboutPicker';
import { under, type At } from '../../pieces/SmallWindow';
import { Way } from '../../pieces/ways';
import { wayTo } from '../../setup/for-others';
import { linkRemarks, useLinkCheck } from '../words/link-check';

/** Checks that are put right elsewhere, and where. */
const ELSEWHERE: Record<string, string> = { balance: 'balance', price: 'prices', no_price: 'prices', no_sender: 'senders' };

/** What is said, with its act, where the words are written: not once more here. */
const BY_THE_WORDS = 'extended characters';

const hintsOf = (plan: PlanSummary | undefined, draft: Draft) =>
  plan?.hints.filter(({ check }) => check !== BY_THE_WORDS && !(draft.dismissed ?? []).includes(check)) ?? [];

/** What must be fixed and what is worth saying, as two figures; empty where there is nothing. */
export function remarksInShort(plan: PlanSummary, draft: Draft): string {
  const hints = hintsOf(plan, draft).length;
  const fix = plan.must_fix.length;
  return [...(fix > 0 ? [`to fix: ${fix}`] : []), ...(hints > 0 ? [hints === 1 ? 'one hint' : `${hints} hints`] : [])].join(', ');
}

/** What must be fixed and what is worth saying, each with its place, its people and its fix. */
export function Remarks({
  id,
  draft,
  plan,
  hasSenders,
  change,
}: {
  id: number;
  draft: Draft;
  plan: PlanSummary | undefined;
  hasSenders: boolean;
  change: (part: Partial<Draft>) => void;
}) {
  const [naming, setNaming] = useState<At>();
  const linkStates = useLinkCheck(draft);
  const hints = hintsOf(plan, draft);
  const aside = draft.dismissed ?? [];
  const put = (plan?.hints.filter(({ check }) => check !== BY_THE_WORDS).length ?? 0) - hints.length;
  const wayOf = (check: string, place: string) => ELSEWHERE[check] ?? (place === 'from' && !hasSenders ? 'senders' : undefined);
  return (
    <>
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
            {fix?.or && (
              <>
                {' '}
                <Way onClick={() => change(fix.or?.part ?? {})}>{fix.or.says}</Way>
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
            <HintFix hint={each} draft={draft} plan={plan} change={change} nameSome={setNaming} />
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
      {/* here, since its hint goes with the first choice */}
      {naming && <AboutPicker id={id} draft={draft} at={naming} change={change} close={() => setNaming(undefined)} />}
      {put > 0 && (
        <Way small onClick={() => change({ dismissed: undefined })}>
          {put === 1 ? 'one hint put aside, show it' : `${put} hints put aside, show them`}
        </Way>
      )}
    </>
  );
}

function HintFix({
  hint,
  draft,
  plan,
  change,
  nameSome,
}: {
  hint: Remark;
  draft: Draft;
  plan: PlanSummary | undefined;
  change: (part: Partial<Draft>) => void;
  nameSome: (at: At) => void;
}) {
  const fix = plan && fixFor(hint, draft, plan);
  if (hint.check === 'dependants named')
    return <Way onClick={(event) => nameSome(under(event.currentTarget))}>name only some</Way>;
  return fix ? <Way onClick={() => change(fix.part)}>{fix.says}</Way> : null;
}

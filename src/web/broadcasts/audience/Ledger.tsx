import { Box } from '@mui/material';
import { styled } from '@mui/material/styles';
import type { PlanSummary } from '../../../core/api/sending/plan';
import { count } from '../../pieces/format';
import { Way } from '../../pieces/ways';
import { Bit } from '../../pieces/layout';
import { LEFT_OUT_STEPS, LEFT_OUT_WORDS } from '../../../core/plan/reach/reach';

const Step = styled(Box, { shouldForwardProp: (name) => name !== 'here' && name !== 'strong' })<{
  here?: boolean;
  strong?: boolean;
}>(({ theme, here, strong }) => ({
  display: 'flex',
  justifyContent: 'space-between',
  padding: '2px 0',
  fontWeight: here || strong ? 650 : undefined,
  background: here ? theme.bell.card : undefined,
}));
const Bar = styled(Box)(({ theme }) => ({ height: 7, background: theme.bell.ink, margin: '1px 0 4px' }));
const GoBar = styled(Bar)(({ theme }) => ({
  height: 11,
  background: theme.bell.yellow,
  border: `1px solid ${theme.bell.yellowEdge}`,
}));
const StepBar = styled(Box)({ display: 'flex', height: 5, margin: '1px 0 5px' });
const Left = styled('span')(({ theme }) => ({ background: theme.bell.ink }));
const Gone = styled('span')(({ theme }) => ({
  minWidth: 1,
  background: `repeating-linear-gradient(90deg, ${theme.bell.soft} 0 2px, transparent 2px 4px)`,
}));

/**
 * The stepped bar from chosen to will-get-it: each step a count, a reason, and its people. `stepped` draws what is left
 * after every step.
 */
export function Ledger({
  plan,
  stepTo,
  on,
  stepped = false,
}: {
  plan: PlanSummary;
  stepTo: (step: string) => string;
  on?: string;
  stepped?: boolean;
}) {
  let left = plan.chosen;
  const share = (n: number) => `${plan.chosen > 0 ? Math.max(1, (100 * n) / plan.chosen) : 0}%`;
  const line = (step: string, words: string, n: number, strong = false) => (
    <Step strong={strong} here={on === step} key={step}>
      <Bit soft={!strong}>{words}</Bit>
      <Way
        to={stepTo(step)}
        strong={strong}
        aria-label={`${words}: ${count(n)}, see them`}
        aria-current={on === step ? 'true' : undefined}
      >
        {count(n)}
      </Way>
    </Step>
  );
  return (
    <div aria-live="polite">
      {line('chosen', 'Chosen', plan.chosen, true)}
      {plan.chosen > 0 && <Bar />}
      {plan.named_twice > 0 && line('named_twice', 'named twice, counted once', plan.named_twice)}
      {LEFT_OUT_STEPS.filter((reason) => plan.dropped[reason] > 0).map((reason) => {
        const before = left;
        left -= plan.dropped[reason];
        return (
          <div key={reason}>
            {line(reason, LEFT_OUT_WORDS[reason], plan.dropped[reason])}
            {stepped && (
              <StepBar aria-hidden>
                <Left style={{ width: share(left) }} />
                <Gone style={{ width: `${(100 * (before - left)) / Math.max(1, plan.chosen)}%` }} />
              </StepBar>
            )}
          </div>
        );
      })}
      {plan.stepped_in > 0 && (
        <Step>
          <Bit soft>stepped in as second contact</Bit>
          <span>{count(plan.stepped_in)}</span>
        </Step>
      )}
      {line('will_get', 'Will get it', plan.people, true)}
      {plan.people > 0 && <GoBar style={{ width: share(plan.people) }} />}
    </div>
  );
}

import { Link } from 'react-router';
import type { PlanSummary } from '../../core/api/plan';
import { count } from '../pieces/format';
import { ORDER, STEP_WORDS } from './audience-words';

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
    <div className={`step ${strong ? 'strong' : ''} ${on === step ? 'here' : ''}`} key={step}>
      <span className={strong ? '' : 'soft'}>{words}</span>
      <Link
        to={stepTo(step)}
        className={strong ? 'strong' : ''}
        aria-label={`${words}: ${count(n)}, see them`}
        aria-current={on === step || undefined}
      >
        {count(n)}
      </Link>
    </div>
  );
  return (
    <div aria-live="polite">
      {line('chosen', 'Chosen', plan.chosen, true)}
      <div className="bar" style={{ width: '100%' }} />
      {plan.named_twice > 0 && line('named_twice', 'named twice, counted once', plan.named_twice)}
      {ORDER.filter((reason) => plan.dropped[reason] > 0).map((reason) => {
        const before = left;
        left -= plan.dropped[reason];
        return (
          <div key={reason}>
            {line(reason, STEP_WORDS[reason], plan.dropped[reason])}
            {stepped && (
              <div className="bar-step" aria-hidden>
                <span style={{ width: share(left) }} />
                <span className="gone" style={{ width: `${(100 * (before - left)) / Math.max(1, plan.chosen)}%` }} />
              </div>
            )}
          </div>
        );
      })}
      {plan.stepped_in > 0 && (
        <div className="step soft">
          <span>stepped in as second contact</span>
          <span>{count(plan.stepped_in)}</span>
        </div>
      )}
      {line('will_get', 'Will get it', plan.people, true)}
      <div className="bar go-bar" style={{ width: share(plan.people) }} />
    </div>
  );
}

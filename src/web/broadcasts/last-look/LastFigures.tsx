import type { PlanSummary } from '../../../core/api/sending/plan';
import { mayDo } from '../../../core/api/roles';
import { useDesk } from '../../api/session';
import { clockTime, count, dayOf, money, when, zoneName } from '../../pieces/format';
import { Bit, Fact, Words } from '../../pieces/layout';
import { PlanPicture } from '../when/PlanPicture';

const ZONES = 5;

/** How many, how much, and when in each zone. */
export function LastFigures({ plan, now }: { plan: PlanSummary; now: number }) {
  const { account } = useDesk();
  const span = (first: string, last: string, zone: string) => {
    const a = when(first, zone, now);
    const b = clockTime(last, zone);
    // what goes on the next day says so
    const otherDay = dayOf(first, zone) !== dayOf(last, zone);
    return clockTime(first, zone) === b && !otherDay ? a : otherDay ? `${a} to ${dayOf(last, zone)}, ${b}` : `${a}–${b}`;
  };
  return (
    <>
      <Fact>
        <span>people</span>
        <Bit fig figure="line">
          {count(plan.people)}
        </Bit>
      </Fact>
      <Fact>
        <span>text parts</span>
        <Bit fig figure="line">
          {count(plan.parts)}
        </Bit>
      </Fact>
      <Fact>
        <span>cost</span>
        <Bit fig figure="line">
          {money(plan.cost_micro, plan.currency)}
        </Bit>
      </Fact>
      <Fact>
        <span>balance after</span>
        <Bit fig figure="line">
          {money(plan.balance_micro - plan.cost_micro, plan.currency)}
        </Bit>
      </Fact>
      {plan.codes && (
        <Fact>
          <span>codes of “{plan.codes.name}”</span>
          <Bit fig num>
            {count(plan.codes.needed)}{' '}
            {plan.codes.exact
              ? 'reserved for ten minutes'
              : mayDo(account.role, 'send')
                ? 'needed'
                : 'needed, reserved when someone who may send looks'}
          </Bit>
        </Fact>
      )}
      {plan.zones.slice(0, ZONES).map((zone) => (
        <Fact key={zone.zone}>
          <span>
            {zoneName(zone.zone)}, {count(zone.people)}
          </span>
          <Bit fig num>
            {span(zone.first, zone.last, zone.zone)}
          </Bit>
        </Fact>
      ))}
      {plan.zones.length > ZONES && (
        <Bit soft small>
          and {plan.zones.length - ZONES} more {plan.zones.length === ZONES + 1 ? 'zone' : 'zones'}
        </Bit>
      )}
      {plan.course && (
        <Words above={14}>
          <PlanPicture plan={plan} also={[]} now={now} compact />
        </Words>
      )}
    </>
  );
}

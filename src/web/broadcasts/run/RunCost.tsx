import { count, money } from '../../pieces/format';
import { Bit, Row } from '../../pieces/layout';

/** What a run has cost, beside what was shown before it was sent. */
export function RunCost({
  spent,
  shown,
  ended,
  currency,
}: {
  spent: { spent: number; parts: number };
  shown: { cost_micro: number; parts: number };
  ended: boolean;
  currency: string;
}) {
  const before = `${money(shown.cost_micro, currency)} and ${count(shown.parts)} parts were shown before`;
  const same = spent.spent === shown.cost_micro && spent.parts === shown.parts;
  const words = !ended
    ? `so far, ${count(spent.parts)} parts; ${before}`
    : same
      ? `for ${count(spent.parts)} parts, as shown before`
      : `for ${count(spent.parts)} parts; ${before}, and what was not taken is given back`;
  return (
    <div>
      <h2>Cost</h2>
      <Row base nowrap gap={10}>
        <Bit fig figure="mid">
          {money(spent.spent, currency)}
        </Bit>
        <Bit soft small>
          {words}
        </Bit>
      </Row>
    </div>
  );
}

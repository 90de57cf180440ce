import { money, parts } from '../../pieces/format';
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
  const before = `${money(shown.cost_micro, currency)} and ${parts(shown.parts)} were shown before`;
  const same = spent.spent === shown.cost_micro && spent.parts === shown.parts;
  const words = !ended
    ? `so far, ${parts(spent.parts)}; ${before}`
    : same
      ? `for ${parts(spent.parts)}, as shown before`
      : `for ${parts(spent.parts)}; ${before}, and what was not taken is given back`;
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

import { Stack, Typography } from '@mui/material';
import { count, money } from '../pieces/format';

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
      <Stack direction="row" spacing={1.25} sx={{ alignItems: 'baseline' }}>
        <span className="fig mid">{money(spent.spent, currency)}</span>
        <Typography variant="body2" color="text.secondary">
          {words}
        </Typography>
      </Stack>
    </div>
  );
}

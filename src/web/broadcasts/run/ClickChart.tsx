import { Bar } from 'react-chartjs-2';
import type { RunAnswer } from '../../../core/api/sending/runs';
import { Figure, useChartLook } from '../../pieces/chart/chart';
import { clockTime, count, dayOf } from '../../pieces/format';

const TEN_MINUTES = 600_000;
/** More bars than this are no picture; then an hour, or a day, is one. */
const MOST_BARS = 72;
const STEPS = [TEN_MINUTES, 6 * TEN_MINUTES, 144 * TEN_MINUTES];

/** First clicks over time, machines apart. */
export function ClickChart({ clicks, zone }: { clicks: RunAnswer['clicks']; zone: string }) {
  const { palette, plain, along, counted } = useChartLook();
  const times = clicks.times.map(({ at, n }) => ({ at: Date.parse(at), n }));
  const from = times[0].at;
  const span = times[times.length - 1].at - from;
  const step = STEPS.find((each) => span / each < MOST_BARS) ?? STEPS[STEPS.length - 1];
  const bars = Array.from({ length: Math.min(MOST_BARS * 6, Math.floor(span / step) + 1) }, () => 0);
  for (const { at, n } of times) bars[Math.min(bars.length - 1, Math.floor((at - from) / step))] += n;
  const named = (i: number) => {
    const at = from + i * step;
    return step === STEPS[2] ? dayOf(at, zone) : clockTime(at, zone);
  };
  return (
    <Figure
      above={12}
      height={92}
      caption={`first clicks, ${step === TEN_MINUTES ? 'in ten minutes' : step === STEPS[1] ? 'in an hour' : 'a day'}: ${count(clicks.clicked)} of ${count(clicks.links)}${clicks.machines > 0 ? `, ${count(clicks.machines)} more by machines` : ''}`}
    >
      <Bar
        aria-label={`First clicks over time: most ${named(bars.indexOf(Math.max(...bars)))}`}
        data={{
          labels: bars.map((_, i) => named(i)),
          datasets: [{ data: bars, backgroundColor: palette.primary.main, maxBarThickness: 16 }],
        }}
        options={{ ...plain, scales: { x: along(8), y: counted(3) } }}
      />
    </Figure>
  );
}

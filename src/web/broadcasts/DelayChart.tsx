import { Line } from 'react-chartjs-2';
import type { Delay } from '../../core/api/runs';
import { Figure, useChartLook } from '../pieces/chart';
import { clockTime } from '../pieces/format';
import { Words } from '../pieces/layout';

/** Seconds from handing over to delivered, by minute: the slowest tenth as a line, half of the texts as the wash beneath. */
export function DelayChart({ delays, zone, events }: { delays: Delay[]; zone: string; events: { at: string; what: string }[] }) {
  const { palette, plain, along, counted } = useChartLook();
  const notes = events.filter((event) => event.what.startsWith('line'));
  if (delays.length < 2) {
    return (
      <Words as="p" small above={12}>
        Half were delivered within {Math.max(1, Math.round(delays[0].half))} s of handing over, nine of ten within{' '}
        {Math.max(1, Math.round(delays[0].slow))} s.
      </Words>
    );
  }
  return (
    <Figure
      above={12}
      height={92}
      caption={
        <>
          seconds from handing over to delivered: slowest tenth (line), half of them (beneath)
          {notes.map((note) => ` · ${note.what} ${clockTime(note.at, zone, true)}`)}
        </>
      }
    >
      <Line
        aria-label={`Slowest tenth: up to ${Math.round(Math.max(...delays.map((each) => each.slow)))} seconds`}
        data={{
          labels: delays.map((each) => clockTime(each.at, zone)),
          datasets: [
            {
              data: delays.map((each) => each.slow),
              borderColor: palette.text.primary,
              borderWidth: 2,
              pointRadius: 0,
              tension: 0,
            },
            {
              data: delays.map((each) => each.half),
              borderColor: palette.primary.main,
              backgroundColor: palette.divider,
              borderWidth: 1,
              pointRadius: 0,
              fill: 'origin',
              tension: 0,
            },
          ],
        }}
        options={{ ...plain, scales: { x: along(6), y: counted(4) } }}
      />
    </Figure>
  );
}

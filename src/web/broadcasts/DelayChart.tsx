import { Line } from 'react-chartjs-2';
import type { Delay, RunAnswer } from '../../core/api/runs';
import { Figure, useChartLook } from '../pieces/chart';
import { drawNotes, type ChartNote } from '../pieces/chart-notes';
import { eventsToNote, NotesOf } from './NotesOf';
import { clockTime } from '../pieces/format';
import { Words } from '../pieces/layout';

/** Seconds from handing over to delivered, by minute: the slowest tenth as a line, half of the texts as the wash beneath. */
export function DelayChart({ delays, zone, events }: { delays: Delay[]; zone: string; events: RunAnswer['events'] }) {
  const { palette, plain, along, counted, noteFont } = useChartLook();
  const notes = placed(delays, eventsToNote(events));
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
          <NotesOf notes={notes} />
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
        plugins={[drawNotes(notes, palette.text.primary, noteFont)]}
      />
    </Figure>
  );
}

/** Minutes in which nothing was handed over have no place of their own: a note stands between those beside it. */
function placed(delays: readonly Delay[], events: readonly { at: string; what: string }[]): ChartNote[] {
  const minutes = delays.map(({ at }) => Date.parse(at));
  const last = minutes.length - 1;
  return events.flatMap(({ at, what }) => {
    const when = Date.parse(at);
    if (when < minutes[0] - 60_000 || when > minutes[last] + 60_000) return [];
    const next = minutes.findIndex((minute) => minute > when);
    if (next <= 0) return [{ at: next === 0 ? 0 : last, says: what }];
    return [{ at: next - 1 + (when - minutes[next - 1]) / (minutes[next] - minutes[next - 1]), says: what }];
  });
}

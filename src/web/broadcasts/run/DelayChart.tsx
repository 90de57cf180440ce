import { Line } from 'react-chartjs-2';
import type { Delay, RunAnswer } from '../../../core/api/sending/runs';
import { Figure, useChartLook } from '../../pieces/chart/chart';
import { drawNotes, notesAlong } from '../../pieces/chart/chart-notes';
import { eventsToNote, NotesOf } from './NotesOf';
import { clockTime } from '../../pieces/format';
import { Words } from '../../pieces/layout';

/** How long delivery took, as one would say it. @param seconds */
function lasting(seconds: number): string {
  if (seconds < 120) return `${Math.max(1, Math.round(seconds))} s`;
  return seconds < 7200 ? `${Math.round(seconds / 60)} min` : `${Math.round(seconds / 3600)} h`;
}

/** Seconds from handing over to delivered, by minute: within what time nine of ten came, as a line; within what half did, as the wash beneath. */
export function DelayChart({ delays, zone, events }: { delays: Delay[]; zone: string; events: RunAnswer['events'] }) {
  const { palette, plain, along, counted, noteFont } = useChartLook();
  const notes = notesAlong(
    eventsToNote(events),
    delays.map(({ at }) => Date.parse(at)),
    60_000,
  );
  if (delays.length < 2) {
    return (
      <Words as="p" small above={12}>
        Half were delivered within {lasting(delays[0].half)} of handing over, nine of ten within {lasting(delays[0].slow)}.
      </Words>
    );
  }
  return (
    <Figure
      above={12}
      height={92}
      caption={
        <>
          seconds from handing over to delivered: nine of ten within the line, half within the filled part
          <NotesOf notes={notes} />
        </>
      }
    >
      <Line
        aria-label={`Nine of ten were delivered within ${Math.round(Math.max(...delays.map((each) => each.slow)))} seconds, whatever minute they went in`}
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

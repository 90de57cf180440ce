import { Bar } from 'react-chartjs-2';
import type { RunAnswer } from '../../../core/api/sending/runs';
import { Figure, useChartLook } from '../../pieces/chart/chart';
import { drawNotes, notesAlong } from '../../pieces/chart/chart-notes';
import { eventsToNote, NotesOf } from './NotesOf';
import { clockTime, count } from '../../pieces/format';

/** A step as one would say it. @param seconds */
function everyStep(seconds: number): string {
  if (seconds < 60) return seconds === 1 ? 'second' : `${seconds} s`;
  if (seconds === 60) return 'minute';
  return seconds < 3600 ? `${seconds / 60} min` : `${seconds / 3600} h`;
}

/** The plan as it was shown, and as it happens: texts that were to go in each step, and those that have. */
export function RunCourse({
  course,
  zone,
  events,
}: {
  course: NonNullable<RunAnswer['course']>;
  zone: string;
  events: RunAnswer['events'];
}) {
  const { palette, plain, along, counted, noteFont } = useChartLook();
  const steps = Math.max(course.planned.length, course.went.length);
  // one bar says nothing that the figures above do not
  if (steps < 3) return null;
  const at = (i: number) => Date.parse(course.from) + i * course.step_seconds * 1000;
  const finely = course.step_seconds < 60;
  const every = everyStep(course.step_seconds);
  const starts = Array.from({ length: steps }, (_, i) => at(i));
  const notes = notesAlong(eventsToNote(events), starts, course.step_seconds * 1000);
  const sum = (counts: readonly number[]) => counts.reduce((total, n) => total + n, 0);
  return (
    <Figure
      above={12}
      height={96}
      caption={
        <>
          texts every {every}: planned (outline), gone (filled)
          <NotesOf notes={notes} />
        </>
      }
    >
      <Bar
        aria-label={`${count(sum(course.planned))} planned from ${clockTime(at(0), zone, finely)} to ${clockTime(at(steps - 1), zone, finely)}, ${count(sum(course.went))} gone`}
        data={{
          labels: Array.from({ length: steps }, (_, i) => clockTime(at(i), zone, finely)),
          datasets: [
            {
              label: 'planned',
              data: Array.from({ length: steps }, (_, i) => course.planned[i] ?? 0),
              borderColor: palette.text.secondary,
              backgroundColor: 'transparent',
              borderWidth: 1,
              grouped: false,
              barPercentage: 0.95,
              categoryPercentage: 1,
            },
            {
              label: 'gone',
              data: Array.from({ length: steps }, (_, i) => course.went[i] ?? 0),
              backgroundColor: palette.primary.main,
              grouped: false,
              barPercentage: 0.7,
              categoryPercentage: 1,
            },
          ],
        }}
        options={{ ...plain, scales: { x: along(8), y: counted(3) } }}
        plugins={[drawNotes(notes, palette.text.primary, noteFont)]}
      />
    </Figure>
  );
}

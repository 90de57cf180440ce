import { styled, useTheme } from '@mui/material/styles';
import { BarController, BarElement, CategoryScale, Chart as ChartJs, LinearScale, Tooltip } from 'chart.js';
import { Bar } from 'react-chartjs-2';
import type { RunAnswer } from '../../core/api/runs';
import { clockTime, count } from '../pieces/format';
import { Words } from '../pieces/layout';

ChartJs.register(BarController, BarElement, CategoryScale, LinearScale, Tooltip);

const Plot = styled('div')({ height: 96 });

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
  const { palette, typography } = useTheme();
  const font = { family: typography.fontFamily, size: 12 };
  const steps = Math.max(course.planned.length, course.went.length);
  // one bar says nothing that the figures above do not
  if (steps < 3) return null;
  const at = (i: number) => Date.parse(course.from) + i * course.step_seconds * 1000;
  const every = course.step_seconds < 3600 ? `${course.step_seconds / 60} min` : `${course.step_seconds / 3600} h`;
  const noted = events.filter((event) => event.what !== 'agreed' && event.what !== 'planned anew');
  const sum = (counts: readonly number[]) => counts.reduce((total, n) => total + n, 0);
  return (
    <Words as="figure" above={12}>
      <Words as="figcaption" small soft>
        texts every {every}: planned (outline), gone (filled)
        {noted.map((note) => ` · ${note.what} ${clockTime(note.at, zone, true)}`)}
      </Words>
      <Plot>
        <Bar
          aria-label={`${count(sum(course.planned))} planned from ${clockTime(at(0), zone)} to ${clockTime(at(steps - 1), zone)}, ${count(sum(course.went))} gone`}
          data={{
            labels: Array.from({ length: steps }, (_, i) => clockTime(at(i), zone)),
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
          options={{
            animation: false,
            responsive: true,
            maintainAspectRatio: false,
            plugins: { legend: { display: false } },
            scales: {
              x: { grid: { display: false }, ticks: { color: palette.text.secondary, maxTicksLimit: 8, maxRotation: 0, font } },
              y: {
                beginAtZero: true,
                grid: { color: palette.divider },
                ticks: { color: palette.text.secondary, maxTicksLimit: 3, precision: 0, font },
              },
            },
          }}
        />
      </Plot>
    </Words>
  );
}

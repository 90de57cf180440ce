import { styled, useTheme } from '@mui/material/styles';
import {
  BarController,
  BarElement,
  CategoryScale,
  Chart as ChartJs,
  Filler,
  LinearScale,
  LineElement,
  PointElement,
  Tooltip,
} from 'chart.js';
import type { ReactNode } from 'react';
import { Words } from '../layout';

ChartJs.register(BarController, BarElement, CategoryScale, Filler, LinearScale, LineElement, PointElement, Tooltip);

const Plot = styled('div')({ position: 'relative' });

/** A chart under its caption; Chart.js fills the height. */
export function Figure({
  caption,
  height,
  above,
  children,
}: {
  caption: ReactNode;
  height: number;
  above?: number;
  children: ReactNode;
}) {
  return (
    <Words as="figure" above={above}>
      <Words as="figcaption" small soft>
        {caption}
      </Words>
      <Plot style={{ height }}>{children}</Plot>
    </Words>
  );
}

/** How every chart of ours looks: no legend, no motion, hairlines across only, figures in our type. */
export function useChartLook() {
  const { palette, typography } = useTheme();
  const font = { family: typography.fontFamily, size: 12 };
  const ticks = (maxTicksLimit: number) => ({ color: palette.text.secondary, maxTicksLimit, maxRotation: 0, font });
  return {
    palette,
    noteFont: `600 12px ${typography.fontFamily ?? 'sans-serif'}`,
    plain: { animation: false, responsive: true, maintainAspectRatio: false, plugins: { legend: { display: false } } } as const,
    /** What is counted along: times, numbers, names. */
    along: (most: number) => ({ grid: { display: false }, ticks: ticks(most) }),
    /** What is counted: from zero, whole figures only. */
    counted: (most: number) => ({
      beginAtZero: true,
      grid: { color: palette.divider },
      ticks: { ...ticks(most), precision: 0 },
    }),
  };
}

import type { Plugin } from 'chart.js';

/** Something that happened, at its place along a chart. */
export interface ChartNote {
  /** Steps from the first of what is counted along, in fractions. */
  at: number;
  says: string;
}

/**
 * Notes at their places along steps, between the two that they fall between; what lies outside is not of the picture.
 *
 * @param starts when each step begins, ms; steps in which nothing was may be left out
 * @param step how long each is, ms
 */
export function notesAlong(
  events: readonly { at: string; what: string }[],
  starts: readonly number[],
  step: number,
): ChartNote[] {
  const last = starts.length - 1;
  return events.flatMap(({ at, what }) => {
    const when = Date.parse(at);
    if (last < 0 || when < starts[0] - step || when > starts[last] + step) return [];
    const next = starts.findIndex((start) => start > when);
    if (next <= 0) return [{ at: next === 0 ? 0 : last, says: what }];
    return [{ at: next - 1 + (when - starts[next - 1]) / (starts[next] - starts[next - 1]), says: what }];
  });
}

/** Draws each note as an upright line with its number at the top; what they say stands in the caption, by number. */
export function drawNotes(notes: readonly ChartNote[], color: string, font: string): Plugin {
  return {
    id: 'notes',
    afterDatasetsDraw({ ctx, chartArea, scales }) {
      ctx.save();
      ctx.strokeStyle = color;
      ctx.fillStyle = color;
      ctx.font = font;
      ctx.setLineDash([2, 2]);
      notes.forEach(({ at }, i) => {
        const [low, high] = [Math.floor(at), Math.ceil(at)].map((step) => scales.x.getPixelForValue(step));
        const x = low + (high - low) * (at - Math.floor(at));
        ctx.beginPath();
        ctx.moveTo(x, chartArea.top);
        ctx.lineTo(x, chartArea.bottom);
        ctx.stroke();
        const right = x > chartArea.right - 14;
        ctx.textAlign = right ? 'right' : 'left';
        ctx.textBaseline = 'top';
        ctx.fillText(String(i + 1), right ? x - 3 : x + 3, chartArea.top);
      });
      ctx.restore();
    },
  };
}

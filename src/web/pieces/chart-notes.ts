import type { Plugin } from 'chart.js';

/** Something that happened, at its place along a chart. */
export interface ChartNote {
  /** Steps from the first of what is counted along, in fractions. */
  at: number;
  says: string;
}

/**
 * Notes at their places along steps of equal length; what lies outside is not of the picture.
 *
 * @param from when the first step begins, ms
 * @param step how long each is, ms
 * @param steps how many there are
 */
export function notesAlong(
  events: readonly { at: string; what: string }[],
  from: number,
  step: number,
  steps: number,
): ChartNote[] {
  return events.flatMap(({ at, what }) => {
    const place = (Date.parse(at) - from) / step;
    return place < -1 || place > steps ? [] : [{ at: Math.min(Math.max(place, 0), steps - 1), says: what }];
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

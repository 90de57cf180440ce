import { describe, expect, test } from 'vitest';
import { LIGHT, NIGHT, type Tokens } from './tokens';

/** Contrast ratio, WCAG 2.2 (relative luminance of sRGB). */
function contrast(a: string, b: string): number {
  const light = (hex: string) => {
    const [r, g, bl] = [1, 3, 5].map((at) => {
      const c = parseInt(hex.slice(at, at + 2), 16) / 255;
      return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
    });
    return 0.2126 * r + 0.7152 * g + 0.0722 * bl;
  };
  const [x, y] = [light(a), light(b)].sort((m, n) => n - m);
  return (x + 0.05) / (y + 0.05);
}

const text: [keyof Tokens, keyof Tokens][] = [
  ['onFrame', 'frame'],
  ['frameSoft', 'frame'],
  ['frameBrick', 'frame'],
  ['yellow', 'frame'],
  ['ink', 'ground'],
  ['ink', 'card'],
  ['soft', 'ground'],
  ['soft', 'card'],
  ['lake', 'ground'],
  ['lake', 'card'],
  ['lake', 'lakeWash'],
  ['ink', 'lakeWash'],
  ['soft', 'lakeWash'],
  ['onLake', 'lake'],
  ['onYellow', 'yellow'],
  ['brick', 'ground'],
  ['brick', 'card'],
  ['brick', 'brickWash'],
  ['plum', 'ground'],
  ['plum', 'card'],
];
const marks: [keyof Tokens, keyof Tokens][] = [
  ['edge', 'ground'],
  ['edge', 'card'],
  ['yellowEdge', 'ground'],
  ['yellowEdge', 'card'],
];

describe.each([
  ['light', LIGHT],
  ['night', NIGHT],
] as const)('contrast, %s (WCAG 2.2: 1.4.3, 1.4.11)', (_name, tokens) => {
  test.each(text)('%s on %s is text', (a, b) => expect(contrast(tokens[a], tokens[b])).toBeGreaterThanOrEqual(4.5));
  test.each(marks)('%s on %s is a mark', (a, b) => expect(contrast(tokens[a], tokens[b])).toBeGreaterThanOrEqual(3));
});

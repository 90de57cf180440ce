/** A relative time, SMPP v3.4 §7.1.1.2: `YYMMDDhhmmss000R`, at least a second and at most 28 days. */
export function relativeTime(ms: number): string {
  const seconds = Math.min(28 * 86_400, Math.max(1, Math.floor(ms / 1000)));
  const two = (n: number) => String(n).padStart(2, '0');
  return `0000${two(Math.floor(seconds / 86_400))}${two(Math.floor(seconds / 3600) % 24)}${two(Math.floor(seconds / 60) % 60)}${two(seconds % 60)}000R`;
}

/** Milliseconds of a relative time, or undefined for what is none. */
export function readRelativeTime(text: string): number | undefined {
  const read = /^(\d\d)(\d\d)(\d\d)(\d\d)(\d\d)(\d\d)\d(\d\d)R$/.exec(text);
  if (!read) return undefined;
  const [, years, months, days, hours, minutes, seconds] = read.map(Number);
  return ((((years * 365 + months * 30 + days) * 24 + hours) * 60 + minutes) * 60 + seconds) * 1000;
}

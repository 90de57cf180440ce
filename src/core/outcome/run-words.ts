/**
 * The state of a run in words. One of which everything has gone and some words of the carrier are outstanding is *settling*: it is
 * finished when the last of them has come, or can come no more.
 *
 * @param tally recipients by state, where it is known
 */
export function runStateWords(state: string, tally?: Readonly<Record<string, number>>): string {
  if (state !== 'settling') return state;
  const open = (tally?.with_carrier ?? 0) + (tally?.uncertain ?? 0);
  return open > 0 ? `finished; ${open.toLocaleString('en-US')} outstanding` : 'finished; some outstanding';
}

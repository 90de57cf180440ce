import type { RunAnswer } from '../../../core/api/sending/runs';
import { OutcomeBar } from '../../pieces/chart/OutcomeBar';
import { STATES } from './run-words';

/** What became of a run's texts as one bar, and in words for those who hear the page. */
export function RunBar({ answer: { run, tally } }: { answer: RunAnswer }) {
  return (
    <OutcomeBar
      people={run.people}
      parts={STATES.map((state) => [state, tally[state] ?? 0] as const)}
      label={STATES.filter((state) => tally[state])
        .map((state) => `${state.replaceAll('_', ' ')} ${tally[state]}`)
        .join(', ')}
    />
  );
}

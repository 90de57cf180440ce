import type { RunAnswer } from '../../../core/api/sending/runs';
import type { ChartNote } from '../../pieces/chart/chart-notes';
import { Bit } from '../../pieces/layout';

/** Of what happened with a run, what may explain its pictures; that it was agreed does not. */
export function eventsToNote(events: RunAnswer['events']): RunAnswer['events'] {
  return events.filter(({ what }) => what !== 'agreed' && what !== 'planned anew');
}

/** What the numbers in a picture stand for. */
export function NotesOf({ notes }: { notes: readonly ChartNote[] }) {
  return notes.map(({ says }, i) => (
    <Bit key={i} nobreak>
      {' '}
      · <b>{i + 1}</b> {says}
    </Bit>
  ));
}

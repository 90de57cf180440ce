import type { RunAnswer } from '../../../core/api/sending/runs';
import { ChangesOfMany } from '../../people/for-others';
import { Words } from '../../pieces/layout';

/** What was done with people of the run: tags given, lists cleaned, by somebody or by a list's standing rule; and how it is undone. */
export function RunLeft({ answer }: { answer: RunAnswer }) {
  if (answer.left.length === 0) return null;
  return (
    <section aria-label="What was done with them">
      <Words as="h2" under below={6}>
        What was done with them
      </Words>
      <ChangesOfMany changes={answer.left} />
    </section>
  );
}

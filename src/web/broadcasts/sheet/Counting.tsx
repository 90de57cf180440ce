import { Words } from '../../pieces/layout';
import { Trouble } from '../../pieces/small';

/** What stands where a plan is not there yet, or could not be made: a count that is not known is never waited for in vain. */
export function Counting({ error }: { error: unknown }) {
  if (error) return <Trouble error={error} />;
  return (
    <Words soft small role="status">
      Counting…
    </Words>
  );
}

import type { Thread } from '../../core/api/desk/replies';
import { dayOf } from '../pieces/format';
import { Words } from '../pieces/layout';
import { Way } from '../pieces/ways';

/** Others who have the number of a thread, too, and those who had it before: what was said may be theirs. */
export function WhoseNumber({ thread, zone }: { thread: Thread; zone: string }) {
  const { shared_with: shared } = thread;
  return (
    <>
      {shared.length > 0 && (
        <Words plum small pad="0 20px 8px">
          {shared.map((other, i) => (
            <span key={other.id}>
              {i > 0 ? ', ' : ''}
              <Way to={`/people/${other.id}`}>{other.name || 'somebody without a name'}</Way>
            </span>
          ))}{' '}
          {shared.length === 1 ? 'has' : 'have'} this number, too: who answers may be any of them.
        </Words>
      )}
      {thread.had_before.map((before) => (
        <Words plum small pad="0 20px 8px" key={before.id}>
          Until {dayOf(before.until, zone)} this number was{' '}
          <Way to={`/people/${before.id}`}>{before.name || 'somebody else'}</Way>’s: what was said by then was said with them.
        </Words>
      ))}
    </>
  );
}

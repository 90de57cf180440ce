import { useSearchParams } from 'react-router';
import { broadcasts } from '../../../core/api/sending/broadcasts';
import { calledOf } from '../../../core/plan/draft/called';
import { useGet } from '../../api/client';
import { Bit } from '../../pieces/layout';
import { Way } from '../../pieces/ways';

/** The draft for which a file was asked for, where it was. */
export interface BroadcastGoal {
  id: number | undefined;
  /** What it is called, once that is known. */
  name: string | undefined;
  /** It stays in the address from the choosing of the file to the decision: a reload keeps it. */
  search: string;
}

/** From a sheet one comes here for a file: it goes back to that broadcast, and not to a new one. */
export function useForBroadcast(): BroadcastGoal {
  const [search] = useSearchParams();
  const given = Number(search.get('for') ?? '');
  const id = Number.isSafeInteger(given) && given > 0 ? given : undefined;
  const found = useGet(broadcasts.get, id === undefined ? undefined : { params: { id } }).data;
  const name = found && (calledOf({ name: found.name, words: found.draft.words }) || 'a new broadcast');
  return { id, name, search: id === undefined ? '' : `?for=${id}` };
}

/** Whom the people are for, as the way back. */
export function ForBroadcast({ goal }: { goal: BroadcastGoal }) {
  if (goal.id === undefined) return undefined;
  return (
    <Bit>
      for <Way to={`/broadcasts/${goal.id}`}>{goal.name ?? 'a broadcast'}</Way>
    </Bit>
  );
}

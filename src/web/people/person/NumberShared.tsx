import { Alert } from '@mui/material';
import { people } from '../../../core/api/people/people';
import { ask } from '../../api/client';
import { Column } from '../../pieces/layout';
import { Way } from '../../pieces/ways';

/** Somebody has the number already: said before another gets it, and done when it is pressed again. */
export class Shared extends Error {
  constructor(readonly sharers: readonly { id: number; name: string }[]) {
    super('Somebody has this number.');
  }
}

/** Who has the number, when somebody has. @param except who may have it */
export async function askWhoHas(number: string, except: number | undefined): Promise<Shared | undefined> {
  if (number.trim() === '') return undefined;
  const { sharers } = await ask(people.sharing, { query: { number, except } });
  return sharers.length === 0 ? undefined : new Shared(sharers);
}

/** Who has the number, and what that would mean. */
export function NumberShared({ shared: { sharers }, about }: { shared: Shared; about: string }) {
  return (
    <Column above={12}>
      <Alert severity="warning">
        {sharers.map(({ id, name }, i) => (
          <span key={id}>
            {i > 0 ? (i === sharers.length - 1 ? ' and ' : ', ') : ''}
            <Way to={`/people/${id}`}>{name || 'somebody without a name'}</Way>
          </span>
        ))}{' '}
        {sharers.length === 1 ? 'has' : 'have'} this number.{' '}
        {sharers.some(({ name }) => name === about)
          ? 'That may be the same person.'
          : 'A broadcast to both goes to the number once, and STOP from it counts for both.'}
      </Alert>
    </Column>
  );
}

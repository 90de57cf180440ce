import type { Effect, LineEvent } from '../effects';
import type { Receipt } from '../entries';
import type { SimStore } from './store';

/** What the line wants done by the database. */
export type Transaction = Extract<Effect<Receipt>, { do: 'lease' | 'commit' | 'keep' | 'post' }>;

/** Carries out one transaction of an owner, whole, and gives what the line is told of it. */
export function transact(store: SimStore, epoch: number, effect: Transaction, now: number): LineEvent<Receipt> {
  switch (effect.do) {
    case 'lease': {
      const leased = store.lease(epoch, effect.parts, effect.except, now, effect.known);
      return leased === 'fenced' ? { is: 'fenced' } : { is: 'leased', ...leased };
    }
    case 'commit': {
      const commit = store.commit(epoch, effect, now);
      return commit === 'fenced' ? { is: 'fenced' } : { is: 'committed', commit };
    }
    case 'keep': {
      const receipts = effect.receipts.map((each) => each.receipt);
      return store.keep(epoch, receipts, now) === 'fenced' ? { is: 'fenced' } : { is: 'kept' };
    }
    case 'post': {
      const posted = store.post(epoch, effect.emptied, now);
      return posted === 'fenced' ? { is: 'fenced' } : { is: 'posted', ...posted };
    }
  }
}

import type { Dice } from './dice';
import type { Plan } from './plan';
import type { SimStore } from './store';

/** The one run and the one sender of a history. */
export const RUN = 1;
export const SENDER = 1;

/** The world before anything is sent: a run and its sender, people in one zone or two, texts of one to three parts in the queue. */
export function settle(store: SimStore, plan: Plan, dice: Dice): void {
  store.runs.set(RUN, { state: 'sending', note: '' });
  store.senders.set(SENDER, { rate: plan.rate, freeAt: 0 });
  const due = plan.start;
  const ids: number[] = [];
  for (let id = 1; id <= plan.texts; id += 1) {
    const number = `n${id}`;
    store.people.set(number, {
      zones: dice.chance(0.5) ? ['near'] : dice.chance(0.5) ? ['far'] : ['near', 'far'],
      registered: false,
      withdrawn: false,
      state: 'here',
    });
    const parts = dice.chance(0.3) ? dice.between(2, 3) : 1;
    const run = dice.chance(0.85) ? RUN : null;
    store.texts.set(id, {
      id,
      number,
      parts,
      run,
      sender: SENDER,
      due: due + (dice.chance(0.3) ? dice.between(0, 5000) : 0),
      notAfter: plan.start + plan.notAfter,
      queue: null,
      state: 'planned',
      reason: null,
      finalAt: null,
      billed: 0,
      open: parts,
    });
    if (run === null) store.enqueue(null, SENDER, 0, due, [id]);
    else ids.push(id);
  }
  for (let from = 0; from < ids.length; from += 4) store.enqueue(RUN, SENDER, 2, due, ids.slice(from, from + 4));
}

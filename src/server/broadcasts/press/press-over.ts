import { Refusal } from '../../../core/api/refusal';
import type { Tx } from '../../db/db';

/** What a press came to of which there is no run (any more). */
export type Over = 'called off' | 'undone' | 'refused';

const WORDS: Record<Over, string> = {
  'called off': 'What you pressed was taken back. Nothing was sent.',
  undone: 'What you pressed could not be stored and was undone. Nothing was sent.',
  refused: 'What you pressed was refused already. Nothing was sent.',
};

export const over = (how: Over): Refusal =>
  new Refusal('clash', 'press-over', WORDS[how], { kept: 'The broadcast is kept.', act: 'Look again and press anew.' });

/**
 * In the transaction that takes a broadcast, with the balance held: nothing begins by a press that is over.
 * @throws Refusal
 */
export async function refuseOver(tx: Tx, pressId: string): Promise<void> {
  const { rows } = await tx.query<{ how: Over }>(`SELECT how FROM press_over WHERE press_id = $1`, [pressId]);
  for (const { how } of rows) throw over(how);
}

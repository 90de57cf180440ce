import type { TodayAnswer } from '../../core/api/desk/today';
import type { Queryable } from '../db/db';

/** What a first text still needs, each with the part of Setup (or of People) where it is put right. */
export async function missingFor(db: Queryable): Promise<TodayAnswer['missing']> {
  const [there] = (
    await db.query<{
      begun: boolean;
      languages: string[];
      opt_out_wording: Record<string, string>;
      senders: boolean;
      rates: boolean;
      people: boolean;
      balance: number;
    }>(
      `SELECT begun, languages, opt_out_wording, EXISTS (SELECT 1 FROM sender) AS senders, EXISTS (SELECT 1 FROM rate) AS rates,
         EXISTS (SELECT 1 FROM person) AS people, (SELECT coalesce(sum(amount_micro), 0)::bigint FROM balance_entry) AS balance FROM workspace`,
    )
  ).rows;
  const missing: TodayAnswer['missing'] = [];
  if (!there.begun)
    missing.push({
      what: 'The workspace has not been set up',
      why: 'Its name, zone and country decide how texts are signed, when nights are, and how numbers are read.',
      part: 'start',
    });
  if (!there.senders)
    missing.push({ what: 'There is no sender', why: 'A text comes from a number, a short code or a name.', part: 'senders' });
  if (!there.rates)
    missing.push({
      what: 'There are no prices',
      why: 'Without a price nothing is sent: no bill is to surprise anyone.',
      part: 'prices',
    });
  if (there.balance <= 0)
    missing.push({ what: 'There is nothing on the account', why: 'Texts are paid from it before they go.', part: 'balance' });
  const silent = there.languages.filter((language) => !there.opt_out_wording[language]?.trim());
  if (silent.length > 0)
    missing.push({
      what: `No opt-out wording for ${silent.join(', ')}`,
      why: 'Everyone has to be told how to stop, in their language.',
      part: 'workspace',
    });
  if (!there.people)
    missing.push({ what: 'Nobody is in the address book', why: 'Bring in a file, or add someone by hand.', part: 'people' });
  return missing;
}

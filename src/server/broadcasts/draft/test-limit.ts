import { iso } from '../../../core/clock';
import type { Tx } from '../../db/db';
import { BALANCE_LOCK } from '../../engine/for-others';
import { Refusal } from '../../../core/api/refusal';

const DAY = 86_400_000;

/**
 * Refuses what has just been queued as tests, where an account's number of them or the cost of all is beyond what is agreed for a day.
 * Looked at behind the balance's lock and within the transaction, so that of two at once the second is counted with the first.
 * @throws Refusal 429; the transaction ends with it, and nothing was queued
 */
export async function refuseTooManyTests(tx: Tx, account: number, now: number): Promise<void> {
  await tx.query(BALANCE_LOCK);
  const { rows } = await tx.query<{ n: number; micro: number; most: number; most_micro: number }>(
    `SELECT count(*) FILTER (WHERE account_id = $1) AS n, coalesce(sum(cost_micro) FILTER (WHERE state <> 'not_sent'), 0)::bigint AS micro,
       (SELECT tests_a_day FROM workspace) AS most, (SELECT tests_a_day_micro FROM workspace) AS most_micro
     FROM outbound WHERE kind = 'test' AND due_at > $2::timestamptz`,
    [account, iso(now - DAY)],
  );
  const [{ n, micro, most, most_micro }] = rows;
  const act = 'Wait, or let somebody who manages allow more under Setup, Carrier.';
  if (n > most)
    throw new Refusal(
      'too often',
      'too-many-tests',
      `That would be more than ${most} tests of yours in a day. Nothing was sent.`,
      {
        act,
      },
    );
  if (micro > most_micro)
    throw new Refusal('too often', 'too-many-tests', 'That would be more than all tests may cost in a day. Nothing was sent.', {
      act,
    });
}

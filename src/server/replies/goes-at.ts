import { gate, JUST_WROTE } from '../../core/gate/gate';
import { HoursBook } from '../../core/gate/hours';
import { factsOf, singleText } from '../../core/gate/facts-of';
import { iso } from '../../core/clock';
import type { Queryable } from '../db/db';
import { ANSWER_USEFUL, whoHas } from '../engine/for-others';

/**
 * When an answer that is sent now would go, by the gate that is asked again when it does: at once to somebody who has just written
 * (null), else in an hour in which they may be texted; `never` where there is none before it is of no use.
 */
export async function answerGoesAt(db: Queryable, number: string, now: number): Promise<string | 'never' | null> {
  const { rows } = await db.query<{
    zone: string;
    quiet_from: string;
    quiet_to: string;
    own_zone: string | null;
    zone_guessed: boolean | null;
    quiet: string | null;
    wrote: boolean;
  }>(
    `SELECT workspace.zone, quiet_from, quiet_to, person.zone AS own_zone, person.zone_guessed, person.quiet,
       EXISTS (SELECT 1 FROM inbound WHERE number = $1 AND received_at > $2::timestamptz) AS wrote
     FROM workspace LEFT JOIN person ON person.id = ${whoHas('$1')}`,
    [number, iso(now - JUST_WROTE)],
  );
  const [at] = rows;
  const facts = singleText({
    kind: 'reply',
    number,
    zone: at.own_zone,
    zone_guessed: at.zone_guessed,
    quiet: at.quiet,
    wrote: at.wrote,
    not_after: now + ANSWER_USEFUL,
  });
  const answer = gate(factsOf(facts, at, now), now, new HoursBook());
  return answer.kind === 'later' ? iso(answer.at) : answer.kind === 'never' ? 'never' : null;
}

import { iso } from '../../../core/clock';
import type { RunFigures } from '../../../core/plan/picture/differs';
import type { Draft } from '../../../core/plan/draft/draft';
import type { Tx } from '../../db/db';
import { endWithoutNext } from '../../engine/for-others';
import type { Origin } from './begin-run';
import type { Presser } from './presser';

/** A broadcast of which something is to be planned. */
export interface Due {
  id: number;
  /** What is planned from it is of this version of it, or is not planned. */
  version: number;
  name: string;
  draft: Draft;
  account_id: number | null;
  next_date: string | null;
  next_at: string | null;
  plan_at: string | null;
  import_id: number | null;
  agreed: RunFigures | null;
}

/** Of each date, each import and each agreed run there is one; written anew and pressed again, it is another series, with dates of its own.
 * No press can bear such an id (the contract's pattern has no stroke). */
export function idOf({ id, version }: Pick<Due, 'id' | 'version'>, origin: Origin): string {
  switch (origin.kind) {
    case 'repeat':
      return `repeat/${id}/${version}/${origin.date}`;
    case 'import':
      return `import/${id}/${version}/${origin.id}`;
    case 'current':
      return `current/${origin.instead}`;
    case 'press':
      throw new Error('A press brings its own id.');
  }
}

/**
 * A run that does not go stands among the others with its reason, so that nobody has to miss it by themselves. A date that has had its
 * run (what came before it was undone long after) has it: the series goes on.
 */
export async function missRun(
  app: Presser,
  due: Due,
  origin: Origin,
  claim: (tx: Tx) => Promise<void>,
  note: string,
): Promise<void> {
  const at = iso(app.clock.now());
  await app.db.transaction(async (tx) => {
    await claim(tx);
    await tx.query(
      `INSERT INTO run (broadcast_id, state, press_id, digest, words, name, sender_id, purpose, people, parts, cost_micro, takeback_until, due_at,
           last_due_at, not_after, pressed_at, account_id, ended_at, note, origin, on_date, import_id)
         SELECT $1, 'missed', $2, '', $3::text, $4, sender.id, $5, 0, 0, 0, $6::timestamptz, $7::timestamptz,
           $7::timestamptz, $7::timestamptz, $6::timestamptz, $8, $6::timestamptz, $9, $10, $11::date, $12
         FROM sender ORDER BY (sender.id = $13) DESC, sender.id LIMIT 1
         ON CONFLICT (press_id) DO NOTHING`,
      [
        due.id,
        idOf(due, origin),
        due.draft.words,
        due.name,
        due.draft.purpose,
        at,
        due.next_at ?? at,
        due.account_id,
        note,
        origin.kind,
        origin.kind === 'repeat' ? origin.date : null,
        origin.kind === 'import' ? origin.id : null,
        due.draft.sender_id ?? 0,
      ],
    );
    await endWithoutNext(tx, due.id, at);
  });
  app.bus.changed('runs');
  app.bus.changed('broadcasts');
}

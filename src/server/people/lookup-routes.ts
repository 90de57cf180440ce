import { people } from '../../core/api/people';
import { Binder } from '../audience/rule-sql';
import type { Db } from '../db/db';
import { balanceMicro } from '../engine/money';
import type { App } from '../http/app-context';
import { Problem } from '../http/problem';
import { route, type Route } from '../http/route';
import { writeRecord } from '../db/record';
import { filterOf, todayOf, whereOf, type PeopleFilter } from './people-queries';
import { fieldTypes, peopleById, updatePeople } from './person-store';

/** What the practice carrier takes for telling one line, in millionths. */
export const LOOKUP_PRICE = 4000;
const BATCH = 500;

// where the numbering plan does not tell, and nobody has told since
const UNKNOWN = `person.number_kind = 'either' AND person.kind_source IS NULL`;

async function unknownNumbers(db: Db, filter: PeopleFilter, now: number): Promise<number> {
  const binder = new Binder();
  const where = whereOf(filter, binder, await todayOf(db, now));
  return (
    await db.query<{ n: number }>(`SELECT count(DISTINCT number) AS n FROM person WHERE ${UNKNOWN} AND ${where}`, binder.params)
  ).rows[0].n;
}

/** Asks the carrier what lines these are. @throws Problem when it does not answer, or is not the practice carrier */
async function kindsOf(app: App, numbers: readonly string[]): Promise<('mobile' | 'fixed')[]> {
  if (!app.practice)
    throw new Problem(409, 'no-lookup', 'The carrier that is connected has no line lookup that we know how to ask.');
  try {
    const answer = await fetch(`${app.practice.url}/lookup`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ numbers }),
    });
    return ((await answer.json()) as { kinds: ('mobile' | 'fixed')[] }).kinds;
  } catch {
    throw new Problem(
      503,
      'practice-down',
      'The practice carrier does not answer just now. Nothing more was looked up or paid.',
      {},
    );
  }
}

export const lookupRoutes: Route[] = [
  route(people.lookupOffer, async (app, asked) => {
    const numbers = await unknownNumbers(app.db, await filterOf(app.db, asked.query), asked.now);
    return { numbers, cost_micro: numbers * LOOKUP_PRICE, price_micro: LOOKUP_PRICE };
  }),
  route(people.lookup, async (app, asked) => {
    const filter = await filterOf(app.db, asked.body.filter);
    const numbers = await unknownNumbers(app.db, filter, asked.now);
    if (numbers > asked.body.agreed)
      throw new Problem(
        409,
        'moved',
        `By now there are ${numbers} numbers to look up, not ${asked.body.agreed}. Nothing was paid.`,
        {
          act: 'Look again.',
        },
      );
    if ((await balanceMicro(app.db)) < numbers * LOOKUP_PRICE)
      throw new Problem(402, 'balance', 'The balance does not cover the lookup. Nothing was paid.', {
        act: 'Add to the balance in Setup.',
      });
    const types = await fieldTypes(app.db);
    const today = await todayOf(app.db, asked.now);
    let told = 0;
    let fixed = 0;
    for (;;) {
      const binder = new Binder();
      const where = whereOf(filter, binder, today);
      const batch = (
        await app.db.query<{ number: string }>(
          `SELECT DISTINCT number FROM person WHERE ${UNKNOWN} AND ${where} ORDER BY number LIMIT ${BATCH}`,
          binder.params,
        )
      ).rows.map((row) => row.number);
      if (batch.length === 0 || told >= numbers) break;
      const kinds = await kindsOf(app, batch);
      // what was answered is paid and written down together, batch by batch
      await app.db.transaction(async (tx) => {
        const { rows } = await tx.query<{ id: number; number: string }>(
          `SELECT id, number FROM person WHERE ${UNKNOWN} AND number = ANY ($1::text[])`,
          [batch],
        );
        const kind = new Map(batch.map((number, i) => [number, kinds[i]]));
        const people = await peopleById(
          tx,
          rows.map((row) => row.id),
        );
        await updatePeople(
          tx,
          people.map((p) => ({ ...p, number_kind: kind.get(p.number ?? '') ?? p.number_kind, kind_source: 'line lookup' })),
          types,
          asked.at,
        );
        await tx.query(`INSERT INTO balance_entry (at, kind, amount_micro, note) VALUES ($1::timestamptz, 'spend', $2, $3)`, [
          asked.at,
          -batch.length * LOOKUP_PRICE,
          `line lookup of ${batch.length} numbers`,
        ]);
      });
      told += batch.length;
      fixed += kinds.filter((each) => each === 'fixed').length;
    }
    await writeRecord(app.db, asked, 'looked up lines', '', { numbers: told });
    app.bus.changed('people');
    app.bus.changed('balance');
    return { numbers: told, fixed, cost_micro: told * LOOKUP_PRICE };
  }),
];

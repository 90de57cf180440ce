import { people } from '../../../core/api/people/people';
import { balanceMicro } from '../../engine/for-others';
import type { App } from '../../app-context';
import { Refusal } from '../../../core/api/refusal';
import { route, type Route } from '../../http/route';
import { writeRecord } from '../../db/record';
import { countUnknown, keepKinds, nextUnknown } from './lookup-queries';
import { filterOf, todayOf } from '../people-queries';

/** What the practice carrier takes for telling one line, in millionths. */
export const LOOKUP_PRICE = 4000;
const BATCH = 500;

/** Asks the carrier what lines these are. @throws Refusal when it does not answer, or is not the practice carrier */
async function kindsOf(app: App, numbers: readonly string[]): Promise<('mobile' | 'fixed')[]> {
  if (!app.practice)
    throw new Refusal('clash', 'no-lookup', 'The carrier that is connected has no line lookup that we know how to ask.');
  try {
    const answer = await fetch(`${app.practice.url}/lookup`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ numbers }),
    });
    return ((await answer.json()) as { kinds: ('mobile' | 'fixed')[] }).kinds;
  } catch {
    throw new Refusal(
      'away',
      'practice-down',
      'The practice carrier does not answer just now. Nothing more was looked up or paid.',
      {},
    );
  }
}

export const lookupRoutes: Route[] = [
  route(people.lookupOffer, async (app, asked) => {
    const numbers = await countUnknown(app.db, await filterOf(app.db, asked.query), await todayOf(app.db, asked.now));
    return { numbers, cost_micro: numbers * LOOKUP_PRICE, price_micro: LOOKUP_PRICE };
  }),
  route(people.lookup, async (app, asked) => {
    const filter = await filterOf(app.db, asked.body.filter);
    const today = await todayOf(app.db, asked.now);
    const numbers = await countUnknown(app.db, filter, today);
    if (numbers > asked.body.agreed)
      throw new Refusal(
        'clash',
        'moved',
        `By now there are ${numbers} numbers to look up, not ${asked.body.agreed}. Nothing was paid.`,
        {
          act: 'Look again.',
        },
      );
    if ((await balanceMicro(app.db)) < numbers * LOOKUP_PRICE)
      throw new Refusal('not paid for', 'balance', 'The balance does not cover the lookup. Nothing was paid.', {
        act: 'Add to the balance in Setup.',
      });
    let told = 0;
    let fixed = 0;
    // never more than was agreed, whoever comes in meanwhile
    while (told < numbers) {
      const batch = await nextUnknown(app.db, filter, today, Math.min(BATCH, numbers - told));
      if (batch.length === 0) break;
      const kinds = await kindsOf(app, batch);
      // what was answered is paid and written down together, batch by batch
      await app.db.transaction((tx) =>
        keepKinds(tx, new Map(batch.map((number, i) => [number, kinds[i]])), batch.length * LOOKUP_PRICE, asked.at),
      );
      told += batch.length;
      fixed += kinds.filter((each) => each === 'fixed').length;
    }
    await writeRecord(app.db, asked, 'looked up lines', '', { numbers: told });
    app.bus.changed('people');
    app.bus.changed('balance');
    return { numbers: told, fixed, cost_micro: told * LOOKUP_PRICE };
  }),
];

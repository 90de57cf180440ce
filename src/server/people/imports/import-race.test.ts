import { afterEach, describe, expect, test } from 'vitest';
import { Dice } from '../../../core/line/simulator/dice';
import type { ImportSettings } from '../../../core/api/people/import-settings';
import type { ImportCounts } from '../../../core/api/people/imports';
import { emptyDb, ENGINES } from '../../db/testing/engines';
import { until } from '../../engine/testing/sending';
import { openDesk, type Desk } from '../../http/testing/desk';
import { rounds } from '../../db/testing/rounds';

interface Import {
  id: number;
  state: string;
  version: number;
  checked_version: number;
  at_row: number;
  settings: ImportSettings;
  counts: ImportCounts;
  facts: { differs?: unknown };
}

let desk: Desk | undefined;
afterEach(() => desk?.close());

const ROWS = 40;
/** Two people at one bench: what each may do at any moment. */
const ACTS = ['list', 'tag', 'rows', 'reread', 'give up', 'delete the list'] as const;

/**
 * Whoever decides has seen counts: what came in is what those said, or nothing did and it is said. Rounds of a second
 * person who changes something at the same moment.
 */
const ROUNDS = rounds(25, 100);

async function inSomeOrder<A, B>(order: number, one: () => Promise<A>, other: () => Promise<B>): Promise<[A, B]> {
  if (order === 0) return Promise.all([one(), other()]);
  if (order === 1) {
    const [second, first] = await Promise.all([other(), one()]);
    return [first, second];
  }
  if (order === 2) return [await one(), await other()];
  const second = await other();
  return [await one(), second];
}

describe.each(ENGINES)('two people at one bench, on %s', (kind) => {
  test('what is said is what came in', async () => {
    const db = await emptyDb(kind);
    const here = (desk = await openDesk(db));
    const dice = new Dice(11);
    const tally = { decided: 0, refused: 0 };
    for (let round = 0; round < ROUNDS; round += 1) {
      const numbers = Array.from({ length: ROWS }, (_, i) => `207-${String(200 + round).padStart(3, '0')}-${String(1000 + i)}`);
      const body = `Mobile,First\n${numbers.map((number, i) => `${number},P${i}`).join('\n')}\n`;
      const upload = await here.ask('post', '/api/imports/file?name=a.csv', 'manage', { body });
      const { id } = (await upload.json()) as { id: number };
      const one = () => here.json<Import>('get', `/api/imports/${id}`);
      await until(async () => {
        const each = await one();
        return each.state === 'open' && each.at_row === 0 && each.checked_version === each.version;
      });
      const seen = await one();
      expect(seen.counts.new).toBe(ROWS);
      const act = ACTS[dice.between(0, ACTS.length - 1)];
      const put = (part: Partial<ImportSettings>) =>
        here.json('put', `/api/imports/${id}/settings`, { ...seen.settings, ...part });
      const other = async (): Promise<{ status: number }> => {
        switch (act) {
          case 'list':
            return put({ list: `List ${round}` });
          case 'tag':
            return put({ tags: [`tag ${round}`] });
          case 'rows':
            return put({ last_row: dice.between(1, ROWS) });
          case 'reread':
            return here.json('put', `/api/imports/${id}/source`, { encoding: 'windows-1252' });
          case 'give up':
            return here.json('delete', `/api/imports/${id}`);
          case 'delete the list':
            return here.json('delete', '/api/lists/1');
        }
      };
      const decide = () => here.json<{ title?: string }>('post', `/api/imports/${id}/decide`, { version: seen.version });
      // at the same moment, whoever is first; and one wholly before the other
      const [decided, changed] = await inSomeOrder(dice.between(0, 3), decide, other);
      expect([200, 404, 409, 422]).toContain(changed.status);
      expect([200, 409]).toContain(decided.status);
      const cameIn = async () =>
        (await db.query<{ n: number }>(`SELECT count(*) AS n FROM person WHERE number LIKE $1`, [`+1207${200 + round}%`])).rows[0]
          .n;
      if (decided.status === 200) {
        tally.decided += 1;
        await until(async () => (await one()).state === 'done');
        expect([act, await cameIn()]).toEqual([act, ROWS]);
        expect((await one()).facts.differs).toBeUndefined();
        // what was decided is what was seen: the other's change is not in it
        expect((await one()).settings).toEqual(seen.settings);
      } else {
        tally.refused += 1;
        expect(await cameIn()).toBe(0);
        await here.app.imports.settled(id);
      }
    }
    // both have happened, or this shows nothing
    expect(Math.min(tally.decided, tally.refused)).toBeGreaterThan(0);
  });
});

import { ruleTimes } from '../src/core/plan/times/rule-dates';
import { Temporal } from 'temporal-polyfill';
import { reserveCodes } from '../src/server/codes/code-store';
import { openEmbedded } from '../src/server/db/embedded';
import { preparedSnapshot } from '../src/server/db/snapshot';
import { race, say, sink, timed } from './figures';

const TEN_YEARS = 3653;

/** What the sheet computes beside plans: ten years of a rule, and codes reserved for very many. */
export async function sheet(): Promise<void> {
  const start = Temporal.PlainDate.from('2026-12-02');
  const rule = { rule: 'FREQ=DAILY', start: '2026-12-02T10:00' };
  if (ruleTimes(rule, '2026-12-02T00:00', TEN_YEARS).at(-1) !== `${start.add({ days: TEN_YEARS - 1 }).toString()}T10:00`)
    throw new Error('Ten years of every day are not that.');
  const [ours, floor] = await race(
    9,
    () => {
      sink.value += ruleTimes(rule, '2026-12-02T00:00', TEN_YEARS).length;
    },
    () => {
      // the same dates by adding a day at a time, as the calendar has them
      let date = start;
      for (let i = 0; i < TEN_YEARS; i += 1) {
        sink.value += date.toString().length;
        date = date.add({ days: 1 });
      }
    },
  );
  say({
    name: 'ten years of a daily rule',
    value: ours,
    unit: 'ms',
    against: 'a bare loop over days',
    ratio: floor / ours,
    bar: '≤ 20 ms',
  });

  const db = await openEmbedded({ snapshot: await preparedSnapshot('.cache', '0.5.16') });
  await db.query(`INSERT INTO code_list (id, name, folded, created_at) VALUES (1, 'Bench', 'bench', '2026-01-01')`);
  await db.query(`INSERT INTO code (list_id, code) SELECT 1, 'BELL-' || n FROM generate_series(1, 150000) AS n`);
  await db.exec('VACUUM (ANALYZE) code');
  const now = Date.parse('2026-12-02T20:50:00Z');
  const bare = await timed(() => db.query(`UPDATE code SET number = NULL WHERE id <= 100000`));
  await db.exec('VACUUM (ANALYZE) code');
  const reserved = await timed(async () => {
    if ((await reserveCodes(db, 1, 'broadcast-1', 100_000, now)) !== 100_000) throw new Error('Not all codes were reserved.');
  });
  if ((await reserveCodes(db, 1, 'broadcast-2', 100_000, now)) !== 50_000) throw new Error('A code was reserved twice.');
  say({
    name: '100,000 codes reserved',
    value: reserved,
    unit: 'ms',
    against: 'a bare UPDATE of as many rows',
    ratio: bare / reserved,
    bar: '≤ 2,000 ms',
  });
  await db.close();
}

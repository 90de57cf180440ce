import { describe, expect, test } from 'vitest';
import { readJournal } from '../../../carrier/journal';
import type { Db } from '../../db/db';
import { closeAfterEach, sendingWorld, until } from '../testing/sending';
import { makeRun } from '../testing/world';

/** A PostgreSQL server whose connections are killed, again and again, while a run goes and people write: nothing of it is ours to lose. */
closeAfterEach();
const rows = async <T = Record<string, unknown>>(db: Db, sql: string) => (await db.query<T>(sql)).rows;

/** Ends every connection but the one it is said by. */
const killAll = (db: Db) =>
  db.query(
    `SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE pid <> pg_backend_pid() AND datname = current_database()`,
  );

describe('connections that are killed, on postgres', () => {
  test('a run, its receipts, stops and other replies go on: nobody twice, nobody lost, nobody after their stop', async () => {
    const { db, engine, center, journal } = await sendingWorld('postgres', { throttle: 300 }, { mayFail: true });
    await makeRun(db, 400);
    await until(async () => center.accepted > 20);
    const numbers = (await rows<{ number: string }>(db, `SELECT number FROM outbound WHERE kind = 'run' ORDER BY id`)).map(
      (row) => row.number,
    );
    for (let round = 0; round < 8; round += 1) {
      const before = center.accepted;
      center.textFromPhone(numbers[numbers.length - 1 - round].slice(1), '72345', 'STOP');
      center.textFromPhone(numbers[round].slice(1), '72345', 'Is it running?');
      await killAll(db).catch(() => undefined);
      await until(
        async () =>
          center.accepted > before || (await rows(db, `SELECT 1 FROM run WHERE ended_at IS NOT NULL`).catch(() => [])).length > 0,
      );
    }
    await until(async () => (await rows(db, `SELECT 1 FROM run WHERE state = 'finished'`)).length === 1);
    await until(async () => (await rows(db, `SELECT 1 FROM inbound WHERE applied`)).length === 16);
    await until(async () => (await rows(db, `SELECT 1 FROM suppression`)).length === 8);
    // each once, and none after their stop was taken
    const seen = new Map<string, number>();
    const stopped = new Set<string>();
    const inbound = new Map<string, { number: string; text: string }>();
    const after: string[] = [];
    for (const line of readJournal(journal)) {
      if (line.what === 'inbound') inbound.set(line.id, line);
      else if (line.what === 'inbound_taken') {
        const said = inbound.get(line.id);
        if (said?.text === 'STOP') stopped.add(said.number);
      } else if (line.what === 'submit') {
        seen.set(line.number, (seen.get(line.number) ?? 0) + 1);
        // the confirmation of a stop is the one text that may follow it
        if (stopped.has(line.number) && numbers.includes(`+${line.number}`) && (seen.get(line.number) ?? 0) > 1)
          after.push(line.number);
      }
    }
    const runs = await rows<{ number: string; state: string }>(db, `SELECT number, state FROM outbound WHERE kind = 'run'`);
    expect(runs.filter(({ state }) => ['planned', 'handing_over'].includes(state))).toEqual([]);
    const confirmed = (await rows<{ number: string }>(db, `SELECT number FROM outbound WHERE kind = 'confirmation'`)).map((row) =>
      row.number.slice(1),
    );
    expect(after.filter((number) => !confirmed.includes(number))).toEqual([]);
    for (const [number, times] of seen) expect([number, times <= (confirmed.includes(number) ? 2 : 1)]).toEqual([number, true]);
    expect(engine.gateway.state.state).toBe('connected');
  });
});

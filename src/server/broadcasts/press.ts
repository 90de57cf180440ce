import { customAlphabet } from 'nanoid';
import type { Draft } from '../../core/plan/draft';
import { iso } from '../../core/clock';
import type { Param, Tx } from '../db/db';
import { isDuplicate } from '../db/db-error';
import { cancelPlanned, settleMoney } from '../engine/scheduler';
import { sweepRun } from '../engine/removals';
import { balanceMicro } from '../engine/texts';
import type { App } from '../http/app-context';
import { nothingHere, Problem } from '../http/problem';
import { writeRecord } from '../setup/record';
import { DUMMY_TOKEN, LINK_TOKEN, makePlan, type Plan } from './plan';
import { TAKEBACK_SECONDS } from './takeback';

/** 31 characters without look-alikes, all in the plain alphabet: 12 of them are 59.4 bits. */
const newLinkToken = customAlphabet('23456789abcdefghjkmnpqrstuvwxyz', LINK_TOKEN);
const CHUNK = 3000;

export interface Pressing {
  broadcastId: number;
  version: number;
  digest: string;
  /** Made by the browser for this press: the same press twice is one run. */
  pressId: string;
}

/**
 * The irreversible act. Plans anew, compares with what was shown, holds the money, and stores each text with its exact
 * words. If the world has moved, nothing goes and the answer says what differs.
 */
export async function press(
  app: Pick<App, 'db' | 'bus'>,
  pressing: Pressing,
  asked: { account: { id: number } | undefined; at: string; now: number },
): Promise<{ run_id: number; takeback_until: string }> {
  const before = await app.db.query<{ id: number; takeback_until: string }>(
    `SELECT id, takeback_until FROM run WHERE press_id = $1`,
    [pressing.pressId],
  );
  if (before.rows.length > 0) return { run_id: before.rows[0].id, takeback_until: before.rows[0].takeback_until };
  const broadcast = (
    await app.db.query<{ name: string; state: string; draft: Draft; version: number }>(
      `SELECT name, state, draft, version FROM broadcast WHERE id = $1`,
      [pressing.broadcastId],
    )
  ).rows[0];
  if (!broadcast) throw nothingHere();
  if (broadcast.state !== 'draft' && broadcast.state !== 'set_aside')
    throw new Problem(409, 'not-a-draft', `This broadcast is already ${broadcast.state}.`);
  if (broadcast.version !== pressing.version)
    throw new Problem(409, 'changed', 'The draft has been changed since your last look. Nothing was sent.', {
      act: 'Look again.',
    });
  const plan = await makePlan(app.db, broadcast.draft, asked.now);
  if (plan.summary.must_fix.length > 0)
    throw new Problem(422, 'not-ready', plan.summary.must_fix[0].message, {
      place: plan.summary.must_fix[0].place,
      kept: 'The draft is kept. Nothing was sent.',
      must_fix: plan.summary.must_fix,
    });
  if (plan.digest !== pressing.digest) {
    throw new Problem(409, 'moved', 'Something has changed since your last look. Nothing was sent.', {
      act: 'Look again.',
      plan: plan.summary,
    });
  }
  const takeback = iso(asked.now + TAKEBACK_SECONDS * 1000);
  const runId = await begin(app, pressing, broadcast.name, broadcast.draft, plan, takeback, asked);
  if (runId.already) return { run_id: runId.id, takeback_until: takeback };
  await store(app, runId.id, plan);
  await app.db.transaction(async (tx) => {
    await sweepRun(tx, runId.id, asked.at); // whoever said stop while it was being written
    await tx.query(`UPDATE run SET state = 'waiting' WHERE id = $1 AND state = 'planning'`, [runId.id]);
    await tx.query(`INSERT INTO run_event (run_id, at, what, account_id) VALUES ($1, $2::timestamptz, 'agreed', $3)`, [
      runId.id,
      asked.at,
      asked.account?.id ?? null,
    ]);
  });
  app.bus.changed('runs');
  app.bus.changed('balance');
  return { run_id: runId.id, takeback_until: takeback };
}

async function begin(
  app: Pick<App, 'db'>,
  pressing: Pressing,
  name: string,
  draft: Draft,
  plan: Plan,
  takeback: string,
  asked: { account: { id: number } | undefined; at: string },
): Promise<{ id: number; already: boolean }> {
  const { summary } = plan;
  try {
    const id = await app.db.transaction(async (tx) => {
      await tx.query(`SELECT id FROM workspace FOR UPDATE`); // one at a time: two presses must not spend the same money
      const balance = await balanceMicro(tx);
      if (balance < summary.cost_micro)
        throw new Problem(402, 'balance', 'The balance does not cover it any more. Nothing was sent.', {
          kept: 'The draft is kept.',
        });
      const taken = await tx.query(
        `UPDATE broadcast SET state = 'scheduled', updated_at = $3::timestamptz WHERE id = $1 AND version = $2 AND state IN ('draft', 'set_aside')`,
        [pressing.broadcastId, pressing.version, asked.at],
      );
      if (taken.rowCount === 0) throw new Problem(409, 'changed', 'Someone else has just changed or sent this broadcast.', {});
      const { rows } = await tx.query<{ id: number }>(
        `INSERT INTO run (broadcast_id, state, press_id, digest, plan, name, sender_id, purpose, people, parts, cost_micro, takeback_until, due_at, last_due_at, not_after, pressed_at, account_id)
         VALUES ($1, 'planning', $2, $3, $4::jsonb, $5, $6, $7, $8, $9, $10, $11::timestamptz, $12::timestamptz, $13::timestamptz, $14::timestamptz, $15::timestamptz, $16) RETURNING id`,
        [
          pressing.broadcastId,
          pressing.pressId,
          plan.digest,
          JSON.stringify({ ...summary, words: draft.words }),
          name,
          summary.sender?.id ?? null,
          draft.purpose,
          summary.people,
          summary.parts,
          summary.cost_micro,
          takeback,
          summary.first,
          summary.last,
          summary.not_after,
          asked.at,
          asked.account?.id ?? null,
        ],
      );
      await tx.query(
        `INSERT INTO balance_entry (at, kind, amount_micro, run_id, note) VALUES ($1::timestamptz, 'hold', $2, $3, $4)`,
        [asked.at, -summary.cost_micro, rows[0].id, name],
      );
      await writeRecord(tx, asked, 'agreed to send', name, { run: rows[0].id, people: summary.people, parts: summary.parts });
      return rows[0].id;
    });
    return { id, already: false };
  } catch (error) {
    if (!isDuplicate(error)) throw error;
    const { rows } = await app.db.query<{ id: number }>(`SELECT id FROM run WHERE press_id = $1`, [pressing.pressId]);
    return { id: rows[0].id, already: true };
  }
}

/** Every text with its exact words, in chunks, so that other requests slip between. */
async function store(app: Pick<App, 'db'>, runId: number, plan: Plan): Promise<void> {
  const bulk = app.db.lane('bulk');
  for (let from = 0; from < plan.texts.length; from += CHUNK) {
    const chunk = plan.texts.slice(from, from + CHUNK);
    await bulk.transaction(async (tx) => {
      const ids = (
        await tx.query<{ id: number }>(`SELECT nextval('outbound_id_seq') AS id FROM generate_series(1, $1::int)`, [chunk.length])
      ).rows.map((row) => row.id);
      const links: Param[][] = [];
      const rows = chunk.map((text, i): Param[] => {
        let body = text.text;
        if (text.hasLink) {
          const token = newLinkToken();
          links.push([token, runId, ids[i], text.number, plan.linkAddress]);
          body = body.replaceAll(`${plan.linkPrefix}${DUMMY_TOKEN}`, `${plan.linkPrefix}${token}`);
        }
        return [
          ids[i],
          runId,
          'run',
          text.person.known ? text.person.id : null,
          text.number,
          plan.summary.sender?.id,
          body,
          text.measure.alphabet,
          text.measure.parts,
          text.cost,
          iso(text.due),
          plan.summary.not_after,
        ];
      });
      await tx.copyIn(
        'outbound',
        [
          'id',
          'run_id',
          'kind',
          'person_id',
          'number',
          'sender_id',
          'body',
          'alphabet',
          'parts',
          'cost_micro',
          'due_at',
          'not_after',
        ],
        [rows],
      );
      if (links.length > 0) await tx.copyIn('link', ['token', 'run_id', 'outbound_id', 'number', 'address'], [links]);
    });
  }
  await bulk.exec('ANALYZE outbound');
}

/**
 * Takes a run back before its first text: nothing has gone, the money returns, and the broadcast is a draft again
 * (or set aside, when it is taken back to be edited).
 */
export async function takeBack(
  tx: Tx,
  runId: number,
  as: 'draft' | 'set_aside' | 'canceled',
  by: string,
  at: string,
): Promise<void> {
  const locked = await tx.query<{ broadcast_id: number }>(
    `SELECT broadcast_id FROM run WHERE id = $1 AND state = 'waiting' FOR UPDATE`,
    [runId],
  );
  if (locked.rowCount === 0)
    throw new Problem(409, 'too-late', 'It has started and cannot be taken back; you can stop the rest.');
  await cancelPlanned(tx, runId, 'taken back', at);
  await settleMoney(tx, runId, at);
  await tx.query(`UPDATE run SET state = 'stopped', ended_at = $2::timestamptz, note = $3 WHERE id = $1`, [runId, at, by]);
  await tx.query(`UPDATE broadcast SET state = $2, version = version + 1, updated_at = $3::timestamptz WHERE id = $1`, [
    locked.rows[0].broadcast_id,
    as,
    at,
  ]);
}

import { replies } from '../../core/api/desk/replies';
import { writeRecord } from '../db/record';
import {
  optOut,
  ANSWER_USEFUL,
  queueText,
  senderAnswering,
  accountsOfDesk,
  bringBack,
  claim,
  closeAll,
  closeUpTo,
  lockConversation,
  notAStop,
  refuseOvertaken,
} from '../engine/for-others';
import { nothingHere, Refusal } from '../../core/api/refusal';
import { route, who, type Asked, type Route } from '../http/route';
import { detachNumber } from '../address-book/for-others';
import { answerProof } from './answer-words';
import {
  allConversations,
  conversationsOfRun,
  countWaiting,
  findConversations,
  nameOfRun,
  PAGE,
  waitingConversations,
} from './conversation-queries';
import { personOf, threadOf } from './thread';

const NEWEST = Number.MAX_SAFE_INTEGER;

const asker = (asked: Asked<never, never> | Pick<Asked, 'account' | 'at'>) => ({ account: who(asked).id, at: asked.at });

export const replyRoutes: Route[] = [
  route(replies.list, async (app, asked) => {
    const { view = 'waiting', search = '', after, run } = asked.query;
    const counts = await countWaiting(app.db, asker(asked));
    if (run !== undefined) {
      const found = await conversationsOfRun(app.db, run, Number(after ?? NEWEST) || NEWEST);
      return {
        conversations: found,
        counts,
        next: found.length < PAGE ? null : String(found[found.length - 1].last.id),
        run: (await nameOfRun(app.db, run)) ?? null,
      };
    }
    if (view === 'all' || search.trim() !== '') {
      const before = Number(after ?? NEWEST) || NEWEST;
      const found = search.trim()
        ? await findConversations(app.db, search.trim(), before)
        : await allConversations(app.db, asker(asked).account, before);
      return {
        conversations: found,
        counts,
        next: found.length < PAGE ? null : String(found[found.length - 1].last.id),
        run: null,
      };
    }
    const [since, ...number] = (after ?? '').split(' ');
    const page = await waitingConversations(
      app.db,
      asker(asked),
      view,
      Number.isNaN(Date.parse(since)) ? undefined : { since, number: number.join(' ') },
    );
    const last = page.at(-1);
    return {
      conversations: page,
      counts,
      next: page.length < PAGE || !last ? null : `${last.since ?? ''} ${last.number}`,
      run: null,
    };
  }),
  route(replies.thread, async (app, asked) => {
    const { number, before } = asked.query;
    if (before !== undefined && Number.isNaN(Date.parse(before))) throw nothingHere();
    return threadOf(app.db, number, before ?? null);
  }),
  route(replies.proof, async (app, asked) =>
    answerProof(app.db, { ...asked.body, person: await personOf(app.db, asked.body.number), now: asked.now }),
  ),
  route(replies.answer, async (app, asked) => {
    const { number, words, seen, answered } = asked.body;
    await app.db.transaction(async (tx) => {
      await lockConversation(tx, number);
      await refuseOvertaken(tx, number, answered);
      const person = await personOf(tx, number);
      const { text, problems } = await answerProof(tx, { number, person, words, now: asked.now });
      if (problems.length > 0)
        throw new Refusal('wrong', 'words', problems[0], { place: 'words', kept: 'Your words are still here.' });
      const sender = await senderAnswering(tx, number);
      if (!sender)
        throw new Refusal('wrong', 'no-sender', 'There is no sender that takes replies.', { act: 'Add one in Setup.' });
      await queueText(
        tx,
        {
          kind: 'reply',
          personId: person,
          number,
          senderId: sender.id,
          body: text,
          usefulFor: ANSWER_USEFUL,
          accountId: who(asked).id,
        },
        asked.now,
      );
      await closeUpTo(tx, number, seen, asked.at);
      await tx.query(
        `UPDATE conversation SET claimed_by = $2, claimed_at = $3::timestamptz WHERE number = $1 AND claimed_by IS DISTINCT FROM $2::bigint`,
        [number, who(asked).id, asked.at],
      );
      await writeRecord(tx, asked, 'answered a person', person === null ? '' : String(person));
    });
    app.bus.work();
    return {};
  }),
  route(replies.claim, async (app, asked) => {
    const { number, account_id, from } = asked.body;
    await app.db.transaction(async (tx) => {
      if (account_id !== null && !(await accountsOfDesk(tx)).some(({ id }) => id === account_id)) throw nothingHere();
      await claim(tx, number, account_id, from, asked.at);
    });
    return {};
  }),
  route(replies.putAway, async (app, asked) => {
    const { number, seen, until } = asked.body;
    await app.db.transaction(async (tx) => {
      await lockConversation(tx, number);
      if (until === null) {
        await closeUpTo(tx, number, seen, asked.at);
        await tx.query(`UPDATE conversation SET claimed_by = NULL, claimed_at = NULL WHERE number = $1`, [number]);
      } else {
        if (Date.parse(until) <= asked.now)
          throw new Refusal('wrong', 'past', 'That time is past.', { place: 'until', kept: 'Nothing was put away.' });
        await tx.query(`UPDATE conversation SET later_at = $2::timestamptz WHERE number = $1`, [number, until]);
      }
    });
    app.bus.work();
    return {};
  }),
  route(replies.bringBack, async (app, asked) => {
    await app.db.transaction(async (tx) => {
      await lockConversation(tx, asked.body.number);
      if (!(await bringBack(tx, asked.body.number))) throw nothingHere();
    });
    return {};
  }),
  route(replies.notStop, async (app, asked) => {
    const { number, seen } = asked.body;
    await app.db.transaction(async (tx) => {
      await lockConversation(tx, number);
      await notAStop(tx, number, seen);
      await writeRecord(tx, asked, 'decided that a reply was no stop', `reply ${seen}`);
    });
    app.bus.work();
    return {};
  }),
  route(replies.optOut, async (app, asked) => {
    const { number, wrong_number } = asked.body;
    const runs = await app.db.transaction(async (tx) => {
      const { rows } = await tx.query<{ id: number; body: string }>(
        `SELECT id, body FROM inbound WHERE number = $1 ORDER BY id DESC LIMIT 1`,
        [number],
      );
      if (rows.length === 0) throw nothingHere();
      const how = wrong_number ? 'wrong number' : 'said so in a reply';
      const { runs: touched } = await optOut(tx, { number, how, words: rows[0].body }, asked.at);
      if (wrong_number) await detachNumber(tx, number, asked.at);
      await closeAll(tx, number, asked.at);
      await writeRecord(tx, asked, wrong_number ? 'wrong number' : 'opted a number out', `reply ${rows[0].id}`);
      return touched;
    });
    for (const run of runs) app.bus.changed('run', run);
    return {};
  }),
  route(replies.desk, async (app) => ({ accounts: await accountsOfDesk(app.db) })),
];

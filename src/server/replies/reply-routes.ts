import { replies } from '../../core/api/replies';
import { writeRecord } from '../db/record';
import { decided, optOut } from '../engine/opt-out';
import { idOf, nothingHere } from '../http/problem';
import { route, type Route } from '../http/route';
import { detachNumber } from '../people/person-store';
import { closeRepliesOf, closeReply, listReplies, replyById } from './reply-queries';

export const replyRoutes: Route[] = [
  route(replies.list, async (app, asked) => ({ replies: await listReplies(app.db, asked.query.done === '1') })),
  route(replies.done, async (app, asked) => {
    await app.db.transaction(async (tx) => {
      const number = await closeReply(tx, idOf(asked.params.id), asked.at);
      if (number !== undefined) await decided(tx, number);
    });
    app.bus.work();
    return {};
  }),
  route(replies.optOut, async (app, asked) => {
    const id = idOf(asked.params.id);
    const { wrong_number } = asked.body;
    const runs = await app.db.transaction(async (tx) => {
      const reply = await replyById(tx, id);
      if (!reply) throw nothingHere();
      const how = wrong_number ? 'wrong number' : 'said so in a reply';
      const { runs: touched } = await optOut(tx, { number: reply.number, how, words: reply.body }, asked.at);
      if (wrong_number) await detachNumber(tx, reply.number, asked.at);
      await closeRepliesOf(tx, reply.number, asked.at);
      await writeRecord(tx, asked, wrong_number ? 'wrong number' : 'opted a number out', `reply ${id}`);
      return touched;
    });
    for (const run of runs) app.bus.changed('run', run);
    return {};
  }),
];

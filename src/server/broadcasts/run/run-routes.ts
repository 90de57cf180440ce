import { alarms, runs } from '../../../core/api/sending/runs';
import type { RunEvent } from '../../../core/runs/life';
import { writeRecord } from '../../db/record';
import type { App } from '../../app-context';
import { nothingHere, Refusal } from '../../../core/api/refusal';
import { idOf, route, who, type Asked, type Route } from '../../http/route';
import { goOnOtherDay, moveRun } from '../../engine/for-others';
import { noteOnRun, runById, seeAlarm } from './run-queries';

/** Something happens to a run by somebody of the desk: in one transaction, with a note on its course. */
async function move(
  app: App,
  id: number,
  event: RunEvent,
  what: string,
  asked: Pick<Asked, 'account' | 'at' | 'now'>,
  record = what,
): Promise<Record<never, never>> {
  await app.db.transaction(async (tx) => {
    const moved = await moveRun(tx, id, event, asked.now);
    if (!moved) throw nothingHere();
    if (moved.refused !== undefined)
      throw new Refusal(
        'clash',
        'state',
        event.is === 'agreed' ? 'The run does not wait for anyone any more.' : `The run is ${moved.refused} already.`,
      );
    await noteOnRun(tx, id, what, asked);
    await writeRecord(tx, asked, record, `run ${id}`);
  });
  app.bus.changed('run', id);
  app.bus.work();
  return {};
}

export const runRoutes: Route[] = [
  route(alarms.seen, async (app, asked) => {
    const run = await seeAlarm(app.db, idOf(asked.params.id), who(asked).id, asked.at);
    if (run === undefined) throw nothingHere();
    await writeRecord(app.db, asked, 'has seen what is wrong with a run', `run ${run}`);
    app.bus.changed('run', run);
    return {};
  }),
  route(runs.get, async (app, asked) => {
    const answer = await runById(app.db, idOf(asked.params.id), asked.at);
    if (!answer) throw nothingHere();
    return answer;
  }),
  route(runs.agree, (app, asked) =>
    move(app, idOf(asked.params.id), { is: 'agreed' }, 'agreed', asked, 'agreed to a run that differs'),
  ),
  route(runs.otherDay, async (app, asked) => {
    const id = idOf(asked.params.id);
    await app.db.transaction(async (tx) => {
      if (!(await goOnOtherDay(tx, id, asked.now)))
        throw new Refusal('clash', 'state', 'Nothing of the run waits for that any more.');
      await noteOnRun(tx, id, 'goes on, though its words name another day', asked);
      await writeRecord(tx, asked, 'let texts go that name another day', `run ${id}`);
    });
    app.bus.changed('run', id);
    app.bus.work();
    return {};
  }),
  route(runs.pause, (app, asked) => move(app, idOf(asked.params.id), { is: 'pause' }, 'paused', asked)),
  route(runs.resume, (app, asked) => move(app, idOf(asked.params.id), { is: 'resume' }, 'resumed', asked)),
  // nothing more is handed over from this moment; what is on its way comes to its end, and then the run is paid for
  route(runs.cancelRest, (app, asked) =>
    move(app, idOf(asked.params.id), { is: 'cancel rest', by: who(asked).name }, 'rest canceled', asked),
  ),
];

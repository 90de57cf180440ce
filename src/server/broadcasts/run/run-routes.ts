import { alarms, runs } from '../../../core/api/sending/runs';
import type { Tx } from '../../db/db';
import { writeRecord } from '../../db/record';
import type { App } from '../../app-context';
import { nothingHere, Refusal } from '../../../core/api/refusal';
import { idOf, route, who, type Asked, type Route } from '../../http/route';
import { agreeTo, moveRun, noteOnRun, runById, sayWhyStopped, seeAlarm, type RunState } from './run-queries';

/** Moves a run from one state to another in one transaction, with a note on its course. */
async function move(
  app: App,
  id: number,
  from: readonly RunState[],
  to: RunState,
  what: string,
  asked: Pick<Asked, 'account' | 'at'>,
  also?: (tx: Tx) => Promise<void>,
): Promise<Record<never, never>> {
  await app.db.transaction(async (tx) => {
    const done = await moveRun(tx, id, from, to);
    if (done === undefined) throw nothingHere();
    if (done !== 'moved') throw new Refusal('clash', 'state', `The run is ${done} already.`);
    await also?.(tx);
    await noteOnRun(tx, id, what, asked);
    await writeRecord(tx, asked, what, `run ${id}`);
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
  route(runs.agree, async (app, asked) => {
    const id = idOf(asked.params.id);
    await app.db.transaction(async (tx) => {
      if (!(await agreeTo(tx, id))) throw new Refusal('clash', 'state', 'The run does not wait for anyone any more.');
      await noteOnRun(tx, id, 'agreed', asked);
      await writeRecord(tx, asked, 'agreed to a run that differs', `run ${id}`);
    });
    app.bus.changed('run', id);
    return {};
  }),
  route(runs.pause, (app, asked) => move(app, idOf(asked.params.id), ['sending'], 'paused', 'paused', asked)),
  route(runs.resume, (app, asked) => move(app, idOf(asked.params.id), ['paused'], 'sending', 'resumed', asked)),
  // nothing more is handed over from this moment; what is on its way comes to its end, and then the run is paid for
  route(runs.cancelRest, (app, asked) => {
    const id = idOf(asked.params.id);
    return move(app, id, ['sending', 'paused'], 'stopped', 'rest canceled', asked, (tx) =>
      sayWhyStopped(tx, id, `canceled by ${who(asked).name}`),
    );
  }),
];

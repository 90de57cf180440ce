import { testers } from '../../core/api/sending/testers';
import { PHONE_PROBLEM_WORDS, readPhone } from '../../core/phone/read';
import { oneLine } from '../../core/text/tidy';
import { isDuplicate } from '../db/db-error';
import { writeRecord } from '../db/record';
import { nothingHere, Refusal } from '../../core/api/refusal';
import { idOf, route, type Route } from '../http/route';
import { allTesters, deleteTester, insertTester, setCopies } from './tester-queries';
import { workspaceOf } from './workspace';

export const testerRoutes: Route[] = [
  route(testers.list, async (app) => ({ testers: await allTesters(app.db) })),
  route(testers.add, async (app, asked) => {
    const { name, copies } = asked.body;
    const read = readPhone(asked.body.number, { country: (await workspaceOf(app.db)).country });
    if (!read.ok)
      throw new Refusal('wrong', 'number', `“${asked.body.number}” ${PHONE_PROBLEM_WORDS[read.problem]}.`, {
        place: 'number',
        kept: 'What you typed is still here.',
      });
    try {
      const id = await insertTester(app.db, { name: oneLine(name), number: read.number, copies, at: asked.at });
      await writeRecord(app.db, asked, 'added a number of the desk', name, { copies });
      return { id };
    } catch (error) {
      if (isDuplicate(error)) throw new Refusal('clash', 'number', `${read.number} is there already.`, { place: 'number' });
      throw error;
    }
  }),
  route(testers.change, async (app, asked) => {
    const name = await setCopies(app.db, idOf(asked.params.id), asked.body.copies);
    if (name === undefined) throw nothingHere();
    await writeRecord(app.db, asked, asked.body.copies ? 'gives copies of every broadcast to' : 'gives no more copies to', name);
    return {};
  }),
  route(testers.remove, async (app, asked) => {
    const name = await deleteTester(app.db, idOf(asked.params.id));
    if (name === undefined) throw nothingHere();
    await writeRecord(app.db, asked, 'removed a number of the desk', name);
    return {};
  }),
];

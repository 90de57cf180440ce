import { dependants } from '../../../core/api/people/dependants';
import { MOST_DEPENDANTS } from '../../../core/plan/draft/draft';
import { writeRecord } from '../../db/record';
import { nothingHere, Refusal } from '../../../core/api/refusal';
import { idOf, route, type Route } from '../../http/route';
import {
  deleteDependant,
  dependantIds,
  dependantOf,
  listDependants,
  putContact,
  saveDependant,
  takeContact,
} from './dependant-queries';

export const dependantRoutes: Route[] = [
  route(dependants.list, (app, asked) => listDependants(app.db, asked.query)),
  // before the one of an id: the first that fits answers
  route(dependants.ids, async (app, asked) => {
    const ids = await dependantIds(app.db, asked.query, MOST_DEPENDANTS);
    if (ids === 'too many')
      throw new Refusal(
        'wrong',
        'many',
        `More than ${MOST_DEPENDANTS.toLocaleString('en-US')} are too many to be chosen one by one.`,
        {
          act: 'Make a segment of their contacts.',
        },
      );
    return { ids };
  }),
  route(dependants.get, async (app, asked) => {
    const found = await dependantOf(app.db, idOf(asked.params.id));
    if (!found) throw nothingHere();
    return found;
  }),
  route(dependants.make, async (app, asked) => {
    const person = idOf(asked.params.id);
    const id = await app.db.transaction(async (tx) => {
      const made = await saveDependant(tx, undefined, asked.body.dependant, asked.at);
      if (made === undefined || !(await putContact(tx, made, person, asked.body.guard))) throw nothingHere();
      await writeRecord(tx, asked, 'added a dependant', String(made));
      return made;
    });
    return { id };
  }),
  route(dependants.change, async (app, asked) => {
    const id = idOf(asked.params.id);
    await app.db.transaction(async (tx) => {
      if ((await saveDependant(tx, id, asked.body, asked.at)) === undefined) throw nothingHere();
      await writeRecord(tx, asked, 'changed a dependant', String(id));
    });
    return {};
  }),
  route(dependants.remove, async (app, asked) => {
    const id = idOf(asked.params.id);
    if (!(await deleteDependant(app.db, id))) throw nothingHere();
    await writeRecord(app.db, asked, 'deleted a dependant', String(id));
    return {};
  }),
  route(dependants.putContact, async (app, asked) => {
    const [id, person] = [idOf(asked.params.id), idOf(asked.params.person)];
    if (!(await putContact(app.db, id, person, asked.body))) throw nothingHere();
    await writeRecord(app.db, asked, 'changed a contact', String(id), { person, must_not_receive: asked.body.must_not_receive });
    return {};
  }),
  route(dependants.takeContact, async (app, asked) => {
    const [id, person] = [idOf(asked.params.id), idOf(asked.params.person)];
    await takeContact(app.db, id, person);
    await writeRecord(app.db, asked, 'took a contact away', String(id), { person });
    return {};
  }),
];

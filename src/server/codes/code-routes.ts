import { codes, type Added } from '../../core/api/sending/codes';
import { MOST_CODES, type ReadCodes } from '../../core/plan/words/codes';
import { oneLine } from '../../core/text/tidy';
import { writeRecord } from '../db/record';
import type { App } from '../app-context';
import { refuseAlike } from '../db/named-alike';
import { nothingHere, Refusal } from '../../core/api/refusal';
import { idOf, fileOf, route, who, type Route } from '../http/route';
import { codeLists, deleteCodeList, findCodes, hasCodeList, insertCodeList, insertCodes, codesComing } from './code-queries';

async function readUpload(app: App, path: string): Promise<ReadCodes> {
  const read = await app.handedIn.read('codes', { path });
  if (read.codes.length === 0)
    throw new Refusal('wrong', 'codes', 'There is no code in it.', { place: 'codes', kept: 'Nothing was changed.' });
  if (read.more)
    throw new Refusal(
      'wrong',
      'codes',
      `It holds more than ${MOST_CODES.toLocaleString('en-US')} codes; that is as many as can be brought in at once.`,
      {
        place: 'codes',
        kept: 'Nothing was changed.',
        act: 'Split the file, and add the second half to the list of the first.',
      },
    );
  return read;
}

/** Everything of what was read into a list that is there. */
async function bringIn(app: App, id: number, read: ReadCodes): Promise<Added> {
  const not = await insertCodes(app.db, id, read.codes, () => app.bus.changed('codes'));
  const { twice, blank, wrong, heading } = read;
  return { id, added: read.codes.length - not.here - not.elsewhere, ...not, twice, blank, wrong, heading: heading ?? null };
}

export const codeRoutes: Route[] = [
  route(codes.lists, async (app, asked) => ({ lists: await codeLists(app.db, asked.at) })),
  route(codes.find, async (app, asked) => ({ codes: await findCodes(app.db, asked.query.search) })),
  route(codes.make, async (app, asked) => {
    const read = await readUpload(app, fileOf(asked).path);
    const name = oneLine(asked.query.name);
    await refuseAlike(app.db, 'list of codes', name, { place: 'name' });
    const id = await app.db.transaction(async (tx) => {
      const made = await insertCodeList(tx, { name, account: who(asked).id, at: asked.at });
      if (made === undefined)
        throw new Refusal('clash', 'name', `There is a list of codes “${name}” already.`, {
          place: 'name',
          kept: 'Nothing was changed.',
          act: 'Add to that one, or give this another name.',
        });
      await codesComing(tx, made, read.codes.length);
      await writeRecord(tx, asked, 'brought in codes', name, { codes: read.codes.length });
      return made;
    });
    return bringIn(app, id, read);
  }),
  route(codes.add, async (app, asked) => {
    const id = idOf(asked.params.id);
    const read = await readUpload(app, fileOf(asked).path);
    await app.db.transaction(async (tx) => {
      if (!(await codesComing(tx, id, read.codes.length))) throw nothingHere();
      await writeRecord(tx, asked, 'brought in codes', `list ${id}`, { codes: read.codes.length });
    });
    return bringIn(app, id, read);
  }),
  route(codes.remove, async (app, asked) => {
    const id = idOf(asked.params.id);
    if (!(await hasCodeList(app.db, id))) throw nothingHere();
    if (!(await deleteCodeList(app.db, id)))
      throw new Refusal('clash', 'given', 'Codes of this list were given already, or are held for a run.', { kept: 'It stays.' });
    return {};
  }),
];

import { codes, type Added } from '../../core/api/codes';
import type { ReadCodes } from '../../core/plan/codes';
import { oneLine } from '../../core/text/tidy';
import { writeRecord } from '../db/record';
import type { App } from '../http/app-context';
import { refuseAlike } from '../http/named-alike';
import { idOf, nothingHere, Problem } from '../http/problem';
import { fileOf, route, who, type Route } from '../http/route';
import { codeLists, deleteCodeList, findCodes, hasCodeList, insertCodeList, insertCodes } from './code-queries';

async function readUpload(app: App, path: string): Promise<ReadCodes> {
  const read = await app.handedIn.read('codes', { path });
  if (read.codes.length === 0)
    throw new Problem(422, 'codes', 'There is no code in it.', { place: 'codes', kept: 'Nothing was changed.' });
  return read;
}

const said = (id: number, { codes: all, twice, blank, wrong, heading }: ReadCodes, here: number): Added => ({
  id,
  added: all.length - here,
  here,
  twice,
  blank,
  wrong,
  heading: heading ?? null,
});

export const codeRoutes: Route[] = [
  route(codes.lists, async (app, asked) => ({ lists: await codeLists(app.db, asked.at) })),
  route(codes.find, async (app, asked) => ({ codes: await findCodes(app.db, asked.query.search) })),
  route(codes.make, async (app, asked) => {
    const read = await readUpload(app, fileOf(asked).path);
    const name = oneLine(asked.query.name);
    await refuseAlike(app.db, 'list of codes', name, { place: 'name' });
    return app.db.transaction(async (tx) => {
      const id = await insertCodeList(tx, { name, account: who(asked).id, at: asked.at });
      if (id === undefined)
        throw new Problem(409, 'name', `There is a list of codes “${name}” already.`, {
          place: 'name',
          kept: 'Nothing was changed.',
          act: 'Add to that one, or give this another name.',
        });
      const here = await insertCodes(tx, id, read.codes);
      await writeRecord(tx, asked, 'brought in codes', name, { codes: read.codes.length });
      return said(id, read, here);
    });
  }),
  route(codes.add, async (app, asked) => {
    const id = idOf(asked.params.id);
    const read = await readUpload(app, fileOf(asked).path);
    return app.db.transaction(async (tx) => {
      if (!(await hasCodeList(tx, id))) throw nothingHere();
      const here = await insertCodes(tx, id, read.codes);
      await writeRecord(tx, asked, 'brought in codes', `list ${id}`, { codes: read.codes.length - here });
      return said(id, read, here);
    });
  }),
  route(codes.remove, async (app, asked) => {
    const id = idOf(asked.params.id);
    if (!(await hasCodeList(app.db, id))) throw nothingHere();
    if (!(await deleteCodeList(app.db, id)))
      throw new Problem(409, 'given', 'Codes of this list were given already, or are held for a run.', { kept: 'It stays.' });
    return {};
  }),
];

import { templates, type PreparedKind, type PreparedText } from '../../core/api/sending/templates';
import { oneLine } from '../../core/text/tidy';
import { nothingHere, Refusal } from '../../core/api/refusal';
import { idOf, route, who, type Route } from '../http/route';
import { workspaceOf } from '../setup/for-others';
import {
  deletePrepared,
  earlierTexts,
  foldersOf,
  insertPrepared,
  listPrepared,
  preparedById,
  savePrepared,
} from './template-queries';

const WHAT: Record<PreparedKind, string> = { template: 'template', piece: 'saved piece', answer: 'ready answer' };

/** As it is kept: one line of folder and name, no blank words; a piece is in no folder and brings no links. */
function tidy(kind: PreparedKind, given: Pick<PreparedText, 'folder' | 'name' | 'words' | 'links'>) {
  const words = Object.fromEntries(Object.entries(given.words).filter(([, text]) => text.trim() !== ''));
  if (Object.keys(words).length === 0)
    throw new Refusal('wrong', 'words', `There are no words in this ${WHAT[kind]}.`, {
      place: 'words',
      kept: 'Nothing was changed.',
    });
  return {
    kind,
    name: oneLine(given.name),
    words,
    folder: kind === 'template' ? oneLine(given.folder) : '',
    links: kind === 'template' ? given.links.filter(({ address }) => address !== '') : [],
  };
}

const taken = (kind: PreparedKind, name: string) =>
  new Refusal('clash', 'name', `There is a ${WHAT[kind]} “${name}”${kind === 'template' ? ' in this folder' : ''} already.`, {
    place: 'name',
    kept: 'Your words are still on this page.',
    act: 'Give it another name, or change that one.',
  });

export const templateRoutes: Route[] = [
  route(templates.list, (app, asked) => listPrepared(app.db, asked.query)),
  route(templates.folders, async (app) => ({ folders: await foldersOf(app.db) })),
  route(templates.earlier, async (app, asked) => earlierTexts(app.db, (await workspaceOf(app.db)).languages[0], asked.query)),
  route(templates.make, async (app, asked) => {
    const text = tidy(asked.body.kind, asked.body);
    const id = await insertPrepared(app.db, { ...text, account: who(asked).id, at: asked.at });
    if (id === undefined) throw taken(text.kind, text.name);
    return { id };
  }),
  route(templates.change, async (app, asked) => {
    const id = idOf(asked.params.id);
    const before = await preparedById(app.db, id);
    if (!before) throw nothingHere();
    const text = tidy(before.kind, asked.body);
    const done = await savePrepared(app.db, id, {
      ...text,
      version: asked.body.version,
      account: who(asked).id,
      at: asked.at,
    });
    if (done === 'taken') throw taken(text.kind, text.name);
    if (done === 'changed')
      throw new Refusal('clash', 'changed', `Someone else has changed “${before.name}” since you opened it.`, {
        kept: 'Your words are still on this page.',
        act: 'Copy them before you open it again.',
      });
    return { version: done };
  }),
  route(templates.remove, async (app, asked) => {
    if (!(await deletePrepared(app.db, idOf(asked.params.id)))) throw nothingHere();
    return {};
  }),
];

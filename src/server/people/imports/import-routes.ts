import { imports, UNDO_DAYS, type Staged } from '../../../core/api/people/imports';
import { readFile, rename } from 'node:fs/promises';
import { iso } from '../../../core/clock';
import type { Queryable } from '../../db/db';
import { UnreadableFile } from '../../files/table';
import type { App } from '../../app-context';
import { Refusal } from '../../../core/api/refusal';
import { idOf, fileOf, route, type Asked, type Route } from '../../http/route';
import { writeRecord } from '../../db/record';
import { syncPath } from '../../db/store/on-disk';
import { questionsOf, refuseStrangers, refuseUnanswered } from './bench-questions';
import { correctCell } from './correct-cell';
import { decide } from './decide-import';
import { indexField } from '../groups/field-index';
import { readerOf } from './import-rules';
import {
  beginImport,
  beginUndo,
  busy,
  changeBench,
  giveUp,
  historyOf,
  importOf,
  keptPeople,
  openImport,
  rowsOf,
} from './import-store';

/** The import of an upload, which is kept under its id until it is decided. */
async function begin(app: App, name: string, asked: Pick<Asked, 'upload' | 'account' | 'at'>, pasted: boolean): Promise<number> {
  const id = await beginImport(app.db, { name, pasted, accountId: asked.account?.id ?? null, at: asked.at });
  await rename(fileOf(asked).path, app.imports.pathOf(id));
  syncPath(app.imports.uploads);
  return id;
}

/** An import as the bench shows it: with the questions that are open, while it is on the bench. */
async function shown(db: Queryable, id: number): Promise<Staged> {
  const staged = await importOf(db, id);
  return { ...staged, questions: staged.state === 'open' ? await questionsOf(db, staged) : { texting: [], phones: [] } };
}

const refuse = (name: string, error: unknown): never => {
  if (error instanceof UnreadableFile)
    throw new Refusal(
      'wrong',
      'file',
      name === '' ? error.message.replace('The file', 'The text') : `${name}: ${error.message}`,
      {
        place: error.place,
        kept: name === '' ? 'What you pasted is still there.' : 'Nothing was brought in.',
      },
    );
  throw error;
};

export const importRoutes: Route[] = [
  route(imports.list, async (app, asked) => ({
    imports: await historyOf(app.db, iso(asked.now - UNDO_DAYS * 86_400_000)),
  })),
  route(imports.file, async (app, asked) => {
    const name = (asked.query.name ?? 'file').slice(0, 200);
    const id = await begin(app, name, asked, false);
    await app.imports.take(id).catch((error: unknown) => refuse(name, error));
    return { id };
  }),
  route(imports.text, async (app, asked) => {
    const text = await readFile(fileOf(asked).path, 'utf8');
    if (text.trim() === '') throw new Refusal('wrong', 'file', 'There is nothing in it.', { place: 'text' });
    const id = await begin(app, 'pasted text', asked, true);
    await app.imports.take(id).catch((error: unknown) => refuse('', error));
    return { id };
  }),
  route(imports.get, (app, asked) => shown(app.db, idOf(asked.params.id))),
  route(imports.rows, async (app, asked) => {
    const staged = await importOf(app.db, idOf(asked.params.id));
    const { query } = asked;
    const { rows, next } = await rowsOf(app.db, staged.id, {
      after: query.after ?? -1,
      verdict: query.verdict,
      fix: query.fix,
      waiting: query.waiting === '1',
      otherName: query.other_name === '1',
      blank: query.blank,
    });
    // what is not read yet, could not be, or was given up meanwhile has neither rows nor choices
    if (rows.length === 0) return { rows: [], next };
    const reader = await readerOf(app.db, staged.settings);
    return {
      rows: rows.map((row) => {
        const read = reader.read(row.row_no, row.cells);
        return { ...row, after: read.fix?.after ?? null, stored: read.ok ? read.row : null };
      }),
      next,
    };
  }),
  route(imports.settings, async (app, asked) => {
    const id = idOf(asked.params.id);
    await changeBench(app.db, id, asked.body);
    await app.imports.checkFor(id);
    return shown(app.db, id);
  }),
  route(imports.correct, async (app, asked) => {
    const id = idOf(asked.params.id);
    await app.db.transaction((tx) => correctCell(tx, id, asked.body));
    await app.imports.checkFor(id);
    return shown(app.db, id);
  }),
  route(imports.source, async (app, asked) => {
    const id = idOf(asked.params.id);
    const staged = await openImport(app.db, id);
    if (staged.facts.pasted && (asked.body.sheet !== undefined || asked.body.encoding !== undefined))
      throw new Refusal('clash', 'pasted', 'Pasted text has neither sheets nor an encoding.');
    const begun = await app.imports.reread(id, asked.body).catch((error: unknown) => refuse(staged.file_name, error));
    // decided or given up in the meantime
    if (!begun) throw busy(await importOf(app.db, id));
    return shown(app.db, id);
  }),
  route(imports.decide, async (app, asked) => {
    const id = idOf(asked.params.id);
    await app.imports.settled(id); // the dry run of the last change comes first
    const staged = await importOf(app.db, id);
    if ((staged.state === 'writing' || staged.state === 'done') && staged.version === asked.body.version) return { id };
    if (staged.state !== 'open') throw busy(staged);
    if (staged.version !== asked.body.version)
      throw new Refusal('clash', 'changed', 'The bench has been changed since these counts were made. Nothing was brought in.', {
        act: 'Look at the counts again, then decide.',
      });
    if (staged.at_row > 0)
      throw new Refusal('clash', 'checking', 'The rows are still being checked.', { act: 'Decide when the counts are there.' });
    await refuseUnanswered(app.db, staged);
    refuseStrangers(staged);
    if (staged.counts.new + staged.counts.changed + staged.counts.unchanged === 0)
      throw new Refusal('wrong', 'nobody', 'There is nobody to bring in.', { kept: 'The file is still on the bench.' });
    await app.db.transaction((tx) => decide(tx, staged, asked));
    for (const [target, field] of Object.entries(staged.settings.new_fields))
      if (target.startsWith('field:')) await indexField(app.db.lane('bulk'), target.slice('field:'.length), field.type);
    await app.imports.forget(id);
    app.imports.bringIn(id);
    return { id };
  }),
  route(imports.undo, async (app, asked) => {
    const id = idOf(asked.params.id);
    const staged = await importOf(app.db, id);
    if (staged.state === 'undoing' || staged.state === 'undone') return { id };
    if (staged.state === 'open')
      throw new Refusal('clash', 'not-done', 'Nobody has been brought in yet.', { act: 'Give it up instead.' });
    if (staged.state !== 'done') throw busy(staged);
    if (Date.parse(staged.decided_at ?? asked.at) < asked.now - UNDO_DAYS * 86_400_000)
      throw new Refusal('clash', 'too-late', `An import can be undone for ${UNDO_DAYS} days.`);
    await app.db.transaction(async (tx) => {
      if (await beginUndo(tx, id)) await writeRecord(tx, asked, 'undid an import', staged.file_name, { import: id });
    });
    app.imports.undo(id);
    return { id };
  }),
  route(imports.giveUp, async (app, asked) => {
    const id = idOf(asked.params.id);
    await giveUp(app.db, id);
    await app.imports.abandon(id);
    app.bus.changed('import', id);
    return {};
  }),
  route(imports.kept, async (app, asked) => ({
    people: await keptPeople(app.db, await importOf(app.db, idOf(asked.params.id))),
  })),
];

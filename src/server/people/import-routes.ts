import { readFile, rename } from 'node:fs/promises';
import { Type } from 'typebox';
import { ImportSettings, type ImportCounts } from '../../core/api/imports';
import { EMPTY_DRAFT } from '../../core/plan/draft';
import { oneLine } from '../../core/text/tidy';
import { showPhone } from '../../core/phone/read';
import type { Param, Queryable, Tx } from '../db/db';
import { UnreadableFile } from '../files/table';
import type { App } from '../http/app-context';
import { idOf, nothingHere, Problem } from '../http/problem';
import { route, type Asked, type Route, type Upload } from '../http/route';
import { questionsOf, refuseOpenQuestions } from './bench-questions';
import { writeRecord } from '../setup/record';
import { headingsOf, type ImportFacts } from './first-settings';
import { indexField } from './field-index';
import { readerOf } from './import-rules';
import { rememberMatch } from './match-memory';
import { UNDO_DAYS } from './undo-import';

export const LARGEST_FILE = 200 * 1024 * 1024;

interface ImportRow {
  id: number;
  file_name: string;
  state: string;
  facts: ImportFacts;
  settings: ImportSettings;
  counts: ImportCounts;
  row_count: number;
  written: number;
  at_row: number;
  version: number;
  checked_version: number;
  created_at: string;
  decided_at: string | null;
  done_at: string | null;
  undone_at: string | null;
}

async function importOf(db: Queryable, id: number): Promise<ImportRow> {
  const { rows } = await db.query<ImportRow>(
    `SELECT id, file_name, state, facts, settings, counts, row_count, written, at_row, version, checked_version, created_at, decided_at, done_at, undone_at FROM import WHERE id = $1`,
    [id],
  );
  if (rows.length === 0) throw nothingHere();
  return rows[0];
}

async function openImport(db: Queryable, id: number): Promise<ImportRow> {
  const staged = await importOf(db, id);
  if (staged.state !== 'open') throw busy(staged);
  return staged;
}

const GOING_ON: Record<string, { title: string; act: string }> = {
  open: { title: 'It is on the bench, and its rows are being checked.', act: 'Wait for the counts, then decide or give it up.' },
  reading: { title: 'The file is being read just now.', act: 'Wait until it is read, or give it up.' },
  writing: { title: 'Its people are being brought in just now; the bench is closed.', act: 'When it is done it can be undone.' },
  done: { title: 'Its people have been brought in; the bench is closed.', act: 'It can be undone, from the history of imports.' },
  undoing: { title: 'It is being undone just now.', act: 'Wait until it is undone, then choose the file again.' },
  undone: { title: 'It has been undone.', act: 'Choose the file again.' },
  given_up: { title: 'It has been given up.', act: 'Choose the file again.' },
  failed: { title: 'It could not be read.', act: 'Give it up and choose another file.' },
  once: { title: 'It is used for one broadcast; its bench is closed.', act: 'Choose the file again for another use.' },
};

/** What is going on with an import, and what can be done about it. */
function busy({ state }: { state: string }): Problem {
  const { title, act } = GOING_ON[state];
  return new Problem(409, 'decided', title, { act });
}

/** The import of an upload, which is kept under its id until it is decided. */
async function begin(app: App, name: string, asked: Asked<Upload>, pasted: boolean): Promise<number> {
  const facts = { headings: [], notes: [], ...(pasted ? { pasted } : {}) };
  const { rows } = await app.db.query<{ id: number }>(
    `INSERT INTO import (file_name, state, facts, account_id, created_at) VALUES ($1, 'reading', $2::jsonb, $3, $4::timestamptz) RETURNING id`,
    [name, JSON.stringify(facts), asked.account?.id ?? null, asked.at],
  );
  await rename(asked.body.path, app.imports.pathOf(rows[0].id));
  return rows[0].id;
}

/** Lists, fields and the mark that the import is decided: one small transaction. */
async function decide(tx: Tx, staged: ImportRow, asked: Asked<unknown>): Promise<void> {
  const { settings, id } = staged;
  for (const [target, field] of Object.entries(settings.new_fields)) {
    const [, about, slug] = /^(dependant:)?field:(.+)$/.exec(target) ?? [];
    if (!slug || !settings.match.includes(target)) continue;
    await tx.query(`INSERT INTO field_def (about, slug, label, type) VALUES ($1, $2, $3, $4) ON CONFLICT DO NOTHING`, [
      about ? 'dependant' : 'person',
      slug,
      field.label,
      field.type,
    ]);
  }
  if (settings.fixes.includes('two_numbers') || settings.fixed_rows.length > 0)
    await tx.query(
      `INSERT INTO field_def (about, slug, label, type) VALUES ('person', 'second_phone', 'second phone', 'text') ON CONFLICT DO NOTHING`,
    );
  const list = oneLine(settings.list);
  const facts: Partial<ImportFacts> = {};
  if (list !== '') {
    const made = await tx.query(
      `INSERT INTO list (name, created_at) VALUES ($1, $2::timestamptz) ON CONFLICT (name) DO NOTHING RETURNING id`,
      [list, asked.at],
    );
    facts.list_made = made.rowCount > 0;
    const filling = await tx.query<{ id: number }>(
      `UPDATE list SET filling_import = $2 WHERE name = $1 AND filling_import IS NULL RETURNING id`,
      [list, id],
    );
    if (filling.rowCount === 0)
      throw new Problem(409, 'filling', `Another import is being written into “${list}” just now.`, {
        kept: 'The file is still on the bench.',
        act: 'Try again when it has ended.',
      });
    facts.list_id = filling.rows[0].id;
  }
  const decided = await tx.query(
    `UPDATE import SET state = 'writing', decided_at = $2::timestamptz, written = -1, wrote = 0, facts = facts || $3::jsonb, account_id = $4
     WHERE id = $1 AND state = 'open' AND at_row = 0 AND version = $5 AND checked_version = $5`,
    [id, asked.at, JSON.stringify(facts), asked.account?.id ?? null, staged.version],
  );
  // what is decided is what the counts were made from: not while they are being made anew, nor after someone changed the bench
  if (decided.rowCount === 0)
    throw new Problem(409, 'decided', 'The bench has just been changed or decided by someone else. Nothing was brought in.', {
      act: 'Look at the counts again, then decide.',
    });
  await rememberMatch(tx, staged.facts.headings, settings.match, asked.at);
  await writeRecord(tx, asked, 'brought in people', staged.file_name, {
    import: id,
    new: staged.counts.new,
    changed: staged.counts.changed,
  });
}

/** An import as the bench shows it: with the questions that are open, while it is on the bench. */
async function shown(db: Queryable, id: number) {
  const staged = await importOf(db, id);
  return { ...staged, questions: staged.state === 'open' ? await questionsOf(db, staged) : { texting: [], phones: [] } };
}

const refuse = (name: string, error: unknown): never => {
  if (error instanceof UnreadableFile)
    throw new Problem(422, 'file', name === '' ? error.message.replace('The file', 'The text') : `${name}: ${error.message}`, {
      place: error.place,
      kept: name === '' ? 'What you pasted is still there.' : 'Nothing was brought in.',
    });
  throw error;
};

export const importRoutes: Route[] = [
  route({
    method: 'get',
    path: '/api/imports',
    role: 'look',
    says: 'The history of imports',
    handle: async (app, asked) => ({
      imports: (
        await app.db.query(
          `SELECT import.id, file_name, state, counts, row_count, settings->>'list' AS list, facts->>'failure' AS failure, import.created_at, decided_at, done_at, undone_at, account.name AS by,
             state = 'done' AND decided_at > $1::timestamptz AS can_undo
           FROM import LEFT JOIN account ON account.id = account_id ORDER BY import.id DESC LIMIT 100`,
          [new Date(asked.now - UNDO_DAYS * 86_400_000).toISOString()],
        )
      ).rows,
    }),
  }),
  route({
    method: 'post',
    path: '/api/imports/file',
    role: 'write',
    says: 'Takes a CSV, TSV, XLSX, ODS or vCard file (its bytes as the body, its name as ?name=) onto the bench',
    upload: LARGEST_FILE,
    async handle(app, asked: Asked<Upload>) {
      const name = (asked.query.name ?? 'file').slice(0, 200);
      const id = await begin(app, name, asked, false);
      await app.imports.take(id).catch((error: unknown) => refuse(name, error));
      return { id };
    },
  }),
  route({
    method: 'post',
    path: '/api/imports/text',
    role: 'write',
    says: 'Takes pasted text onto the bench',
    upload: 10 * 1024 * 1024,
    async handle(app, asked: Asked<Upload>) {
      const text = await readFile(asked.body.path, 'utf8');
      if (text.trim() === '') throw new Problem(422, 'file', 'There is nothing in it.', { place: 'text' });
      const id = await begin(app, 'pasted text', asked, true);
      await app.imports.take(id).catch((error: unknown) => refuse('', error));
      return { id };
    },
  }),
  route({
    method: 'get',
    path: '/api/imports/:id',
    role: 'look',
    says: 'One import: facts, settings, counts',
    handle: (app, asked) => shown(app.db, idOf(asked.params.id)),
  }),
  route({
    method: 'get',
    path: '/api/imports/:id/rows',
    role: 'look',
    says: 'Rows of an import with what would happen, by ?verdict=, ?fix=, ?waiting=1 or ?blank=, paged by ?after=',
    async handle(app, asked) {
      const staged = await importOf(app.db, idOf(asked.params.id));
      const { query } = asked;
      const { rows } = await app.db.query<{ row_no: number; cells: string[]; verdict: string }>(
        `SELECT import_row.row_no, cells, verdict, reason, fix, changes, blanks, v.person_id FROM import_row JOIN import_verdict v USING (import_id, row_no)
         WHERE import_id = $1 AND row_no > $2 AND ($3::text IS NULL OR verdict = $3) AND ($4::text IS NULL OR fix = $4)
           AND (NOT $5::boolean OR reason LIKE 'waits for your fix%')
           AND ($6::text IS NULL OR EXISTS (SELECT 1 FROM unnest(blanks) AS b WHERE b = $6 OR starts_with(b, $6 || ':')))
         ORDER BY row_no LIMIT 100`,
        [
          staged.id,
          Number(query.after ?? -1) || 0,
          query.verdict ?? null,
          query.fix ?? null,
          query.waiting === '1',
          query.blank ?? null,
        ],
      );
      const reader = await readerOf(app.db, staged.settings);
      return {
        rows: rows.map((row) => {
          const read = reader.read(row.row_no, row.cells);
          return { ...row, after: read.fix?.after ?? null, stored: read.ok ? read.row : null };
        }),
      };
    },
  }),
  route({
    method: 'put',
    path: '/api/imports/:id/settings',
    role: 'write',
    says: 'Changes the bench: headings, rows, match, fixes, policies; answers the new counts, or where the dry run is',
    body: ImportSettings,
    async handle(app, asked) {
      const id = idOf(asked.params.id);
      const before = await openImport(app.db, id);
      const facts: Partial<ImportFacts> = {};
      if (asked.body.heading_row !== before.settings.heading_row) {
        const head = (
          await app.db.query<{ cells: string[] }>(`SELECT cells FROM import_row WHERE import_id = $1 AND row_no = $2`, [
            id,
            asked.body.heading_row,
          ])
        ).rows[0]?.cells;
        facts.headings = headingsOf(head, before.facts.headings.length);
        // what was said was said of other headings
        delete asked.body.not_about_texts;
      }
      const changed = await app.db.query(
        `UPDATE import SET settings = $2::jsonb, facts = facts || $3::jsonb, at_row = 1, version = version + 1 WHERE id = $1 AND state = 'open'`,
        [id, JSON.stringify(asked.body), JSON.stringify(facts)],
      );
      // decided in the meantime: what was decided stays as it was
      if (changed.rowCount === 0) throw busy(await importOf(app.db, id));
      await app.imports.checkFor(id);
      return shown(app.db, id);
    },
  }),
  route({
    method: 'put',
    path: '/api/imports/:id/source',
    role: 'write',
    says: 'Reads the file again: another sheet of it, or in another encoding',
    body: Type.Object(
      {
        sheet: Type.Optional(Type.String({ maxLength: 200 })),
        encoding: Type.Optional(
          Type.Union([Type.Literal('utf-8'), Type.Literal('utf-16le'), Type.Literal('utf-16be'), Type.Literal('windows-1252')]),
        ),
      },
      { additionalProperties: false },
    ),
    async handle(app, asked) {
      const id = idOf(asked.params.id);
      const staged = await openImport(app.db, id);
      if (staged.facts.pasted) throw new Problem(409, 'pasted', 'Pasted text has neither sheets nor an encoding.');
      const begun = await app.imports.reread(id, asked.body).catch((error: unknown) => refuse(staged.file_name, error));
      // decided or given up in the meantime
      if (!begun) throw busy(await importOf(app.db, id));
      return shown(app.db, id);
    },
  }),
  route({
    method: 'post',
    path: '/api/imports/:id/decide',
    role: 'write',
    says: 'Brings the people in as the counts of this version say: all or nothing, rolled forward after a restart',
    body: Type.Object({ version: Type.Integer({ minimum: 1 }) }, { additionalProperties: false }),
    async handle(app, asked) {
      const id = idOf(asked.params.id);
      await app.imports.settled(id); // the dry run of the last change comes first
      const staged = await importOf(app.db, id);
      if ((staged.state === 'writing' || staged.state === 'done') && staged.version === asked.body.version) return { id };
      if (staged.state !== 'open') throw busy(staged);
      if (staged.version !== asked.body.version)
        throw new Problem(409, 'changed', 'The bench has been changed since these counts were made. Nothing was brought in.', {
          act: 'Look at the counts again, then decide.',
        });
      if (staged.at_row > 0)
        throw new Problem(409, 'checking', 'The rows are still being checked.', { act: 'Decide when the counts are there.' });
      if (!staged.settings.match.includes('number'))
        throw new Problem(422, 'no-number', 'No column is matched to “text number”, so nobody could be texted.', {
          place: 'match',
          act: 'Choose the column with the numbers.',
          kept: 'The file is still on the bench.',
        });
      await refuseOpenQuestions(app.db, staged);
      if (staged.counts.new + staged.counts.changed + staged.counts.unchanged === 0)
        throw new Problem(422, 'nobody', 'There is nobody to bring in.', { kept: 'The file is still on the bench.' });
      await app.db.transaction((tx) => decide(tx, staged, asked));
      for (const [target, field] of Object.entries(staged.settings.new_fields))
        if (target.startsWith('field:')) await indexField(app.db.lane('bulk'), target.slice('field:'.length), field.type);
      await app.imports.forget(id);
      app.imports.bringIn(id);
      return { id };
    },
  }),
  route({
    method: 'post',
    path: '/api/imports/:id/use-once',
    role: 'write',
    says: 'Uses the file for one broadcast only: nobody enters the address book; answers the new broadcast',
    body: Type.Object({}),
    async handle(app, asked) {
      const id = idOf(asked.params.id);
      await app.imports.settled(id);
      const staged = await openImport(app.db, id);
      if (!staged.settings.match.includes('number'))
        throw new Problem(422, 'no-number', 'No column is matched to “text number”, so nobody could be texted.', {
          place: 'match',
          kept: 'The file is still on the bench.',
        });
      await refuseOpenQuestions(app.db, staged);
      const made = await app.db.transaction(async (tx) => {
        const used = await tx.query(
          `UPDATE import SET state = 'once', decided_at = $2::timestamptz WHERE id = $1 AND state = 'open' AND at_row = 0 AND version = $3 AND checked_version = $3`,
          [id, asked.at, staged.version],
        );
        if (used.rowCount === 0) throw busy(await importOf(tx, id));
        const draft = {
          ...EMPTY_DRAFT,
          to: [{ kind: 'file' as const, id }],
          words: staged.settings.match.includes('ready_text') ? '{ready_text}' : '',
          sender_id: (await tx.query<{ id: number }>(`SELECT id FROM sender ORDER BY id LIMIT 1`)).rows[0]?.id ?? null,
        };
        const { rows } = await tx.query<{ id: number }>(
          `INSERT INTO broadcast (name, state, draft, account_id, created_at, updated_at) VALUES ('', 'draft', $1::jsonb, $2, $3::timestamptz, $3::timestamptz) RETURNING id`,
          [JSON.stringify(draft), asked.account?.id ?? null, asked.at],
        );
        await writeRecord(tx, asked, 'took a file for one broadcast', staged.file_name, { import: id });
        return rows[0].id;
      });
      await app.imports.forget(id);
      app.bus.changed('import', id);
      return { broadcast_id: made };
    },
  }),
  route({
    method: 'post',
    path: '/api/imports/:id/undo',
    role: 'write',
    says: 'Takes a finished import back; says what it leaves because it was texted or changed since',
    body: Type.Object({}),
    async handle(app, asked) {
      const id = idOf(asked.params.id);
      const staged = await importOf(app.db, id);
      if (staged.state === 'undoing' || staged.state === 'undone') return { id };
      if (staged.state === 'open')
        throw new Problem(409, 'not-done', 'Nobody has been brought in yet.', { act: 'Give it up instead.' });
      if (staged.state !== 'done') throw busy(staged);
      if (Date.parse(staged.decided_at ?? asked.at) < asked.now - UNDO_DAYS * 86_400_000)
        throw new Problem(409, 'too-late', `An import can be undone for ${UNDO_DAYS} days.`);
      await app.db.transaction(async (tx) => {
        const begun = await tx.query(`UPDATE import SET state = 'undoing' WHERE id = $1 AND state = 'done'`, [id]);
        if (begun.rowCount > 0) await writeRecord(tx, asked, 'undid an import', staged.file_name, { import: id });
      });
      app.imports.undo(id);
      return { id };
    },
  }),
  route({
    method: 'delete',
    path: '/api/imports/:id',
    role: 'write',
    says: 'Gives up a file that is on the bench',
    async handle(app, asked) {
      const id = idOf(asked.params.id);
      // also while it is being read or checked: whoever reads sees the state and stops
      const gone = await app.db.query(
        `UPDATE import SET state = 'given_up', at_row = 0 WHERE id = $1 AND state IN ('reading', 'open', 'failed')`,
        [id],
      );
      if (gone.rowCount === 0) throw busy(await importOf(app.db, id));
      await app.imports.stop(id);
      await app.db.query(`DELETE FROM import_row WHERE import_id = $1`, [id]);
      for (const table of ['import_verdict', 'import_refusal'])
        await app.db.query(`DELETE FROM ${table} WHERE import_id = $1`, [id]);
      await app.imports.forget(id);
      app.bus.changed('import', id);
      return {};
    },
  }),
  route({
    method: 'get',
    path: '/api/imports/:id/kept',
    role: 'look',
    says: 'People that an undone import left as they are, with why',
    async handle(app, asked) {
      const staged = await importOf(app.db, idOf(asked.params.id));
      const kept = staged.facts.kept?.people ?? [];
      const { rows } = await app.db.query<{ id: number; given_name: string; family_name: string; number: string | null }>(
        `SELECT id, given_name, family_name, number FROM person WHERE id = ANY ($1::bigint[]) ORDER BY sort_name, id`,
        [kept.map((each) => each.id)] as Param[],
      );
      return {
        people: rows.map((row) => ({
          id: row.id,
          name: `${row.given_name} ${row.family_name}`.trim(),
          number: row.number ? showPhone(row.number) : null,
          why: kept.find((each) => each.id === row.id)?.why ?? '',
        })),
      };
    },
  }),
];

import { Type } from 'typebox';
import { ImportSettings, type ImportCounts } from '../../core/api/imports';
import { guessHeadingRow, guessMatch } from '../../core/people/match';
import { slugOf } from '../../core/people/targets';
import { SAFE_FIXES } from '../../core/people/prepare';
import type { Queryable } from '../db/db';
import { readDelimited, readNumberList, readText, UnreadableFile, writeCsv, type Table } from '../files/delimited';
import type { App } from '../http/app-context';
import { idOf, nothingHere, Problem } from '../http/problem';
import { Download, route, type Route } from '../http/route';
import { writeRecord } from '../setup/record';
import { rollForward } from './bring-in';
import { dryRun } from './dry-run';

export const LARGEST_FILE = 50 * 1024 * 1024;

interface ImportRow {
  id: number;
  file_name: string;
  state: string;
  facts: { headings: string[]; encoding: string; delimiter: string; notes: string[]; list_id?: number };
  settings: ImportSettings;
  counts: ImportCounts;
  row_count: number;
  written: number;
  created_at: string;
  done_at: string | null;
}

async function importOf(db: Queryable, id: number): Promise<ImportRow> {
  const { rows } = await db.query<ImportRow>(
    `SELECT id, file_name, state, facts, settings, counts, row_count, written, created_at, done_at FROM import WHERE id = $1`,
    [id],
  );
  if (rows.length === 0) throw nothingHere();
  return rows[0];
}

// One dry run at a time for an import: each replaces the verdicts of the one before.
const turns = new Map<number, Promise<unknown>>();
function inTurn<T>(id: number, work: () => Promise<T>): Promise<T> {
  const result = (turns.get(id) ?? Promise.resolve()).catch(() => undefined).then(work);
  const done = result
    .catch(() => undefined)
    .finally(() => {
      if (turns.get(id) === done) turns.delete(id);
    });
  turns.set(id, done);
  return result;
}

async function stage(
  app: App,
  name: string,
  table: Table,
  asked: { account: { id: number } | undefined; at: string },
): Promise<{ id: number }> {
  const settings0 = (await app.db.query<{ country: string; languages: string[] }>(`SELECT country, languages FROM workspace`))
    .rows[0];
  const known = new Set((await app.db.query<{ slug: string }>(`SELECT slug FROM field_def`)).rows.map((row) => row.slug));
  const headingRow = guessHeadingRow(table.rows, settings0.country);
  const width = table.rows.reduce((most, row) => Math.max(most, row.length), 0);
  const headings = headingsOf(table.rows, headingRow, width);
  const settings: ImportSettings = {
    heading_row: headingRow,
    match: guessMatch(headings, table.rows.slice(headingRow + 1, headingRow + 60), known, settings0.country),
    new_fields: {},
    country: settings0.country,
    fixes: [...SAFE_FIXES],
    already: 'fill_blanks',
    list: '',
    consent_purpose: 'service',
  };
  const id = (
    await app.db.query<{ id: number }>(
      `INSERT INTO import (file_name, state, facts, settings, row_count, account_id, created_at) VALUES ($1, 'reading', $2::jsonb, $3::jsonb, $4, $5, $6::timestamptz) RETURNING id`,
      [
        name,
        JSON.stringify({ headings, encoding: table.encoding, delimiter: table.delimiter, notes: table.notes }),
        JSON.stringify(settings),
        table.rows.length,
        asked.account?.id ?? null,
        asked.at,
      ],
    )
  ).rows[0].id;
  const bulk = app.db.lane('bulk');
  for (let from = 0; from < table.rows.length; from += 4000) {
    await bulk.copyIn(
      'import_row',
      ['import_id', 'row_no', 'cells'],
      [table.rows.slice(from, from + 4000).map((cells, i) => [id, from + i, cells])],
    );
  }
  await bulk.exec('ANALYZE import_row');
  const counts = await dryRun(app.db, id, settings, settings0.languages);
  await app.db.query(`UPDATE import SET state = 'open', counts = $2::jsonb WHERE id = $1`, [id, JSON.stringify(counts)]);
  return { id };
}

function headingsOf(rows: readonly string[][], headingRow: number, width: number): string[] {
  return Array.from(
    { length: width },
    (_, column) => (headingRow >= 0 ? (rows[headingRow][column] ?? '').trim() : '') || `Column ${column + 1}`,
  );
}

export const importRoutes: Route[] = [
  route({
    method: 'get',
    path: '/api/imports',
    role: 'look',
    says: 'The history of imports',
    handle: async (app) => ({
      imports: (
        await app.db.query(
          `SELECT import.id, file_name, state, counts, row_count, settings->>'list' AS list, import.created_at, done_at, account.name AS by FROM import LEFT JOIN account ON account.id = account_id ORDER BY import.id DESC LIMIT 100`,
        )
      ).rows,
    }),
  }),
  route({
    method: 'post',
    path: '/api/imports/file',
    role: 'write',
    says: 'Takes a CSV or TSV file (its bytes as the body, its name as ?name=) onto the bench',
    upload: LARGEST_FILE,
    async handle(app, asked) {
      const name = (asked.query.name ?? 'file').slice(0, 200);
      const bytes = asked.body instanceof Uint8Array ? asked.body : new Uint8Array();
      try {
        return await stage(app, name, readDelimited(bytes), asked);
      } catch (error) {
        if (error instanceof UnreadableFile)
          throw new Problem(422, 'file', `${name}: ${error.message}`, { place: error.place, kept: 'Nothing was brought in.' });
        throw error;
      }
    },
  }),
  route({
    method: 'post',
    path: '/api/imports/text',
    role: 'write',
    says: 'Takes pasted text onto the bench',
    upload: LARGEST_FILE,
    async handle(app, asked) {
      const text = asked.body instanceof Uint8Array ? new TextDecoder().decode(asked.body) : '';
      try {
        const numbers = readNumberList(text);
        return await stage(
          app,
          'pasted text',
          numbers ? { rows: numbers, encoding: 'utf-8', delimiter: '', notes: [] } : readText(text),
          asked,
        );
      } catch (error) {
        if (error instanceof UnreadableFile)
          throw new Problem(422, 'file', error.message.replace('The file', 'The text'), {
            place: error.place,
            kept: 'What you pasted is still there.',
          });
        throw error;
      }
    },
  }),
  route({
    method: 'get',
    path: '/api/imports/:id',
    role: 'look',
    says: 'One import: facts, settings, counts',
    handle: (app, asked) => importOf(app.db, idOf(asked.params.id)),
  }),
  route({
    method: 'get',
    path: '/api/imports/:id/rows',
    role: 'look',
    says: 'Rows of an import with what would happen, by ?verdict= or ?fix=, paged by ?after=',
    async handle(app, asked) {
      const id = idOf(asked.params.id);
      const { rows } = await app.db.query(
        `SELECT import_row.row_no, cells, verdict, reason, fix, prepared FROM import_row JOIN import_verdict USING (import_id, row_no)
         WHERE import_id = $1 AND row_no > $2 AND ($3::text IS NULL OR verdict = $3) AND ($4::text IS NULL OR fix = $4) ORDER BY row_no LIMIT 100`,
        [id, Number(asked.query.after ?? -1), asked.query.verdict ?? null, asked.query.fix ?? null],
      );
      return { rows };
    },
  }),
  route({
    method: 'put',
    path: '/api/imports/:id/settings',
    role: 'write',
    says: 'Changes the bench: headings, match, fixes, policies; answers the new counts',
    body: ImportSettings,
    async handle(app, asked) {
      const id = idOf(asked.params.id);
      return inTurn(id, async () => {
        const before = await importOf(app.db, id);
        if (before.state !== 'open') throw new Problem(409, 'decided', 'This import has been decided; its bench is closed.');
        const workspace = (await app.db.query<{ languages: string[] }>(`SELECT languages FROM workspace`)).rows[0];
        const facts = { ...before.facts };
        if (asked.body.heading_row !== before.settings.heading_row) {
          const head = (
            await app.db.query<{ cells: string[] }>(`SELECT cells FROM import_row WHERE import_id = $1 AND row_no = $2`, [
              id,
              asked.body.heading_row,
            ])
          ).rows[0]?.cells;
          facts.headings = headingsOf(head ? [head] : [], head ? 0 : -1, before.facts.headings.length);
        }
        const counts = await dryRun(app.db, id, asked.body, workspace.languages);
        await app.db.query(
          `UPDATE import SET settings = $2::jsonb, counts = $3::jsonb, facts = $4::jsonb WHERE id = $1 AND state = 'open'`,
          [id, JSON.stringify(asked.body), JSON.stringify(counts), JSON.stringify(facts)],
        );
        return importOf(app.db, id);
      });
    },
  }),
  route({
    method: 'post',
    path: '/api/imports/:id/decide',
    role: 'write',
    says: 'Brings the people in: all or nothing, rolled forward after a restart',
    body: Type.Object({}),
    async handle(app, asked) {
      const id = idOf(asked.params.id);
      await turns.get(id); // the dry run of the last change comes first
      const staged = await importOf(app.db, id);
      if (staged.state === 'writing' || staged.state === 'done') return { id };
      if (!staged.settings.match.includes('number'))
        throw new Problem(422, 'no-number', 'No column is matched to “text number”, so nobody could be texted.', {
          place: 'match',
          act: 'Choose the column with the numbers.',
          kept: 'The file is still on the bench.',
        });
      if (staged.counts.new + staged.counts.changed + staged.counts.unchanged === 0)
        throw new Problem(422, 'nobody', 'There is nobody to bring in.', { kept: 'The file is still on the bench.' });
      const list = staged.settings.list.trim();
      await app.db.transaction(async (tx) => {
        for (const [slug, label] of Object.entries(staged.settings.new_fields)) {
          if (!staged.settings.match.includes(`field:${slug}`)) continue;
          await tx.query(`INSERT INTO field_def (slug, label, type) VALUES ($1, $2, 'text') ON CONFLICT (slug) DO NOTHING`, [
            slugOf(slug),
            label,
          ]);
        }
        if (staged.settings.fixes.includes('two_numbers'))
          await tx.query(
            `INSERT INTO field_def (slug, label, type) VALUES ('second_phone', 'second phone', 'text') ON CONFLICT (slug) DO NOTHING`,
          );
        let listId: number | undefined;
        if (list !== '') {
          await tx.query(`INSERT INTO list (name, created_at) VALUES ($1, $2::timestamptz) ON CONFLICT (name) DO NOTHING`, [
            list,
            asked.at,
          ]);
          listId = (
            await tx.query<{ id: number }>(`UPDATE list SET filling_import = $2 WHERE name = $1 RETURNING id`, [list, id])
          ).rows[0].id;
        }
        const decided = await tx.query(
          `UPDATE import SET state = 'writing', decided_at = $2::timestamptz, written = -1, facts = facts || $3::jsonb, account_id = $4 WHERE id = $1 AND state = 'open'`,
          [id, asked.at, JSON.stringify(listId ? { list_id: listId } : {}), asked.account?.id ?? null],
        );
        if (decided.rowCount === 0) throw new Problem(409, 'decided', 'This import has just been decided by someone else.');
        await writeRecord(tx, asked, 'brought in people', staged.file_name, {
          import: id,
          new: staged.counts.new,
          changed: staged.counts.changed,
        });
      });
      rollForward(app.db, app.clock, app.bus, id).catch((error: unknown) =>
        app.log.error({ err: error, import: id }, 'import stopped; it goes on at the next start'),
      );
      return { id };
    },
  }),
  route({
    method: 'get',
    path: '/api/imports/:id/rejects.csv',
    role: 'look',
    says: 'Rows that do not come in, with the reason, to correct and bring back',
    async handle(app, asked) {
      const staged = await importOf(app.db, idOf(asked.params.id));
      const { rows } = await app.db.query<{ cells: string[]; reason: string }>(
        `SELECT cells, reason FROM import_row JOIN import_verdict USING (import_id, row_no) WHERE import_id = $1 AND verdict = 'rejected' ORDER BY row_no`,
        [staged.id],
      );
      const width = staged.facts.headings.length;
      return new Download(
        `${staged.file_name.replace(/\.\w+$/, '')}-rejects.csv`,
        'text/csv; charset=utf-8',
        writeCsv([
          [...staged.facts.headings, 'why it did not come in'],
          ...rows.map((row) => [...Array.from({ length: width }, (_, i) => row.cells[i] ?? ''), row.reason]),
        ]),
      );
    },
  }),
];

import { REASON_HEADING } from '../../core/people/match';
import { TARGET_WORDS } from '../../core/people/targets';
import { writeCsv } from '../files/delimited';
import { writeXlsx } from '../files/write-xlsx';
import type { App } from '../http/app-context';
import { idOf, nothingHere } from '../http/problem';
import { Download, route, type Route } from '../http/route';

const XLSX = 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet';

/** Rows that did not come in, with the reason, as they can come back. */
async function rejects(app: App, id: number): Promise<{ name: string; rows: string[][] }> {
  const staged = (
    await app.db.query<{ id: number; file_name: string; facts: { headings: string[] } }>(
      `SELECT id, file_name, facts FROM import WHERE id = $1`,
      [id],
    )
  ).rows[0];
  if (!staged) throw nothingHere();
  const width = staged.facts.headings.length;
  const rows: string[][] = [[...staged.facts.headings, REASON_HEADING]];
  const stream = app.db.stream<{ cells: string[]; reason: string }>(
    `SELECT cells, reason FROM import_row JOIN import_verdict USING (import_id, row_no) WHERE import_id = $1 AND verdict = 'rejected' ORDER BY row_no`,
    [staged.id],
    2000,
  );
  for await (const page of stream)
    for (const row of page) rows.push([...Array.from({ length: width }, (_, i) => row.cells[i] ?? ''), row.reason]);
  return { name: `${staged.file_name.replace(/\.\w+$/, '')}-rejects`, rows };
}

/** Headings that the bench matches by itself, with two invented people under them. */
async function starter(app: App): Promise<string[][]> {
  const fields = (
    await app.db.query<{ label: string; type: string }>(
      `SELECT label, type FROM field_def WHERE about = 'person' AND slug <> 'second_phone' ORDER BY position, label`,
    )
  ).rows;
  const targets = ['number', 'given_name', 'family_name', 'reference', 'language', 'time_zone', 'consent', 'tags'] as const;
  const words = targets.map((target) => (target === 'time_zone' ? TARGET_WORDS.zone : TARGET_WORDS[target]));
  const example = (type: string) => ({ date: '2027-03-09', number: '1', yes_no: 'yes' })[type] ?? '';
  return [
    [...words, ...fields.map((field) => field.label)],
    [
      '+1 207 555 0142',
      'Marisol',
      'Okafor',
      'P-1042',
      'en',
      'America/New_York',
      'yes',
      'bicycle',
      ...fields.map((f) => example(f.type)),
    ],
    ['+1 514 555 0163', 'Inès', 'Tremblay', 'P-1043', 'fr', '', 'no', '', ...fields.map((f) => example(f.type))],
  ];
}

export const importDownloads: Route[] = [
  route({
    method: 'get',
    path: '/api/imports/starter.csv',
    role: 'look',
    says: 'A file to start from, as CSV',
    handle: async (app) => new Download('people-to-bring-in.csv', 'text/csv; charset=utf-8', writeCsv(await starter(app))),
  }),
  route({
    method: 'get',
    path: '/api/imports/starter.xlsx',
    role: 'look',
    says: 'A file to start from, as a workbook',
    handle: async (app) => new Download('people-to-bring-in.xlsx', XLSX, await writeXlsx('People', await starter(app))),
  }),
  route({
    method: 'get',
    path: '/api/imports/:id/rejects.csv',
    role: 'look',
    says: 'Rows that do not come in, with the reason, to correct and bring back; CSV',
    async handle(app, asked) {
      const { name, rows } = await rejects(app, idOf(asked.params.id));
      return new Download(`${name}.csv`, 'text/csv; charset=utf-8', writeCsv(rows));
    },
  }),
  route({
    method: 'get',
    path: '/api/imports/:id/rejects.xlsx',
    role: 'look',
    says: 'The same as a workbook',
    async handle(app, asked) {
      const { name, rows } = await rejects(app, idOf(asked.params.id));
      return new Download(`${name}.xlsx`, XLSX, await writeXlsx('Rejected', rows));
    },
  }),
];

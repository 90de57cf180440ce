import { imports } from '../../../core/api/people/imports';
import { REASON_HEADING } from '../../../core/people/match';
import { TARGET_WORDS } from '../../../core/people/targets';
import { streamCsv, writeCsv } from '../../files/delimited';
import { streamXlsx, XLSX } from '../../files/write-xlsx';
import type { App } from '../../app-context';
import { idOf, Download, route, type Route } from '../../http/route';
import { nextRows } from './file-rows';
import { importOf } from './import-store';

/** Rows that did not come in, with the reason, as they can come back; in pages. @throws Refusal 404 */
async function rejects(app: App, id: number): Promise<{ name: string; pages: AsyncIterable<string[][]> }> {
  const { file_name, facts } = await importOf(app.db, id);
  const width = facts.headings.length;
  const bulk = app.db.lane('bulk');
  async function* pages(): AsyncGenerator<string[][]> {
    yield [[...facts.headings, REASON_HEADING]];
    for (let after = -1; ;) {
      const rows = await nextRows(bulk, id, { after, verdicts: ['rejected'] }, 2000);
      if (rows.length === 0) return;
      after = rows[rows.length - 1].row_no;
      yield rows.map((row) => [...Array.from({ length: width }, (_, i) => row.cells[i] ?? ''), row.reason ?? '']);
    }
  }
  return { name: `${file_name.replace(/\.\w+$/, '')}-rejects`, pages: pages() };
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

async function* onePage(rows: string[][]): AsyncGenerator<string[][]> {
  yield rows;
}

export const importDownloads: Route[] = [
  route(
    imports.starterCsv,
    async (app) => new Download('people-to-bring-in.csv', 'text/csv; charset=utf-8', writeCsv(await starter(app))),
  ),
  route(
    imports.starterXlsx,
    async (app) => new Download('people-to-bring-in.xlsx', XLSX, streamXlsx('People', onePage(await starter(app)))),
  ),
  route(imports.rejectsCsv, async (app, asked) => {
    const { name, pages } = await rejects(app, idOf(asked.params.id));
    return new Download(`${name}.csv`, 'text/csv; charset=utf-8', streamCsv(pages));
  }),
  route(imports.rejectsXlsx, async (app, asked) => {
    const { name, pages } = await rejects(app, idOf(asked.params.id));
    return new Download(`${name}.xlsx`, XLSX, streamXlsx('Rejected', pages));
  }),
];

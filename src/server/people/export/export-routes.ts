import { people, type ExportQuery } from '../../../core/api/people/people';
import { fold } from '../../../core/text/fold';
import type { App } from '../../app-context';
import type { Cell } from '../../files/cell';
import { streamCsv } from '../../files/delimited';
import { writeVcards } from '../../files/write-vcard';
import { streamXlsx, XLSX } from '../../files/write-xlsx';
import { Download, route, type Asked, type Route } from '../../http/route';
import { writeRecord } from '../../db/record';
import { chosenColumns, exportColumns } from './export-columns';
import { exportedPeople, ownFields, type Exported } from './export-queries';

const exported = (app: App, asked: Asked<unknown, ExportQuery>) => exportedPeople(app.db, asked.query, asked.now);

/** Rows in pages, the headings first. */
async function* table(app: App, asked: Asked<unknown, ExportQuery>, pages: AsyncIterable<Exported[]>): AsyncGenerator<Cell[][]> {
  const columns = chosenColumns(exportColumns(await ownFields(app.db)), asked.query.columns);
  yield [columns.map((column) => column.heading)];
  let people = 0;
  for await (const page of pages) {
    people += page.length;
    yield page.map((person) => columns.map((column) => column.cell(person)));
  }
  await writeRecord(app.db, asked, 'exported people', '', { people });
}

async function* cards(app: App, asked: Asked<unknown, ExportQuery>, pages: AsyncIterable<Exported[]>): AsyncGenerator<string> {
  let people = 0;
  for await (const page of pages) {
    people += page.length;
    yield writeVcards(page);
  }
  await writeRecord(app.db, asked, 'exported people', 'vCard', { people });
}

const nameOf = (asked: Asked<unknown, ExportQuery>) =>
  `people${asked.query.name ? `-${fold(asked.query.name).replace(/[^a-z0-9]+/g, '-')}` : ''}`;

export const exportRoutes: Route[] = [
  route(
    people.exportCsv,
    async (app, asked) =>
      new Download(`${nameOf(asked)}.csv`, 'text/csv; charset=utf-8', streamCsv(table(app, asked, await exported(app, asked)))),
  ),
  route(
    people.exportXlsx,
    async (app, asked) =>
      new Download(`${nameOf(asked)}.xlsx`, XLSX, streamXlsx('People', table(app, asked, await exported(app, asked)))),
  ),
  route(
    people.exportVcf,
    async (app, asked) =>
      new Download(`${nameOf(asked)}.vcf`, 'text/vcard; charset=utf-8', cards(app, asked, await exported(app, asked))),
  ),
];

import { people, type ExportQuery } from '../../core/api/people';
import { fold } from '../../core/people/fold';
import type { App } from '../http/app-context';
import { streamCsv } from '../files/delimited';
import { writeVcards } from '../files/write-vcard';
import { streamXlsx } from '../files/write-xlsx';
import { Download, route, type Asked, type Route } from '../http/route';
import { writeRecord } from '../db/record';
import { exportedPeople, ownFields, type Exported } from './export-queries';

const exported = (app: App, asked: Asked<unknown, ExportQuery>) => exportedPeople(app.db, asked.query, asked.now);

/** Rows in pages. The headings are those that the bench matches by itself when the file comes back; what cannot come back stands last. */
async function* table(
  app: App,
  asked: Asked<unknown, ExportQuery>,
  pages: AsyncIterable<Exported[]>,
): AsyncGenerator<string[][]> {
  const fields = await ownFields(app.db);
  yield [
    [
      'given name',
      'family name',
      'text number',
      'own reference',
      'language',
      'time zone',
      'born',
      ...fields.map((field) => field.label),
      'tags',
      'lists',
      'marketing',
      'can be texted',
    ],
  ];
  let people = 0;
  for await (const page of pages) {
    people += page.length;
    yield page.map((p) => [
      p.given_name,
      p.family_name,
      p.number ?? '',
      p.reference ?? '',
      p.language ?? '',
      // a guess is not handed on as if it had been told
      p.zone_guessed ? '' : (p.zone ?? ''),
      p.born ?? '',
      ...fields.map((field) => p.fields[field.slug] ?? ''),
      p.tags.join(', '),
      p.lists.join(', '),
      p.marketing === 'cleared' ? '' : (p.marketing ?? ''),
      p.reach,
    ]);
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
      new Download(
        `${nameOf(asked)}.xlsx`,
        'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
        streamXlsx('People', table(app, asked, await exported(app, asked))),
      ),
  ),
  route(
    people.exportVcf,
    async (app, asked) =>
      new Download(`${nameOf(asked)}.vcf`, 'text/vcard; charset=utf-8', cards(app, asked, await exported(app, asked))),
  ),
];
